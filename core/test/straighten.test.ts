import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Framing } from '@zaddle/document';
import { coveredRegion } from '../src/geometry/coveredRegion';
import { fitWithin, largestWithin } from '../src/geometry/cropWithin';
import { estimateStance } from '../src/geometry/estimateStance';
import type { Edge } from '../src/geometry/findStraightEdges';
import { invert, mapPoint } from '../src/geometry/homography';
import { freeOfLens, lensFactor, NO_DISTORTION } from '../src/geometry/lens';
import { snapLine } from '../src/geometry/snapLine';
import { stanceRotation, straightenMap, type Stance } from '../src/geometry/straightenMap';
import { straightenByLines } from '../src/geometry/straightenByLines';
import { createPlane } from '../src/image/plane';
import { asShot } from '../src/mix/frameMix';
import { seeded } from './kernelMemory';

const size = { width: 1500, height: 1000 };
const FOCAL = 0.75;
const between = (low: number, high: number): fc.Arbitrary<number> => fc.double({ min: low, max: high, noNaN: true });
const stances: fc.Arbitrary<Stance> = fc.record({ roll: between(-4, 4), pitch: between(-10, 10), yaw: between(-8, 8) });
const framed = (stance: Stance, more: Partial<Framing> = {}): Framing => ({ ...asShot(FOCAL), ...stance, ...more });

/** Where a camera with a stance takes a point of the room, metres: x right, y down, z ahead of a level camera; null behind it. */
function taken(stance: Stance, [x, y, z]: readonly number[]): [number, number] | null {
  const r = stanceRotation(stance);
  const [cx, cy, cz] = [0, 1, 2].map((k) => r[k] * x + r[3 + k] * y + r[6 + k] * z);
  return cz > 0.1 ? [749.5 + (FOCAL * 1500 * cx) / cz, 499.5 + (FOCAL * 1500 * cy) / cz] : null;
}

const isSeen = (p: [number, number] | null): p is [number, number] => p !== null && p[0] > 2 && p[1] > 2 && p[0] < 1497 && p[1] < 997;

/** An edge of the room between two points as it is found in a picture: places a pixel apart, with noise, bent by a lens. */
function edgeOf(stance: Stance, a: readonly number[], b: readonly number[], next: () => number, k1 = 0): Edge | null {
  const [p, q] = [taken(stance, a), taken(stance, b)];
  if (!isSeen(p) || !isSeen(q) || Math.hypot(q[0] - p[0], q[1] - p[1]) < 105) return null;
  const n = Math.round(Math.hypot(q[0] - p[0], q[1] - p[1]));
  return Float64Array.from(Array.from({ length: n }, (_, i) => {
    const [x, y] = [p[0] + (i / n) * (q[0] - p[0]), p[1] + (i / n) * (q[1] - p[1])];
    const s = lensFactor({ k1, k2: 0 }, ((x - 749.5) ** 2 + (y - 499.5) ** 2) / ((1500 ** 2 + 1000 ** 2) / 4));
    return [749.5 + s * (x - 749.5) + 0.3 * (next() - 0.5), 499.5 + s * (y - 499.5) + 0.3 * (next() - 0.5)];
  }).flat());
}

/** Edges of a made-up room: plumb and level ones, and as many that run anywhere. */
function roomEdges(stance: Stance, seed: number, count: number, k1 = 0): Edge[] {
  const next = seeded(seed);
  const spread = (r: number): number => r * (2 * next() - 1);
  const out: Edge[] = [];
  for (let tries = 0; out.length < 3 * count && tries < 5000; tries++) {
    const [x, y, z] = [spread(2.5), spread(1.2), 2 + 2 * next()];
    const to = [[x, y + 0.5 + next(), z], [x + 0.6 + next(), y, 4], [x + spread(1.5), y + spread(1.5), z + spread(1)]][out.length % 3];
    const edge = edgeOf(stance, out.length % 3 === 1 ? [x, y, 4] : [x, y, z], to, next, k1);
    if (edge) out.push(edge);
  }
  return out;
}

describe('the straightening map', () => {
  test('makes what is plumb in the room plumb, and the faced wall rectangular with its own proportions', () => {
    fc.assert(fc.property(stances, between(-0.6, 0.2), between(-0.5, 0.2), (stance, x, y) => {
      const map = straightenMap(framed(stance), size);
      const corners = [[x, y], [x + 0.5, y], [x + 0.5, y + 0.3], [x, y + 0.3]].map(([u, v]) => mapPoint(map, ...taken(stance, [u, v, 2])!));
      expect(Math.abs(corners[0][0] - corners[3][0])).toBeLessThan(1e-6);
      expect(Math.abs(corners[1][0] - corners[2][0])).toBeLessThan(1e-6);
      expect(Math.abs(corners[0][1] - corners[1][1])).toBeLessThan(1e-6);
      expect((corners[1][0] - corners[0][0]) / (corners[3][1] - corners[0][1])).toBeCloseTo(5 / 3, 6);
    }));
  });
  test('keeps the middle where it is, and the size of things there', () => {
    fc.assert(fc.property(stances, between(0, 1), between(-5, 5), between(0.8, 1.25), (stance, strength, turn, stretch) => {
      const map = straightenMap(framed(stance, { strength, turn, stretch }), size);
      const [p, q, r] = [mapPoint(map, 749.5, 499.5), mapPoint(map, 750.5, 499.5), mapPoint(map, 749.5, 500.5)];
      expect(Math.hypot(p[0] - 749.5, p[1] - 499.5)).toBeLessThan(1e-6);
      expect(Math.abs((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]) - 1)).toBeLessThan(0.01);
    }));
  });
  test('nothing to straighten is the identity to the last bit but rounding; strength leaves its share of convergence', () => {
    const map = straightenMap(framed({ roll: 0, pitch: 0, yaw: 0 }), size);
    [1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((v, k) => expect(map[k]).toBeCloseTo(v, 12));
    const lean = (strength: number): number => {
      const half = straightenMap(framed({ roll: 0, pitch: 8, yaw: 0 }, { strength }), size);
      const [a, b] = [mapPoint(half, ...taken({ roll: 0, pitch: 8, yaw: 0 }, [-1, -0.6, 2])!), mapPoint(half, ...taken({ roll: 0, pitch: 8, yaw: 0 }, [-1, 0.1, 2])!)];
      return Math.atan2(b[0] - a[0], b[1] - a[1]);
    };
    expect(Math.abs(lean(1))).toBeLessThan(1e-9);
    expect(lean(0.5) / lean(0)).toBeCloseTo(0.5, 1);
  });
});

describe('how a camera stood', () => {
  test('is told from edges of made-up rooms, a third of which run anywhere, through lenses', () => {
    const next = seeded(99);
    const spread = (r: number): number => r * (2 * next() - 1);
    let [rooms, untold, askew] = [0, 0, 0];
    for (let k = 0; rooms < 80; k++) {
      const [stance, k1] = [{ roll: spread(4), pitch: spread(10), yaw: spread(8) }, spread(0.03)];
      const edges = roomEdges(stance, k * 131 + 7, 9, k1);
      if (edges.length < 27) continue;
      rooms++;
      const { plumb, yaw } = estimateStance(edges, size, { k1, k2: 0 }, FOCAL);
      if (!plumb) untold++;
      else {
        expect(Math.abs(plumb.roll - stance.roll)).toBeLessThan(0.15);
        // An error of pitch shows by half of itself at the sides.
        expect(Math.abs(plumb.pitch - stance.pitch)).toBeLessThan(0.3);
        if (yaw === null || Math.abs(yaw - stance.yaw) > 0.4) askew++;
      }
    }
    expect(untold).toBeLessThanOrEqual(2);
    // Nine level edges among nine that run anywhere: some of these are level for another yaw.
    expect(askew).toBeLessThanOrEqual(4);
  });
  test('is not told where nothing is plumb, and many lines of one leaning thing have one voice', () => {
    const next = seeded(4);
    const any = Array.from({ length: 14 }, () => {
      const [x, y, turn] = [300 + 900 * next(), 300 + 400 * next(), Math.PI * next()];
      return Float64Array.from({ length: 240 }, (_, i) => (i % 2 === 0 ? x + (i / 2) * Math.cos(turn) : y + ((i - 1) / 2) * Math.sin(turn)));
    });
    expect(estimateStance(any.slice(0, 2), size, NO_DISTORTION, FOCAL)).toMatchObject({ plumb: null, yaw: null });
    expect(estimateStance([], size, NO_DISTORTION, FOCAL)).toMatchObject({ plumb: null, yaw: null, verticals: 0 });
    // Ten oars that lean by 6° against a wall at the side, beside five plumb posts.
    const oars = Array.from({ length: 10 }, (_, k) => edgeOf({ roll: 0, pitch: 0, yaw: 0 }, [1.2 + 0.02 * k, -0.5, 3], [1.3 + 0.02 * k, 0.5, 3], next)!);
    const posts = [-1.4, -0.9, -0.2, 0.4, 0.9].map((x) => edgeOf({ roll: 0, pitch: 0, yaw: 0 }, [x, -0.5, 3], [x, 0.6, 3], next)!);
    const { plumb } = estimateStance([...oars, ...posts], size, NO_DISTORTION, FOCAL);
    expect(Math.abs(plumb!.roll)).toBeLessThan(0.1);
    expect(Math.abs(plumb!.pitch)).toBeLessThan(0.3);
  });
});

describe('lines that a person draws', () => {
  const drawn = (stance: Stance, ends: readonly (readonly [readonly number[], readonly number[]])[]): Framing['lines'] => ends.map(([a, b]) => {
    const [p, q] = [taken(stance, a)!, taken(stance, b)!];
    return { from: [p[0] / 1500, p[1] / 1500], to: [q[0] / 1500, q[1] / 1500] };
  });
  const UP = [[[-1, -0.6, 2.5], [-1, 0.6, 2.5]], [[1, -0.5, 3], [1, 0.7, 3]]] as const;
  const LEVEL = [[[-0.8, -0.5, 2.5], [0.8, -0.5, 2.5]], [[-0.7, 0.6, 2.5], [0.9, 0.6, 2.5]]] as const;
  test('two plumb and two level ones tell all of how the camera stood', () => {
    fc.assert(fc.property(stances, (stance) => {
      const { roll, pitch, yaw } = straightenByLines(framed({ roll: 0, pitch: 0, yaw: 0 }, { lines: drawn(stance, [...UP, ...LEVEL]), strength: 0.4, turn: 2 }), size);
      expect(Math.hypot(roll - stance.roll, pitch - stance.pitch, yaw - stance.yaw)).toBeLessThan(1e-3);
    }), { numRuns: 30 });
  });
  test.each([
    ['one plumb line turns the picture', UP.slice(0, 1), { roll: 2, pitch: 0, yaw: 0 }],
    ['one level line turns the picture', LEVEL.slice(0, 1), { roll: -2, pitch: 0, yaw: 0 }],
    ['two plumb lines tell roll and pitch', UP, { roll: 1, pitch: -5, yaw: 0 }],
    ['two level lines tell roll and yaw', LEVEL, { roll: 1, pitch: 0, yaw: 4 }],
  ] as const)('%s', (_, lines, stance) => {
    const { roll, pitch, yaw, strength, turn } = straightenByLines(framed({ roll: 0, pitch: 0, yaw: 0 }, { lines: drawn(stance, lines) }), size);
    expect(Math.hypot(roll - stance.roll, pitch - stance.pitch, yaw - stance.yaw)).toBeLessThan(1e-3);
    expect([strength, turn]).toEqual([1, 0]);
  });
  test('a level line where verticals were told faces the wall; points are passed over', () => {
    const stance = { roll: 0, pitch: 5, yaw: 3 };
    const start = framed({ roll: 0, pitch: 5, yaw: 0 }, { lines: drawn(stance, LEVEL.slice(0, 1)) });
    expect(straightenByLines(start, size).yaw).toBeCloseTo(3, 3);
    const point = framed(stance, { lines: [{ from: [0.3, 0.3], to: [0.3, 0.3] }] });
    expect(straightenByLines(point, size)).toBe(point);
  });
  test('a line snaps to the edge beside it within a quarter of a pixel, and stays where there is none', () => {
    fc.assert(fc.property(between(200, 400), between(-0.15, 0.15), between(-5, 5), between(-4, 4), fc.integer({ min: 1, max: 9999 }), (x0, lean, off, skew, seed) => {
      const next = seeded(seed);
      const plane = createPlane(600, 400);
      for (let y = 0; y < 400; y++) for (let x = 0; x < 600; x++) plane.data[y * 600 + x] = 110 + 45 * Math.tanh((x - x0 - lean * y) / 0.8) + 6 * (next() - 0.5);
      const snapped = snapLine(plane, [x0 + lean * 60 + off, 60], [x0 + lean * 340 + off + skew, 340])!;
      for (const [x, y] of [snapped.from, snapped.to]) expect(Math.abs(x - x0 - lean * y)).toBeLessThan(0.25);
    }), { numRuns: 20 });
    const flatPlane = createPlane(600, 400);
    flatPlane.data.fill(90);
    expect(snapLine(flatPlane, [100, 50], [110, 300])).toBeNull();
  });
});

describe('a crop within what is covered', () => {
  const regions = stances.map((stance) => {
    const map = straightenMap(framed(stance), size);
    return { map, region: coveredRegion(1500, 1000, (x, y) => mapPoint(map, ...freeOfLens({ k1: 0.03, k2: 0 }, 1500, 1000, x, y))) };
  });
  const cornersOf = ({ x, y, width, height }: ReturnType<typeof largestWithin>): [number, number][] => [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([u, v]) => [x + (u * width) / 2, y + (v * height) / 2]);
  test('the largest of a ratio never shows an empty corner, and cannot grow', () => {
    fc.assert(fc.property(regions, fc.constantFrom(1.5, 4 / 3, 1, 0.8, 16 / 9), ({ map, region }, ratio) => {
      const found = largestWithin(region, ratio, [749.5, 499.5]);
      expect(found.width / found.height).toBeCloseTo(ratio, 9);
      const back = invert(map);
      for (const corner of cornersOf(found)) {
        const [u, v] = mapPoint(back, ...corner);
        // Where the lens stored it lies within the frame, to what lies between the places that are asked.
        const s = lensFactor({ k1: 0.03, k2: 0 }, ((u - 749.5) ** 2 + (v - 499.5) ** 2) / ((1500 ** 2 + 1000 ** 2) / 4));
        expect(Math.abs((u - 749.5) * s)).toBeLessThan(750.1);
        expect(Math.abs((v - 499.5) * s)).toBeLessThan(500.1);
      }
      const fits = (frame: typeof found): boolean => region.every(({ nx, ny, d }) => cornersOf(frame).every(([x, y]) => nx * x + ny * y <= d + 1e-6));
      const grown = { ...found, width: found.width * 1.003, height: found.height * 1.003 };
      for (const [dx, dy] of [[0, 0], [3, 0], [-3, 0], [0, 3], [0, -3], [2, 2], [-2, 2], [2, -2], [-2, -2]]) expect(fits({ ...grown, x: found.x + dx, y: found.y + dy })).toBe(false);
    }), { numRuns: 40 });
  });
  test('a wished crop is left alone inside, moved as little as needed at the rim, made smaller only where it fits nowhere', () => {
    const region = coveredRegion(1500, 1000, (x, y) => [x, y]);
    const inside = { x: 700, y: 480, width: 600, height: 400 };
    expect(fitWithin(region, inside)).toBe(inside);
    const moved = fitWithin(region, { x: 100, y: 480, width: 600, height: 400 });
    expect(moved.x).toBeCloseTo(299.5, 3);
    expect(moved.y).toBeCloseTo(480, 3);
    expect([moved.width, moved.height]).toEqual([600, 400]);
    const shrunk = fitWithin(region, { x: 749.5, y: 499.5, width: 3000, height: 1000 });
    expect(shrunk.width).toBeCloseTo(1500, 1);
    expect(shrunk.height).toBeCloseTo(500, 1);
  });
  test('at a turned rim it goes to the nearest place: none nearer fits', () => {
    fc.assert(fc.property(regions, between(0, 1500), between(0, 1000), ({ region }, x, y) => {
      const wish = { x, y, width: 500, height: 400 };
      const at = fitWithin(region, wish);
      const fits = (px: number, py: number): boolean => region.every(({ nx, ny, d }) => cornersOf({ ...wish, x: px, y: py }).every(([u, v]) => nx * u + ny * v <= d + 1e-4));
      expect(fits(at.x, at.y)).toBe(true);
      for (let k = 0; k < 12; k++) {
        const [dx, dy] = [Math.cos((k * Math.PI) / 6), Math.sin((k * Math.PI) / 6)];
        const [px, py] = [at.x + 2 * dx, at.y + 2 * dy];
        if (Math.hypot(px - x, py - y) < Math.hypot(at.x - x, at.y - y) - 0.5) expect(fits(px, py)).toBe(false);
      }
    }), { numRuns: 40 });
  });
});
