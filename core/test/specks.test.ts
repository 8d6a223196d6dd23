import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Pixels } from '../src/image/plane';
import { commonSpecks, findSpecks, recurringSpecks, type Speck } from '../src/read/findSpecks';
import { seeded } from './kernelMemory';

const [W, H] = [750, 500];
interface Dust { readonly x: number; readonly y: number; readonly r: number; readonly depth: number }

/** A room of even surfaces with edges, fall of light, grain, and dust on the sensor; gains as by another exposure. */
function frame(seed: number, dust: readonly Dust[], gain = 1): Pixels {
  const next = seeded(seed);
  const boxes = Array.from({ length: 14 }, () => ({ x: next() * W, y: next() * H, w: 60 + next() * 240, h: 40 + next() * 180, level: 40 + next() * 150 }));
  const surfaces = new Float32Array(W * H).fill(120);
  for (const b of boxes) for (let y = Math.ceil(b.y); y < Math.min(H, b.y + b.h); y++) for (let x = Math.ceil(b.x); x < Math.min(W, b.x + b.w); x++) surfaces[y * W + x] = b.level;
  const shade = new Float32Array(W * H).fill(1);
  for (const d of dust) for (let y = Math.max(0, Math.floor(d.y) - 12); y < Math.min(H, d.y + 12); y++) for (let x = Math.max(0, Math.floor(d.x) - 12); x < Math.min(W, d.x + 12); x++) shade[y * W + x] *= 1 - d.depth / (1 + (Math.hypot(x - d.x, y - d.y) / d.r) ** 6);
  const [fx, fy] = [next() * 0.05 - 0.025, next() * 0.05 - 0.025];
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) {
    const value = ((surfaces[y * W + x] + fx * (x - 375) + fy * (y - 250)) * gain + (next() - 0.5) * 3) * shade[y * W + x];
    for (let c = 0; c < 3; c++) data[(y * W + x) * 3 + c] = Math.max(0, Math.min(255, value));
  }
  return { width: W, height: H, data };
}
/** Pixels that grains lie apart at least: two that touch are one speck. */
const APART = 24;
const dusty = (seed: number, count: number): Dust[] => {
  const next = seeded(seed);
  const dust: Dust[] = [];
  while (dust.length < count) {
    const d = { x: 30 + next() * (W - 60), y: 30 + next() * (H - 60), r: 1.5 + 2 * next(), depth: 0.12 + 0.25 * next() };
    if (dust.every((other) => Math.hypot(other.x - d.x, other.y - d.y) > APART)) dust.push(d);
  }
  return dust;
};
const isAt = ([x, y]: Speck, d: Dust): boolean => Math.hypot(x * W - d.x, y * W - d.y) < 2.5;

describe('dust on the sensor', () => {
  test('is found on calm surfaces at its place and about as large as it is', () => {
    const dust: Dust[] = [{ x: 200, y: 150, r: 2, depth: 0.25 }, { x: 500, y: 320, r: 3.5, depth: 0.15 }];
    const flat: Pixels = { width: W, height: H, data: frame(1, []).data.map(() => 128) };
    for (const d of dust) for (let y = Math.floor(d.y) - 30; y < d.y + 30; y++) for (let x = Math.floor(d.x) - 30; x < d.x + 30; x++) for (let c = 0; c < 3; c++) flat.data[(y * W + x) * 3 + c] *= 1 - d.depth / (1 + (Math.hypot(x - d.x, y - d.y) / d.r) ** 6);
    const specks = findSpecks(flat);
    expect(specks).toHaveLength(2);
    for (const d of dust) {
      const speck = specks.find((each) => isAt(each, d))!;
      expect(speck[2] * W).toBeGreaterThan(0.6 * d.r);
      expect(speck[2] * W).toBeLessThan(2 * d.r + 1);
    }
  });

  test('is told by what recurs in other shots: most of it, and nothing that belongs to a room', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), (seed) => {
      const dust = dusty(seed, 8);
      const shots = [0, 1, 2, 3, 4].map((k) => commonSpecks(findSpecks(frame(seed * 7 + k, dust)), findSpecks(frame(seed * 7 + k, dust, 0.6))));
      const told = recurringSpecks(shots[0], shots.slice(1));
      // What lies on an edge in this shot, or in the others, is not told.
      expect(told.length).toBeGreaterThanOrEqual(4);
      for (const speck of told) expect(dust.some((d) => isAt(speck, d))).toBe(true);
    }), { numRuns: 3, examples: [[9992]] });
  });

  test('is none where the same room is all that recurs', () => {
    const shots = [11, 12, 13, 14].map((seed) => findSpecks(frame(seed, [])));
    expect(recurringSpecks(shots[0], shots.slice(1))).toEqual([]);
    expect(recurringSpecks([[0.5, 0.3, 0.002]], [[[0.5, 0.3, 0.002]]])).toEqual([]);
  });
});
