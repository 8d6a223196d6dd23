import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { castOf } from '../src/colour/castOf';
import type { Triple } from '../src/colour/primaries';
import { createLight, createPlane, type Light, type Plane } from '../src/image/plane';
import { seeded } from './kernelMemory';

const [W, H] = [120, 80];
/** A room of white paint with some texture, a strongly coloured thing over part of it, under a light. */
function room(cast: Triple, thing: Triple, seed: number): Light {
  const next = seeded(seed);
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const isThing = x > 40 && x < 85 && y > 25 && y < 70;
    const v = (0.5 + 0.3 * (x / W)) * (1 + 0.02 * (next() - 0.5));
    light.r[i] = v * cast[0] * (isThing ? thing[0] : 1);
    light.g[i] = v * cast[1] * (isThing ? thing[1] : 1);
    light.b[i] = v * cast[2] * (isThing ? thing[2] : 1);
  }
  return light;
}
const area = (inside: (x: number, y: number) => boolean): Plane => {
  const plane = createPlane(W, H);
  for (let i = 0; i < W * H; i++) plane.data[i] = inside(i % W, Math.floor(i / W)) ? 1 : 0;
  return plane;
};
const casts: fc.Arbitrary<Triple> = fc.tuple(fc.double({ min: 0.75, max: 1.35, noNaN: true }), fc.double({ min: 0.7, max: 1.4, noNaN: true })).map(([r, b]) => [r, 1, b] as Triple);
const off = (gains: Triple, cast: Triple): number => Math.max(Math.abs(Math.log2((gains[0] * cast[0]) / (gains[1] * cast[1]))), Math.abs(Math.log2((gains[2] * cast[2]) / (gains[1] * cast[1]))));

describe('a cast', () => {
  test('of an area is its mean colour, whatever thing of a strong colour lies in it', () => {
    fc.assert(fc.property(casts, fc.constantFrom<Triple>([0.7, 0.12, 0.1], [0.1, 0.3, 0.75], [0.2, 0.5, 0.15]), fc.integer({ min: 1, max: 999 }), (cast, thing, seed) => {
      const gains = castOf(room(cast, thing, seed), area((x, y) => x > 20 && x < 110 && y < 75), null)!;
      expect(off(gains, cast)).toBeLessThan(0.08);
    }), { numRuns: 40 });
  });
  test('of the whole picture is told by its whites; the view outside is left out', () => {
    fc.assert(fc.property(casts, (cast) => {
      const light = room(cast, [0.7, 0.12, 0.1], 5);
      const window = area((x, y) => x < 30 && y < 60);
      window.data.forEach((inside, i) => { if (inside) [light.r[i], light.g[i], light.b[i]] = [0.5, 0.8, 1.6]; });
      expect(off(castOf(light, null, window)!, cast)).toBeLessThan(0.08);
    }), { numRuns: 20 });
  });
  test('taken away leaves a grey as bright as it was; of nothing it is not told', () => {
    const [r, g, b] = castOf(room([1.2, 1, 0.8], [0.2, 0.5, 0.15], 3), area(() => true), null)!;
    expect(0.2627 * r + 0.678 * g + 0.0593 * b).toBeCloseTo(1, 6);
    expect(castOf(room([1, 1, 1], [1, 1, 1], 3), area(() => false), null)).toBeNull();
    expect(castOf(createLight(W, H), area(() => true), null)).toBeNull();
  });
});
