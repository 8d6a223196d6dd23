import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { commandSchema, type HealPass, type Mix, type Point } from '@zaddle/document';
import { healLabels, type HealLabels } from '../src/heal/healLabels';
import { healFeatures, type HealLook } from '../src/heal/healLook';
import { healPatches, type HealGrid } from '../src/heal/healPatches';
import { healGrid } from '../src/heal/lookToHeal';
import { pieceGains } from '../src/heal/pieceGains';
import { rimShifts } from '../src/heal/rimShifts';
import { mapPoint } from '../src/geometry/homography';
import { createFlowGrid, gridCut, type FlowGrid } from '../src/image/gridCut';
import { createLight, type Light } from '../src/image/plane';
import { withHealed } from '../src/mix/healedFrom';
import { seeded } from './kernelMemory';

const CHANNELS = ['r', 'g', 'b'] as const;
function lightOf(width: number, height: number, value: (x: number, y: number, c: number) => number): Light {
  const light = createLight(width, height);
  CHANNELS.forEach((name, c) => { for (let i = 0; i < width * height; i++) light[name][i] = value(i % width, Math.floor(i / width), c); });
  return light;
}
const lookOf = (picture: Light, isHole: (x: number, y: number) => boolean, isOpen: (x: number, y: number) => boolean = () => true): HealLook => {
  const at = (of: (x: number, y: number) => boolean): Uint8Array => Uint8Array.from({ length: picture.width * picture.height }, (_, i) => (of(i % picture.width, Math.floor(i / picture.width)) ? 1 : 0));
  return { picture, hole: at(isHole), open: at(isOpen) };
};

describe('the least cut of a grid', () => {
  const cutCost = ({ width, ways, source, sink }: FlowGrid, inside: (i: number) => boolean): number => {
    let cost = 0;
    for (let i = 0; i < source.length; i++) {
      cost += inside(i) ? sink[i] : source[i];
      [i + 1, i + width, i - 1, i - width].forEach((to, way) => { if (ways[i * 4 + way] > 0 && inside(i) && !inside(to)) cost += ways[i * 4 + way]; });
    }
    return cost;
  };
  const randomGrid = (width: number, height: number, seed: number): FlowGrid => {
    const next = seeded(seed);
    const grid = createFlowGrid(width, height);
    const some = (): number => (next() < 0.3 ? 0 : Math.floor(next() * 20));
    for (let i = 0; i < width * height; i++) {
      if ((i % width) + 1 < width) [grid.ways[i * 4], grid.ways[(i + 1) * 4 + 2]] = [some(), some()];
      if (i + width < width * height) [grid.ways[i * 4 + 1], grid.ways[(i + width) * 4 + 3]] = [some(), some()];
      [grid.source[i], grid.sink[i]] = [some(), some()];
    }
    return grid;
  };

  test('costs as little as the best of all ways to part it, and takes no more than it has to', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 99999 }), (width, height, seed) => {
      const n = width * height;
      let [least, fewest] = [Infinity, n];
      for (let set = 0; set < 1 << n; set++) {
        const cost = cutCost(randomGrid(width, height, seed), (i) => ((set >> i) & 1) === 1);
        const size = [...set.toString(2)].filter((bit) => bit === '1').length;
        if (cost < least || (cost === least && size < fewest)) [least, fewest] = [cost, size];
      }
      const inside = gridCut(randomGrid(width, height, seed));
      expect(cutCost(randomGrid(width, height, seed), (i) => inside[i] === 1)).toBe(least);
      expect(inside.reduce((sum, v) => sum + v, 0)).toBe(fewest);
    }), { numRuns: 60 });
  });
});

/** A wall of bricks, 12 by 6 pixels, each as bright as chance has it, with joints; it repeats itself after so many bricks. @param k larger by so much */
const BRICK = [12, 6] as const;
function bricks(width: number, height: number, k = 1): Light {
  const next = seeded(5);
  const tones = Array.from({ length: 16 }, () => 0.12 + 0.02 * next());
  return lightOf(width, height, (px, py, c) => {
    const [x, y] = [Math.floor(px / k), Math.floor(py / k)];
    const row = Math.floor(y / BRICK[1]);
    const u = x + (row % 2) * (BRICK[0] / 2);
    if (y % BRICK[1] === 0 || u % BRICK[0] === 0) return 0.4;
    return tones[(Math.floor(u / BRICK[0]) % 4) * 2 + (row % 2)] * (c === 0 ? 1.4 : c === 1 ? 0.8 : 0.6);
  });
}
/** The picture as a way to heal it makes it, without what its rim does. */
function healed({ picture, hole }: HealLook, { labels, width, scale, offsets, gains }: HealLabels): Light {
  return lightOf(picture.width, picture.height, (x, y, c) => {
    const i = y * picture.width + x;
    const channel = picture[CHANNELS[c]];
    if (!hole[i]) return channel[i];
    const label = labels[Math.floor(y / scale) * width + Math.floor(x / scale)];
    return channel[i + Math.round(offsets[label].dy) * picture.width + Math.round(offsets[label].dx)] * gains[label][c];
  });
}
const worst = (a: Light, b: Light): number => CHANNELS.reduce((most, name) => a[name].reduce((m, v, i) => Math.max(m, Math.abs(Math.log2(v / b[name][i]))), most), 0);

describe('healing from the picture itself', () => {
  const truth = bricks(160, 120);
  const dirtyWhere = (isHole: (x: number, y: number) => boolean): Light => lightOf(160, 120, (x, y, c) => (isHole(x, y) ? 0.02 : truth[CHANNELS[c]][y * 160 + x]));

  test('a small place in a pattern is taken from where the pattern is the same, to the pixel', () => {
    for (const [cx, cy] of [[70, 60], [41, 33], [120, 85]]) {
      const isHole = (x: number, y: number): boolean => Math.hypot(x - cx, y - cy) < 8;
      const look = lookOf(dirtyWhere(isHole), isHole);
      const [first, ...others] = [...healLabels(look)];
      expect(worst(healed(look, first), truth)).toBeLessThan(1e-6);
      expect(others.length).toBeGreaterThan(0);
      expect(others.every(({ offsets }) => Math.hypot(offsets[0].dx - first.offsets[0].dx, offsets[0].dy - first.offsets[0].dy) >= 3)).toBe(true);
    }
  });

  test('a large one is put together so that joints go on', () => {
    const wall = bricks(480, 360, 3);
    const isHole = (x: number, y: number): boolean => x > 150 && x < 336 && y > 120 && y < 234;
    const look = lookOf(lightOf(480, 360, (x, y, c) => (isHole(x, y) ? 0.02 : wall[CHANNELS[c]][y * 480 + x])), isHole);
    const [first] = healLabels(look);
    const made = healed(look, first);
    const off = wall.g.filter((v, i) => look.hole[i] && Math.abs(Math.log2(made.g[i] / v)) > 0.3).length;
    expect(off / look.hole.filter((h) => h).length).toBeLessThan(0.05);
  });

  test('is the same each time, and never takes from what is to be replaced or is not there', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 30, max: 120 }), fc.integer({ min: 25, max: 90 }), fc.integer({ min: 3, max: 20 }), (seed, cx, cy, r) => {
      const next = seeded(seed);
      const noise = lightOf(150, 110, (x) => 0.2 * 2 ** (0.01 * x + next() - 0.5));
      const isHole = (x: number, y: number): boolean => Math.hypot(x - cx, (y - cy) * 1.4) < r;
      const look = lookOf(noise, isHole, (x) => x > 12);
      const ways = [...healLabels(look)];
      expect([...healLabels(look)]).toEqual(ways);
      for (const { labels, width, scale, offsets } of ways) {
        for (let i = 0; i < look.hole.length; i++) {
          const [x, y] = [i % 150, Math.floor(i / 150)];
          if (!look.hole[i] || scale > 1) continue;
          const { dx, dy } = offsets[labels[y * width + x]];
          const [u, v] = [x + Math.round(dx), y + Math.round(dy)];
          expect(u > 12 && v >= 0 && u < 150 && v < 110 && !isHole(u, v)).toBe(true);
        }
      }
    }), { numRuns: 12 });
  });

  test('nothing is found where nothing is large enough', () => {
    const look = lookOf(bricks(60, 40), (x) => x > 8 && x < 52);
    expect(rimShifts(healFeatures(look), look.hole, look.open, 5)).toEqual([]);
    expect([...healLabels(look)]).toEqual([]);
  });

  test('pieces of other light are brought to one', () => {
    // The right half of the surroundings is a stop brighter; each half of the hole is taken from the side away from it.
    const picture = lightOf(90, 40, (x, _, c) => (x < 45 ? 0.1 : 0.2) * (c + 1));
    const look = lookOf(picture, (x, y) => x >= 35 && x < 55 && y > 8 && y < 30);
    const labels = Int16Array.from(look.hole, (h, i) => (h ? (i % 90 < 45 ? 0 : 1) : -1));
    const gains = pieceGains(healFeatures(look), labels, look.open, [{ dx: 30, dy: 0 }, { dx: -30, dy: 0 }]);
    for (let c = 0; c < 3; c++) expect(Math.abs(Math.log2((0.2 * gains[0][c]) / (0.1 * gains[1][c])))).toBeLessThan(0.15);
  });
});

describe('a way to heal, as a document has it', () => {
  const insideRings = ([x, y]: Point, rings: readonly (readonly Point[])[]): boolean => {
    let inside = false;
    for (const ring of rings) ring.forEach(([ax, ay], k) => {
      const [bx, by] = ring[(k + 1) % ring.length];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
    });
    return inside;
  };

  test('covers all of the place, takes it from where the labels say, and is accepted', () => {
    const truth = bricks(160, 120);
    for (const isHole of [(x: number, y: number) => Math.hypot(x - 70, y - 60) < 9, (x: number, y: number) => x > 45 && x < 118 && y > 38 && y < 84]) {
      const look = lookOf(truth, isHole);
      const grid: HealGrid = { toReference: [1, 0, 300, 0, 1, 200, 0, 0, 1], pixel: 1, full: 1000, beyond: 6 };
      for (const way of healLabels(look)) {
        const patches = healPatches(way, grid);
        const pass: HealPass = { id: 'h', name: 'h', why: '', within: null, kind: 'heal', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, softness: 0.002, matched: true, patches };
        expect(commandSchema.validate({ kind: 'addPass', pass, index: 0 }, { convert: false }).error).toBeUndefined();
        for (let y = 0; y < 120; y += 3) for (let x = 0; x < 160; x += 3) {
          if (!isHole(x, y)) continue;
          const at: Point = [(300 + x) / 1000, (200 + y) / 1000];
          const own = patches.findLast(({ rings, to }) => insideRings(at, rings.length > 0 ? rings : [to]));
          expect(own, `${x} ${y}`).toBeDefined();
          // A shift is whole pixels, so that what is taken is as sharp as it was.
          for (const c of [0, 1]) expect(Math.abs((own!.from[0][c] - own!.to[0][c]) * 1000 - Math.round((own!.from[0][c] - own!.to[0][c]) * 1000))).toBeLessThan(1e-3);
        }
      }
    }
  });

  test('lies in the plane of a box that is seen at an angle, so that what is straight there stays straight', () => {
    const corners: readonly [Point, Point, Point, Point] = [[0.3, 0.3], [0.5, 0.34], [0.5, 0.5], [0.3, 0.56]];
    const grid = healGrid({ width: 1000, height: 700 }, [{ id: 'b', kind: 'box', join: 'add', inverted: false, corners, softness: 0 }], { left: 300, right: 500, top: 300, bottom: 560 });
    expect(grid.pixel).toBeNull();
    // The corners are those of a rectangle on the grid.
    const onGrid = (x: number, y: number): readonly number[] => mapPoint(grid.toReference, x, y);
    const margin = [0, 1, 2, 3].map((k) => corners[k].map((v) => v * 1000));
    let found = 0;
    for (let x = 0; x < grid.grid.width; x += 0.5) for (let y = 0; y < grid.grid.height; y += 0.5) {
      const [u, v] = onGrid(x, y);
      if (margin.some(([a, b]) => Math.hypot(a - u, b - v) < 0.5)) found++;
    }
    expect(found).toBeGreaterThan(3);
    const straight = healGrid({ width: 1000, height: 700 }, [{ id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.4, 0.4], rim: [0.42, 0.4], ratio: 1, softness: 0 }], { left: 380, right: 420, top: 380, bottom: 420 });
    expect(straight.pixel).toBe(1);
  });

  test('brings along what it is taken from, where that lies near; all of it where it must be there', () => {
    const quad = (x: number, y: number): HealPass['patches'][number]['to'] => [[x, y], [x + 0.02, y], [x + 0.02, y + 0.02], [x, y + 0.02]];
    const mixWith = (from: Point): Mix => ({ reference: 'f', frames: { f: { width: 1000, height: 700 } }, passes: [{ kind: 'heal', on: true, patches: [{ to: quad(0.2, 0.2), from: quad(...from), rings: [], gains: [1, 1, 1] }] }] }) as unknown as Mix;
    const seen: [number, number][] = [[150, 150], [300, 150], [300, 300], [150, 300]];
    const most = (points: readonly (readonly [number, number])[]): number => Math.max(...points.map(([x]) => x));
    expect(most(withHealed(mixWith([0.29, 0.2]), seen, 'near'))).toBe(310);
    expect(most(withHealed(mixWith([0.9, 0.2]), seen, 'near'))).toBe(300);
    expect(most(withHealed(mixWith([0.9, 0.2]), seen, 'all'))).toBe(920);
    expect(withHealed(mixWith([0.9, 0.2]), [[500, 500], [600, 600]], 'all')).toHaveLength(2);
    // Whatever a region brings along, a larger one about it does, too.
    fc.assert(fc.property(fc.array(fc.tuple(fc.double({ min: 0, max: 0.9, noNaN: true }), fc.double({ min: 0, max: 0.6, noNaN: true }), fc.double({ min: 0, max: 0.9, noNaN: true }), fc.double({ min: 0, max: 0.6, noNaN: true })), { maxLength: 8 }), fc.double({ min: 0, max: 0.5, noNaN: true }), (places, ahead) => {
      const mix = { ...mixWith([0.5, 0.5]), passes: [{ kind: 'heal', on: true, patches: places.map(([x, y, u, v]) => ({ to: quad(x, y), from: quad(u, v), rings: [], gains: [1, 1, 1] })) }] } as unknown as Mix;
      const about = (by: number): [number, number][] => [[300 - 200 * by, 200 - 150 * by], [500 + 200 * by, 350 + 150 * by]];
      const [small, large] = [withHealed(mix, about(0), 'near'), withHealed(mix, about(ahead), 'near')];
      for (const c of [0, 1]) {
        expect(Math.min(...large.map((p) => p[c]))).toBeLessThanOrEqual(Math.min(...small.map((p) => p[c])) + 1e-9);
        expect(Math.max(...large.map((p) => p[c]))).toBeGreaterThanOrEqual(Math.max(...small.map((p) => p[c])) - 1e-9);
      }
    }), { numRuns: 200 });
  });
});
