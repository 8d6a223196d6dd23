import fc from 'fast-check';
import { expect, test } from 'vitest';
import { bendPositions, lensFactor } from '../src/geometry/lens';
import { closeMask } from '../src/image/closeMask';
import { createPlane, type Plane } from '../src/image/plane';
import { seeded } from './kernelMemory';

/** Dilation, then erosion, place by place. */
function plainly({ width, height, data }: Plane, radius: number): number[] {
  const about = (from: ArrayLike<number>, i: number): number[] => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const values: number[] = [];
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++) for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) values.push(from[v * width + u]);
    return values;
  };
  const grown = Array.from(data, (_, i) => (about(data, i).some((v) => v > 0) ? 1 : 0));
  return grown.map((_, i) => (about(grown, i).every((v) => v === 1) ? 1 : 0));
}

test('closing a mask is what dilation and erosion say, place by place', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 31 }), fc.integer({ min: 1, max: 23 }), fc.integer({ min: 0, max: 6 }), fc.constantFrom(0.02, 0.2, 0.6, 0.97), (seed, w, h, radius, share) => {
    const next = seeded(seed);
    const mask = createPlane(w, h, Float32Array.from({ length: w * h }, () => (next() < share ? 0.3 + next() : 0)));
    expect([...closeMask(mask, radius).data]).toEqual(plainly(mask, radius));
  }), { numRuns: 120 });
});

test('closing fills gaps up to twice the radius, keeps what is apart, and closing again changes nothing', () => {
  const mask = createPlane(60, 20);
  for (let y = 5; y < 15; y++) for (const [from, to] of [[5, 20], [24, 36], [48, 55]]) mask.data.fill(1, y * 60 + from, y * 60 + to);
  const once = closeMask(mask, 2);
  expect(once.data[10 * 60 + 22]).toBe(1);
  expect(once.data[10 * 60 + 42]).toBe(0);
  expect(once.data.reduce((sum, v) => sum + v, 0)).toBe(10 * (15 + 4 + 12 + 7));
  expect(closeMask(once, 2).data).toEqual(once.data);
});

test('positions bent by the table lie within a thousandth of a pixel of where the lens says, at 60 megapixels', () => {
  const [cx, cy] = [4499.5, 2999.5];
  const half = (9000 ** 2 + 6000 ** 2) / 4;
  const term = fc.double({ min: -0.06, max: 0.06, noNaN: true });
  fc.assert(fc.property(term, fc.double({ min: -0.01, max: 0.01, noNaN: true }), fc.constantFrom(0, 4e-4, -4e-4), fc.integer({ min: 1, max: 1e6 }), (k1, k2, fringe, seed) => {
    const next = seeded(seed);
    // Also outside, where a frame that was moved is asked.
    const positions = Float64Array.from({ length: 80 }, (_, i) => (i % 2 ? -300 + 6600 * next() : -450 + 9900 * next()));
    const bent = positions.slice();
    bendPositions(bent, 40, { k1, k2 }, cx, cy, half, fringe);
    for (let i = 0; i < 40; i++) {
      const [dx, dy] = [positions[2 * i] - cx, positions[2 * i + 1] - cy];
      const s = lensFactor({ k1, k2 }, (dx * dx + dy * dy) / half, fringe);
      expect(Math.hypot(bent[2 * i] - cx - dx * s, bent[2 * i + 1] - cy - dy * s)).toBeLessThan(1e-3);
    }
  }), { numRuns: 60 });
});
