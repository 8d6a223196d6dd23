import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { toneCurve } from '../src/finish/toneCurve';
import { viewExposure } from '../src/propose/viewPasses';

const tones = fc.record({ median: fc.double({ min: 0.02, max: 0.9, noNaN: true }), above: fc.double({ min: 0, max: 0.1, noNaN: true }) }).map(({ median, above }) => ({ median, high: Math.min(1, median + above) }));

describe('the exposure of a view', () => {
  test('puts its middle tones where they are readable, and keeps its brightest below white', () => {
    fc.assert(fc.property(tones, ({ median, high }) => {
      const shown = (v: number): number => toneCurve(v * 2 ** viewExposure({ usable: 1, median, high }));
      expect(shown(median)).toBeLessThan(0.451);
      expect(shown(high)).toBeLessThan(0.881);
      expect(Math.max(shown(median) / 0.45, shown(high) / 0.88)).toBeCloseTo(1, 3);
    }));
  });
  test('leaves a sky bright that no frame has: white shows no darker than a light grey', () => {
    fc.assert(fc.property(tones, fc.double({ min: 0, max: 0.91, noNaN: true }), ({ median }, usable) => {
      expect(toneCurve(2 ** viewExposure({ usable, median, high: 1 }))).toBeGreaterThan(0.799);
    }));
  });
});
