import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { toneCurve } from '../src/finish/toneCurve';
import { createLight, createPlane, mapPlane } from '../src/image/plane';
import { viewQuality } from '../src/propose/guessRoles';
import { viewExposure } from '../src/propose/chooseView';

const tones = fc.record({ median: fc.double({ min: 0.02, max: 0.9, noNaN: true }), times: fc.double({ min: 1.4, max: 6, noNaN: true }) }).map(({ median, times }) => ({ median, high: Math.min(2, median * times) }));

describe('the exposure of a view', () => {
  test('puts its middle tones where they are readable, and keeps its brightest below white', () => {
    fc.assert(fc.property(tones, ({ median, high }) => {
      const shown = (v: number): number => toneCurve(v * 2 ** viewExposure({ usable: 1, median, high }));
      expect(shown(median)).toBeLessThan(0.621);
      expect(shown(high)).toBeLessThan(0.931);
      expect(Math.max(shown(median) / 0.62, shown(high) / 0.93)).toBeCloseTo(1, 3);
    }));
  });
  test('shows nothing but sky as bright as day, and goes over to that without a jump', () => {
    const shown = (times: number): number => toneCurve(0.3 * 2 ** viewExposure({ usable: 1, median: 0.3, high: 0.3 * times }));
    expect(shown(1)).toBeCloseTo(0.8, 3);
    for (let times = 1; times < 1.5; times += 0.01) expect(Math.abs(shown(times + 0.01) - shown(times))).toBeLessThan(0.02);
  });
  test('leaves a sky bright that no frame has: white shows no darker than a light grey', () => {
    fc.assert(fc.property(tones, fc.double({ min: 0, max: 0.91, noNaN: true }), ({ median }, usable) => {
      expect(toneCurve(2 ** viewExposure({ usable, median, high: 1 }))).toBeGreaterThan(0.799);
    }));
  });
  test('is the same whether the glass mirrors a flash or not: neither its white nor its haze is a tone of the view', () => {
    const [width, height] = [40, 25];
    const own = mapPlane(createPlane(width, height), (_, i) => 0.1 + 0.4 * ((i * 37) % 101) / 100);
    const glass = Int32Array.from(own.data, (_, i) => i);
    /** A frame of it, with a share of the glass clipped by a flash and as much under its haze. */
    const frame = (mirrored: number) => {
      const light = createLight(width, height);
      const top = createPlane(width, height);
      for (let i = 0; i < own.data.length; i++) {
        const v = i < mirrored ? 1 : i < 2 * mirrored ? Math.min(0.95, own.data[i] + 0.5) : own.data[i];
        [light.r[i], light.g[i], light.b[i], top.data[i]] = [v, v, v, v < 1 ? 0.9 * v : 1];
      }
      return viewQuality({ light, top, cover: mapPlane(own, () => 1) }, glass, own, 0);
    };
    const [clear, mirrored] = [frame(0), frame(60)];
    expect([clear.usable, clear.glare, mirrored.usable, mirrored.glare]).toEqual([1, 0, 0.94, 0.06]);
    expect(Math.abs(mirrored.high - clear.high)).toBeLessThan(0.02);
    expect(Math.abs(viewExposure(mirrored) - viewExposure(clear))).toBeLessThan(0.15);
  });
});
