import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { matteEdges } from '../src/mask/matteEdges';
import { labelRegions } from '../src/window/labelRegions';
import { outlineRegions } from '../src/window/outlineRegions';
import { seeded } from './kernelMemory';

const runs = { numRuns: 40, seed: 20261126, endOnFailure: true };
const seeds = fc.integer({ min: 1, max: 99_999 });
const size = fc.integer({ min: 1, max: 24 });

/** Random 0/1 pixels, a share of them 1. */
function speckle(seed: number, width: number, height: number, share: number): Plane {
  const next = seeded(seed);
  return createPlane(width, height, Float32Array.from({ length: width * height }, () => (next() < share ? 1 : 0)));
}

/** Random boxes of 1. */
function boxes(seed: number, width: number, height: number, count: number): Plane {
  const next = seeded(seed);
  const plane = createPlane(width, height);
  for (let k = 0; k < count; k++) {
    const [left, top, w, h] = [Math.floor(next() * (width - 8)), Math.floor(next() * (height - 8)), 4 + Math.floor(next() * 12), 4 + Math.floor(next() * 10)];
    for (let y = top; y < Math.min(height, top + h); y++) plane.data.fill(1, y * width + left, y * width + Math.min(width, left + w));
  }
  return plane;
}

describe('regions', () => {
  test('hold every pixel once, lie within their boxes, and do not touch', () => {
    fc.assert(fc.property(seeds, size, size, fc.double({ min: 0, max: 1, noNaN: true }), (seed, w, h, share) => {
      const plane = speckle(seed, w, h, share);
      const regions = labelRegions(plane);
      const owner = new Int32Array(w * h).fill(-1);
      regions.forEach(({ pixels, left, top, right, bottom }, k) => {
        const xs = pixels.map((i) => i % w);
        const ys = pixels.map((i) => Math.floor(i / w));
        expect([Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)]).toEqual([left, top, right, bottom]);
        for (const i of pixels) {
          expect(owner[i]).toBe(-1);
          owner[i] = k;
        }
      });
      for (let i = 0; i < w * h; i++) {
        expect(owner[i] >= 0).toBe(plane.data[i] > 0);
        if (i % w > 0 && owner[i] >= 0 && owner[i - 1] >= 0) expect(owner[i]).toBe(owner[i - 1]);
        if (i >= w && owner[i] >= 0 && owner[i - w] >= 0) expect(owner[i]).toBe(owner[i - w]);
      }
    }), runs);
  });
  test('have convex outlines that leave out no more than the tolerance', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: 1, max: 5 }), fc.double({ min: 0.5, max: 8, noNaN: true }), (seed, count, scale) => {
      const plane = boxes(seed, 60, 40, count);
      const outlines = outlineRegions(plane, scale);
      const regions = labelRegions(plane);
      expect(outlines).toHaveLength(regions.length);
      outlines.forEach((outline, k) => {
        expect(outline.length).toBeGreaterThanOrEqual(4);
        const corners = outline.map((p, i) => {
          const [a, b] = [outline[(i + 1) % outline.length], outline[(i + 2) % outline.length]];
          return (a[0] - p[0]) * (b[1] - a[1]) - (a[1] - p[1]) * (b[0] - a[0]);
        });
        for (const turn of corners) expect(turn).toBeGreaterThanOrEqual(-1e-6);
        for (const pixel of regions[k].pixels) {
          const [x, y] = [((pixel % 60) + 0.5) * scale - 0.5, (Math.floor(pixel / 60) + 0.5) * scale - 0.5];
          outline.forEach((p, i) => {
            const q = outline[(i + 1) % outline.length];
            const outside = -((q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0])) / Math.max(1e-9, Math.hypot(q[0] - p[0], q[1] - p[1]));
            expect(outside).toBeLessThan(3 * scale);
          });
        }
      });
    }), runs);
  });
});

describe('the edge of a found area', () => {
  /** A bright rectangle on dark, log luminance, with noise; the mask that was found of it is off by a pixel or two. */
  const scene = (seed: number, dx: number, dy: number): { guidance: Plane; truth: Plane; mask: Plane } => {
    const next = seeded(seed);
    const [w, h] = [80, 60];
    const inside = (x: number, y: number): number => (x >= 24 && x < 56 && y >= 18 && y < 42 ? 1 : 0);
    const make = (f: (x: number, y: number) => number): Plane => createPlane(w, h, Float32Array.from({ length: w * h }, (_, i) => f(i % w, Math.floor(i / w))));
    return { guidance: make((x, y) => 4 * inside(x, y) - 2 + 0.2 * (next() - 0.5)), truth: make(inside), mask: make((x, y) => inside(x - dx, y - dy)) };
  };
  test('goes to where the picture has it, however the finding is off', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: -1, max: 1 }), fc.integer({ min: -1, max: 1 }), (seed, dx, dy) => {
      const { guidance, truth, mask } = scene(seed, dx, dy);
      const { a, b } = matteEdges(guidance, mask);
      const matte = mapPlane(guidance, (g, i) => Math.min(1, Math.max(0, a.data[i] * g + b.data[i])));
      const off = matte.data.reduce((sum, v, i) => sum + Math.abs(v - truth.data[i]), 0);
      expect(off).toBeLessThan(0.35 * 2 * (32 + 24));
    }), runs);
  });
  test('leaves alone what is sure', () => {
    const { guidance, mask } = scene(3, 0, 0);
    const { a, b } = matteEdges(guidance, mask);
    for (const [x, y] of [[40, 30], [5, 5], [75, 50]]) expect(a.data[y * 80 + x] * guidance.data[y * 80 + x] + b.data[y * 80 + x]).toBe(mask.data[y * 80 + x]);
  });
});
