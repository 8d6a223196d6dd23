import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { TonePoint } from '@zaddle/document';
import { oklab } from '../src/colour/oklab';
import { CURVE_FROM, CURVE_STEPS, toneChange, toneCurveTable } from '../src/finish/tonePoints';

const curves: fc.Arbitrary<TonePoint[]> = fc.uniqueArray(fc.integer({ min: -11, max: 6 }), { minLength: 1, maxLength: 8 }).chain((tones) => fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: tones.length, maxLength: tones.length }).map((by) => tones.sort((a, b) => a - b).map((at, k) => [at, by[k]] as const)));

describe('a curve of tones', () => {
  test('goes through its points, is level beyond them, and never swings beyond its neighbours', () => {
    fc.assert(fc.property(curves, fc.double({ min: -12, max: 7, noNaN: true }), (points, tone) => {
      for (const [at, by] of points) expect(toneChange(points, at)).toBeCloseTo(by, 9);
      expect(toneChange(points, points[0][0] - 1)).toBe(points[0][1]);
      expect(toneChange(points, points[points.length - 1][0] + 1)).toBe(points[points.length - 1][1]);
      const after = points.findIndex(([at]) => at >= tone);
      if (after > 0) {
        const [a, b] = [points[after - 1][1], points[after][1]];
        expect(toneChange(points, tone)).toBeGreaterThanOrEqual(Math.min(a, b) - 1e-9);
        expect(toneChange(points, tone)).toBeLessThanOrEqual(Math.max(a, b) + 1e-9);
      }
    }));
  });
  test('its table says the same', () => {
    const points: TonePoint[] = [[-6, 1], [-1, -0.4], [2, 0.3]];
    toneCurveTable(points).forEach((v, i) => expect(v).toBeCloseTo(toneChange(points, CURVE_FROM + i / CURVE_STEPS), 6));
  });
});

test('OKLab of white is 1 and has no colour; red lies at about 29 degrees', () => {
  const [l, a, b] = oklab([1, 1, 1]);
  expect([l, a, b].map((v) => Math.round(v * 1000) / 1000 + 0)).toEqual([1, 0, 0]);
  // sRGB red in the working space.
  const [, ra, rb] = oklab([0.627403896, 0.069097289, 0.016391439]);
  expect((Math.atan2(rb, ra) * 180) / Math.PI).toBeCloseTo(29.2, 0);
});
