import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Area, Mix, OutlineNode, Point } from '@zaddle/document';
import { changeReference } from '../src/mix/changeReference';
import type { Homography } from '../src/geometry/homography';
import { NO_LENS, type Optics } from '../src/geometry/lens';
import { outputToReference } from '../src/mix/outputToReference';
import { placeMix } from '../src/graph/placeMix';
import { placedBytes, wholeGrid, type OutputGrid } from '../src/graph/placedMix';
import { prepareMix } from '../src/graph/prepareMix';
import { RowRenderer } from '../src/graph/rowRenderer';
import { Arena } from '../src/kernels/arena';
import { testTools } from './kernelMemory';

/*
 * Shapes against what geometry says of them, on any grid, under any crop and lens; and how areas join.
 */

const [W, H] = [300, 200];
const { kernels, arena } = testTools(16 << 20);
const grey = arena.placeBytes(new Uint8Array(W * H * 3).fill(128));
const sources = new Map(['a', 'b'].map((id) => [id, { at: grey, width: W, height: H, depth: 8 as const }]));

interface Setting {
  readonly geometry: Homography;
  readonly lens: Optics;
  readonly corrected: boolean;
}
const PLAIN: Setting = { geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], lens: NO_LENS, corrected: true };
const mixOf = (mask: readonly Area[], { geometry, lens, corrected }: Setting = PLAIN): Mix => ({
  reference: 'a', lens, corrects: { distortion: corrected, fringes: true, falloff: true }, response: [], geometry, width: W, height: H, merge: ['a'],
  frames: { a: { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] }, b: { width: W, height: H, homography: [0.99, 0.03, 4, -0.02, 1.01, -3, 0, 1e-5, 1], mesh: null, stops: 0, balance: [1, 1, 1] } },
  passes: [{ id: 'p', name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask, exposure: 0, balance: [1, 1, 1] }],
});

function coverage(mix: Mix, grid: OutputGrid = wholeGrid({ width: W, height: H }, W, H)): Float32Array {
  const mark = arena.mark();
  const placed = placeMix(prepareMix(mix, { reference: mix.reference, edgeFound: () => null, share: () => null }), sources, grid, arena);
  const bytes = placedBytes(placed);
  const start = arena.take(bytes);
  const renderer = new RowRenderer(kernels, new Arena(kernels.memory.buffer, start, start + bytes), placed);
  const out = new Float32Array(grid.width * grid.height);
  for (let y = 0; y < grid.height; y++) out.set(arena.floats(renderer.maskRow(0, y), grid.width), y * grid.width);
  arena.release(mark);
  return out;
}

const smooth = (t: number): number => { const v = Math.min(1, Math.max(0, t)); return v * v * (3 - 2 * v); };
/** What a shape says of a place of the reference, in longer sides; `pixel` is a grid pixel there. */
type Shape = 'ramp' | 'spot' | 'outline' | 'box';

/** Distance to closed curves, inside counted up; the curves are cut into very many pieces. */
function insideBy(rings: readonly (readonly OutlineNode[])[], x: number, y: number): number {
  let [least, inside] = [Infinity, false];
  for (const ring of rings) {
    ring.forEach((node, k) => {
      const next = ring[(k + 1) % ring.length];
      const [p, q, r, s] = [node.at, node.after ?? node.at, next.before ?? next.at, next.at];
      const steps = node.after || next.before ? 400 : 1;
      const at = (t: number, c: 0 | 1): number => (steps === 1 ? p[c] + t * (s[c] - p[c]) : (1 - t) ** 3 * p[c] + 3 * t * (1 - t) ** 2 * q[c] + 3 * t * t * (1 - t) * r[c] + t ** 3 * s[c]);
      for (let j = 0; j < steps; j++) {
        const [ax, ay, bx, by] = [at(j / steps, 0), at(j / steps, 1), at((j + 1) / steps, 0), at((j + 1) / steps, 1)];
        const t = Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / Math.max(1e-20, (bx - ax) ** 2 + (by - ay) ** 2)));
        least = Math.min(least, Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)));
        if (ay > y !== by > y && x < ax + ((y - ay) * (bx - ax)) / (by - ay)) inside = !inside;
      }
    });
  }
  return inside ? least : -least;
}

const EXACT: { readonly [K in Shape]: (area: Extract<Area, { kind: K }>, x: number, y: number, pixel: number) => number } = {
  ramp: ({ from, to }, x, y) => {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    return smooth(((x - from[0]) * dx + (y - from[1]) * dy) / (dx * dx + dy * dy));
  },
  outline: ({ rings, softness }, x, y, pixel) => smooth(0.5 + insideBy(rings, x, y) / Math.max(pixel, softness)),
  box: ({ corners, softness }, x, y, pixel) => smooth(0.5 + insideBy([corners.map((at) => ({ at, before: null, after: null }))], x, y) / Math.max(pixel, softness)),
  spot: ({ at, rim, ratio, softness }, x, y, pixel) => {
    const length = Math.hypot(rim[0] - at[0], rim[1] - at[1]);
    const [cos, sin] = [(rim[0] - at[0]) / length, (rim[1] - at[1]) / length];
    const [u, v] = [(x - at[0]) * cos + (y - at[1]) * sin, -(x - at[0]) * sin + (y - at[1]) * cos];
    const rimPixel = pixel / Math.min(length, length * ratio);
    return smooth((1 + 0.5 * rimPixel - Math.hypot(u / length, v / (length * ratio))) / (softness + rimPixel));
  },
};

const place = fc.tuple(fc.double({ min: 0.1, max: 0.9, noNaN: true }), fc.double({ min: 0.05, max: 0.6, noNaN: true }));
const base = { id: fc.constant('s'), join: fc.constant('add' as const), inverted: fc.constant(false) };
const ramp = fc.record({ ...base, kind: fc.constant('ramp' as const), from: place, to: place }).filter(({ from, to }) => Math.hypot(to[0] - from[0], to[1] - from[1]) > 0.1);
const spot = fc.record({ ...base, kind: fc.constant('spot' as const), at: place, rim: place, ratio: fc.double({ min: 0.3, max: 3, noNaN: true }), softness: fc.double({ min: 0.2, max: 1, noNaN: true }) }).filter(({ at, rim }) => Math.hypot(rim[0] - at[0], rim[1] - at[1]) > 0.08);
/** Corners about a middle, going round, some of them bent. */
const ring = fc.tuple(place, fc.array(fc.double({ min: 0.1, max: 0.3, noNaN: true }), { minLength: 4, maxLength: 9 }), fc.boolean()).map(([[x, y], reach, bent]) => reach.map((r, k): OutlineNode => {
  const a = (2 * Math.PI * k) / reach.length;
  const at = (by: number): readonly [number, number] => [x + r * Math.cos(a + by), y + r * Math.sin(a + by)];
  return { at: at(0), before: bent ? at(-0.3) : null, after: bent ? at(0.3) : null };
}));
const softness = fc.double({ min: 0.03, max: 0.3, noNaN: true });
const outline = fc.record({ ...base, kind: fc.constant('outline' as const), rings: fc.array(ring, { minLength: 1, maxLength: 2 }), softness });
const box = fc.record({ ...base, kind: fc.constant('box' as const), corners: ring.filter((nodes) => nodes.length >= 4).map((nodes) => [0, 1, 2, 3].map((k) => nodes[k].at) as unknown as readonly [Point, Point, Point, Point]), softness });
const setting: fc.Arbitrary<Setting> = fc.record({
  geometry: fc.constantFrom<Homography>([1, 0, 0, 0, 1, 0, 0, 0, 1], [0.9, 0.05, 12, -0.04, 0.92, 9, 2e-5, -3e-5, 1]),
  lens: fc.constantFrom<Optics>(NO_LENS, { ...NO_LENS, k1: -0.05, k2: 0.01 }),
  corrected: fc.boolean(),
});

/** A third of a pixel at full size, longer sides. */
const OFF = 0.33 / W;

describe.each([['ramp', ramp], ['spot', spot], ['outline', outline], ['box', box]] as const)('a(n) %s', (kind, arbitrary) => {
  test('is what geometry says at every pixel, on any grid, under any crop and lens', () => {
    fc.assert(fc.property(arbitrary as fc.Arbitrary<Extract<Area, { kind: Shape }>>, setting, fc.constantFrom(75, 150, 300, 450), (area, how, width) => {
      const mix = mixOf([area], how);
      const height = (width * 2) / 3;
      const data = coverage(mix, wholeGrid(mix, width, height));
      const k = W / width;
      const [ux, uy] = [how.geometry[0], how.geometry[4]];
      const pixel = (k * Math.sqrt(Math.abs(ux * uy - how.geometry[1] * how.geometry[3]))) / W;
      for (let y = 3; y < height; y += 17) {
        for (let x = 2; x < width; x += 23) {
          const [u, v] = outputToReference(mix, (x + 0.5) * k - 0.5, (y + 0.5) * k - 0.5);
          // Positions are exact at every 16th pixel of a row: the lens bends what lies between by a part of a pixel, which a steep edge shows.
          const about = [[0, 0], [OFF, 0], [-OFF, 0], [0, OFF], [0, -OFF]].map(([du, dv]) => (EXACT[kind] as (a: Area, x: number, y: number, p: number) => number)(area, u / W + du, v / W + dv, pixel));
          expect(data[y * width + x]).toBeGreaterThan(Math.min(...about) - 0.01);
          expect(data[y * width + x]).toBeLessThan(Math.max(...about) + 0.01);
        }
      }
    }), { numRuns: 30 });
  });
  test('is a part of itself on a part of the grid: within a hundred-thousandth', () => {
    fc.assert(fc.property(arbitrary as fc.Arbitrary<Area>, fc.integer({ min: 0, max: 150 }), fc.integer({ min: 0, max: 90 }), (area, left, top) => {
      const whole = coverage(mixOf([area]));
      // Kernels step by sixteen pixels: parts begin there, as those of the screen do.
      const x0 = left & ~15;
      const part = coverage(mixOf([area]), { width: 120, height: 70, toOutput: [1, 0, x0, 0, 1, top, 0, 0, 1] });
      for (let y = 0; y < 70; y += 7) for (let x = 0; x < 120; x++) expect(Math.abs(part[y * 120 + x] - whole[(y + top) * W + x + x0])).toBeLessThan(1e-5);
    }), { numRuns: 20 });
  });
  test('stays where it is when another frame becomes the reference', () => {
    fc.assert(fc.property(arbitrary as fc.Arbitrary<Area>, (area) => {
      const mix = mixOf([area]);
      const before = coverage(mix);
      const moved = changeReference(mix, 'b');
      const after = coverage(moved);
      // The crop keeps the framing, so the same pixel of the output shows the same place; a slight shear bends what lies across a little.
      let worst = 0;
      for (let y = 20; y < H - 20; y += 9) for (let x = 20; x < W - 20; x += 9) worst = Math.max(worst, Math.abs(after[y * W + x] - before[y * W + x]));
      expect(worst).toBeLessThan(0.35);
      const [u, v] = area.kind === 'spot' ? area.at : area.kind === 'ramp' ? [(area.from[0] + area.to[0]) / 2, (area.from[1] + area.to[1]) / 2] : [0, 0];
      const middle = Math.round(v * W) * W + Math.round(u * W);
      expect(Math.abs(after[middle] - before[middle])).toBeLessThan(0.1);
    }), { numRuns: 25 });
  });
});

describe('areas of a mask', () => {
  const inverted = <A extends Area>(area: A): A => ({ ...area, inverted: true });
  const joined = <A extends Area>(area: A, join: Area['join'], id: string): A => ({ ...area, id, join });
  test('inside out is one minus it; added, taken away and intersected they are maximum, product with the rest, and product', () => {
    fc.assert(fc.property(ramp, spot, (a, b) => {
      const [ca, cb] = [coverage(mixOf([a])), coverage(mixOf([b]))];
      const not = coverage(mixOf([inverted(a)]));
      const [add, subtract, intersect] = (['add', 'subtract', 'intersect'] as const).map((join) => coverage(mixOf([a, joined(b, join, 'b')])));
      for (let i = 0; i < ca.length; i += 37) {
        expect(Math.abs(not[i] - (1 - ca[i]))).toBeLessThan(1e-5);
        expect(Math.abs(subtract[i] - ca[i] * (1 - cb[i]))).toBeLessThan(1e-5);
        expect(Math.abs(intersect[i] - ca[i] * cb[i])).toBeLessThan(1e-5);
        // Adding never takes anything away, and neither does it make more than all.
        expect(add[i]).toBeGreaterThanOrEqual(Math.max(ca[i], cb[i]) - 1e-5);
        expect(add[i]).toBeLessThanOrEqual(Math.min(1, ca[i] + cb[i]) + 1e-5);
      }
    }), { numRuns: 20 });
  });
  test('what begins by taking away takes it from everything; what is missing is nothing', () => {
    fc.assert(fc.property(spot, (area) => {
      const own = coverage(mixOf([area]));
      const taken = coverage(mixOf([joined(area, 'subtract', 's')]));
      for (let i = 0; i < own.length; i += 41) expect(Math.abs(taken[i] - (1 - own[i]))).toBeLessThan(1e-5);
    }), { numRuns: 10 });
    const missing: Area = { id: 'g', kind: 'found', what: 'glass', edge: 'a', join: 'add', inverted: false };
    expect(Math.max(...coverage(mixOf([missing])))).toBe(0);
  });
  test('a place of the screen and the same place of the delivery are covered alike', () => {
    const area: Area = { id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.33], rim: [0.7, 0.4], ratio: 0.7, softness: 0.5 };
    const [small, large] = [coverage(mixOf([area]), wholeGrid({ width: W, height: H }, 150, 100)), coverage(mixOf([area]), wholeGrid({ width: W, height: H }, 600, 400))];
    let sum = 0;
    for (let y = 0; y < 100; y++) {
      for (let x = 0; x < 150; x++) {
        let mean = 0;
        for (let v = 0; v < 4; v++) for (let u = 0; u < 4; u++) mean += large[(4 * y + v) * 600 + 4 * x + u] / 16;
        sum += Math.abs(mean - small[y * 150 + x]);
      }
    }
    expect((255 * sum) / 15000).toBeLessThan(1);
  });
});
