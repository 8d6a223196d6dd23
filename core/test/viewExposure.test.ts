import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { toneCurve } from '../src/finish/toneCurve';
import { createLight, createPlane, mapPlane } from '../src/image/plane';
import { chooseView, chooseWindow, viewExposure } from '../src/propose/chooseView';
import { viewQuality, type ViewQuality } from '../src/propose/guessRoles';

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

describe('the frame that a view is taken from', () => {
  const seen = (stops: Readonly<Record<string, number>>) => ({ mix: { frames: Object.fromEntries(Object.entries(stops).map(([id, of]) => [id, { stops: of }])) } }) as unknown as Parameters<typeof chooseView>[0];
  const quality = (more: Partial<ViewQuality>): ViewQuality => ({ usable: 1, glare: 0, median: 0.3, high: 0.6, ...more });
  test('has all of it: what is clipped costs more than a frame that is darker, or mirrors a little', () => {
    const choose = (qualities: Readonly<Record<string, ViewQuality>>): string => chooseView(seen({ a: 0, b: -2 }), new Map(Object.entries(qualities))).frame;
    expect(choose({ a: quality({ usable: 0.9 }), b: quality({ median: 0.12, high: 0.3 }) })).toBe('b');
    expect(choose({ a: quality({ usable: 0.9 }), b: quality({ glare: 0.1 }) })).toBe('b');
    expect(choose({ a: quality({ glare: 0.1 }), b: quality({ glare: 0.2 }) })).toBe('a');
    expect(choose({ a: quality({}), b: quality({ median: 0.02, high: 0.05 }) })).toBe('a');
  });
  test('is said in words, darker or brighter than the reference', () => {
    const why = (stops: number, more: Partial<ViewQuality>): string => chooseView(seen({ a: stops }), new Map([['a', quality(more)]])).why;
    expect(why(-2.1, {})).toBe('the outside as this frame has it: 2.1 stops darker than the reference, 100 % of the glass unclipped, no flash mirrored in it');
    expect(why(1.5, { usable: 0.9 })).toContain('1.5 stops brighter than the reference, 90 % of the glass unclipped');
    expect(why(0.01, { glare: 0.1 })).toContain('as bright as the reference, 100 % of the glass unclipped, 10 % of it with light that is mirrored');
  });

  const stops = { a: -2, b: -3 };
  const window = (qualities: Readonly<Record<string, ViewQuality>>, all: Partial<ReturnType<typeof chooseView>> = {}) =>
    chooseWindow(seen(stops), new Map(Object.entries(qualities)), { frame: 'a', exposure: viewExposure(quality({})), quality: quality({}), why: '', ...all });
  test('is that of all windows, unless another one has this one clearly better, and why is said', () => {
    expect(window({ a: quality({ glare: 0.04 }), b: quality({}) }).frame).toBe('a');
    const mirrored = window({ a: quality({ glare: 0.1 }), b: quality({}) });
    expect([mirrored.frame, mirrored.why]).toEqual(['b', expect.stringContaining('from a frame of its own, since that of the other windows mirrors a flash here: 3.0 stops darker')]);
    expect(window({ a: quality({ usable: 0.9 }), b: quality({}) }).why).toContain('is clipped here');
    expect(window({ a: quality({ median: 0.01, high: 0.02 }), b: quality({}) }).why).toContain('has it worse exposed here');
    // As bright in the picture, whichever frame it comes from.
    expect(window({ a: quality({ glare: 0.2 }), b: quality({ median: 0.15, high: 0.3 }) }).exposure).toBeCloseTo(viewExposure(quality({})) + 1, 6);
  });
  test('is as bright as that of the others makes it, unless that is more than a stop from what is best here', () => {
    fc.assert(fc.property(fc.double({ min: -5, max: 3, noNaN: true }), (darker) => {
      const [median, high] = [0.3, 0.6].map((v) => v * 2 ** darker) as [number, number];
      const { exposure, why } = window({ a: quality({ median, high }), b: quality({ usable: 0.2 }) });
      const [alike, best] = [viewExposure(quality({})), viewExposure(quality({ median, high }))];
      expect(Math.abs(exposure - best)).toBeLessThan(1 + 1e-9);
      if (Math.abs(alike - best) <= 1) expect(exposure).toBe(alike);
      else expect(why).toContain(`${Math.abs(exposure - alike).toFixed(1)} stops ${exposure > alike ? 'brighter' : 'darker'} than the others would make it`);
    }));
  });
});
