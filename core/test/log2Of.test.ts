import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { halve, unhalve } from '../src/image/halve';
import { log2Of, log2Plane } from '../src/image/log2Of';
import { createPlane } from '../src/image/plane';

describe('the logarithm by table', () => {
  it('is that of the language, for any brightness there can be', () => {
    fc.assert(fc.property(fc.double({ min: -100, max: 100, noNaN: true }), (stops) => {
      const v = Math.fround(2 ** stops);
      expect(Math.abs(log2Of(v) - Math.log2(v))).toBeLessThan(1e-7);
    }), { numRuns: 2000 });
  });

  it('grows with its number', () => {
    fc.assert(fc.property(fc.float({ min: Math.fround(1e-6), max: 1000, noNaN: true }), fc.float({ min: Math.fround(1e-6), max: 1000, noNaN: true }), (a, b) => {
      expect(Math.sign(log2Of(a) - log2Of(b))).toBe(Math.sign(a - b));
    }), { numRuns: 2000 });
  });

  it('goes no deeper over a plane than it is told, and keeps what is not known', () => {
    const { data } = log2Plane(createPlane(5, 1, Float32Array.of(0, -3, 0.25, 8, NaN)), 1 / 16);
    expect([...data]).toEqual([-4, -4, -2, 3, NaN]);
  });
});

describe('planes at half their size', () => {
  const sizes = fc.record({ width: fc.integer({ min: 1, max: 40 }), height: fc.integer({ min: 1, max: 40 }) });

  it('keep an even value, at odd sizes, too', () => {
    fc.assert(fc.property(sizes, fc.float({ min: -10, max: 10, noNaN: true }), ({ width, height }, v) => {
      const half = halve(createPlane(width, height, new Float32Array(width * height).fill(v)));
      expect([half.width, half.height]).toEqual([Math.ceil(width / 2), Math.ceil(height / 2)]);
      const back = unhalve(half, width, height);
      expect(back.data.length).toBe(width * height);
      for (const got of back.data) expect(Math.abs(got - v)).toBeLessThan(1e-5);
    }));
  });

  it('keep a ramp where it lies', () => {
    const [width, height] = [24, 18];
    const plane = createPlane(width, height, Float32Array.from({ length: width * height }, (_, i) => 3 * (i % width) - 2 * Math.floor(i / width)));
    const back = unhalve(halve(plane), width, height);
    for (let y = 2; y < height - 2; y++) for (let x = 2; x < width - 2; x++) expect(back.data[y * width + x]).toBeCloseTo(plane.data[y * width + x], 3);
  });
});
