import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { HueBand } from '@zaddle/document';
import { conesToWorking, oklab, workingToCones } from '../src/colour/oklab';
import type { Triple } from '../src/colour/primaries';
import { BAND_STEPS, changesHues, hueTable, withinBand } from '../src/finish/hueBands';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { testKernels } from './kernelMemory';

const wasm = testKernels(1 << 20);
const twin = twinKernels(new ArrayBuffer(1 << 20));
const hueOf = (light: Triple): number => ((Math.atan2(oklab(light)[2], oklab(light)[1]) * 180) / Math.PI + 360) % 360;
const chromaOf = (light: Triple): number => Math.hypot(oklab(light)[1], oklab(light)[2]);
const off = (a: number, b: number): number => Math.abs(((a - b + 540) % 360) - 180);
const NEUTRAL = { shift: 0, chroma: 1, lightness: 0 };

/** Colours after bands, with a mask of 1. */
function banded(kernels: Kernels, colours: readonly Triple[], bands: readonly HueBand[], muted = 0, mask = 1): Triple[] {
  const n = colours.length;
  const plane = 4 * (n + 16);
  const arena = new Arena(kernels.memory.buffer);
  const light = arena.take(3 * plane);
  for (let c = 0; c < 3; c++) arena.floats(light + c * plane, n).set(colours.map((each) => each[c]));
  kernels.bandsRow(light, plane, n, arena.placeFloats(new Float32Array(n + 8).fill(mask)), arena.placeFloats(workingToCones()), arena.placeFloats(conesToWorking()), arena.placeFloats(hueTable(bands)), BAND_STEPS, muted);
  return colours.map((_, i) => [0, 1, 2].map((c) => arena.floats(light + c * plane, n)[i]) as unknown as Triple);
}

const colour: fc.Arbitrary<Triple> = fc.tuple(fc.double({ min: 0.01, max: 1, noNaN: true }), fc.double({ min: 0.01, max: 1, noNaN: true }), fc.double({ min: 0.01, max: 1, noNaN: true })).map((c) => c as Triple);
const band: fc.Arbitrary<HueBand> = fc.record({ hue: fc.double({ min: 0, max: 360, noNaN: true }), width: fc.double({ min: 5, max: 60, noNaN: true }), softness: fc.double({ min: 5, max: 60, noNaN: true }), shift: fc.double({ min: -40, max: 40, noNaN: true }), chroma: fc.double({ min: 0, max: 2, noNaN: true }), lightness: fc.double({ min: -0.4, max: 0.4, noNaN: true }) });
const COLOURS: readonly Triple[] = Array.from({ length: 64 }, (_, k) => [0.05 + 0.9 * ((k * 37) % 64) / 64, 0.05 + 0.9 * ((k * 11) % 64) / 64, 0.05 + 0.9 * (k / 64)]);

describe('bands of hues', () => {
  test('the kernel does what its plain twin does, also beyond white and a little below nothing', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.double({ min: -0.02, max: 6, noNaN: true }), fc.double({ min: -0.02, max: 6, noNaN: true }), fc.double({ min: -0.02, max: 6, noNaN: true })), { minLength: 1, maxLength: 30 }), fc.array(band, { maxLength: 4 }), fc.double({ min: -1, max: 1.5, noNaN: true }), (colours, bands, muted) => {
      const [a, b] = [banded(wasm, colours, bands, muted), banded(twin, colours, bands, muted)];
      a.forEach((each, i) => each.forEach((v, c) => expect(Math.abs(v - b[i][c])).toBeLessThan(4e-3 * (1 + Math.abs(b[i][c])))));
    }), { numRuns: 60 });
  });
  test('neutral ones leave every colour to less than a 4096th; so does a mask of nothing', () => {
    expect(changesHues([{ hue: 40, width: 30, softness: 10, ...NEUTRAL }])).toBe(false);
    const kept = banded(wasm, COLOURS, [{ hue: 40, width: 30, softness: 10, ...NEUTRAL }]);
    kept.forEach((each, i) => each.forEach((v, c) => expect(Math.abs(v - COLOURS[i][c])).toBeLessThan(1 / 4096)));
    expect(banded(wasm, COLOURS, [{ hue: 40, width: 90, softness: 10, shift: 30, chroma: 0, lightness: 0.2 }], 1, 0).map((each) => each.map((v) => Math.fround(v)))).toEqual(COLOURS.map((each) => each.map((v) => Math.fround(v))));
  });
  test('turn, calm and lighten what lies in the band, and leave alone what lies outside', () => {
    fc.assert(fc.property(colour, fc.double({ min: -30, max: 30, noNaN: true }), fc.double({ min: 0.3, max: 1.4, noNaN: true }), (light, shift, factor) => {
      fc.pre(chromaOf(light) > 0.03);
      const hue = hueOf(light);
      const [inside] = banded(wasm, [light], [{ hue, width: 25, softness: 10, shift, chroma: factor, lightness: 0 }]);
      if (Math.min(...inside) > 0.001) {
        expect(off(hueOf(inside), hue + shift)).toBeLessThan(1.5);
        expect(chromaOf(inside) / chromaOf(light)).toBeCloseTo(factor, 1);
        expect(Math.abs(oklab(inside)[0] - oklab(light)[0])).toBeLessThan(0.004);
      }
      const [outside] = banded(wasm, [light], [{ hue: (hue + 90) % 360, width: 25, softness: 10, shift, chroma: factor, lightness: 0.3 }]);
      outside.forEach((v, c) => expect(Math.abs(v - light[c])).toBeLessThan(1e-5));
      const [lighter] = banded(wasm, [light], [{ hue, width: 25, softness: 10, ...NEUTRAL, lightness: 0.1 }]);
      expect(oklab(lighter)[0]).toBeGreaterThan(oklab(light)[0] * 1.03);
    }), { numRuns: 60 });
  });
  test('greys stay greys as bright as they are, whatever bands do', () => {
    for (const v of [0.01, 0.18, 0.5, 1, 3]) {
      const [grey] = banded(wasm, [[v, v, v]], [{ hue: 0, width: 180, softness: 1, shift: 60, chroma: 2, lightness: 0.4 }], 1.5);
      grey.forEach((each) => expect(Math.abs(each / v - 1)).toBeLessThan(2e-3));
    }
  });
  test('muted colours grow, strong ones hardly, and none overtakes another', () => {
    // One hue, from grey to strong, at one lightness.
    const series = Array.from({ length: 20 }, (_, k): Triple => {
      const [l, a, b] = [0.6, 0.012 * k * Math.cos(1), 0.012 * k * Math.sin(1)];
      const cones = [l + 0.3963377774 * a + 0.2158037573 * b, l - 0.1055613458 * a - 0.0638541728 * b, l - 0.0894841775 * a - 1.291485548 * b].map((v) => v ** 3);
      return [0, 1, 2].map((r) => [0, 1, 2].reduce((sum, c) => sum + conesToWorking()[r * 3 + c] * cones[c], 0)) as unknown as Triple;
    });
    const before = series.map(chromaOf);
    const after = banded(wasm, series, [], 0.8).map(chromaOf);
    expect(after[3] / before[3]).toBeGreaterThan(1.5);
    expect(after[19] / before[19]).toBeLessThan(1.02);
    for (let k = 1; k < 20; k++) expect(after[k]).toBeGreaterThan(after[k - 1]);
  });
  test('a band ends softly, the same way round the circle', () => {
    const each = { hue: 350, width: 20, softness: 20 };
    expect([withinBand(each, 350), withinBand(each, 5), withinBand(each, 10), withinBand(each, 330), withinBand(each, 25)].map((v) => Math.round(v * 100) / 100)).toEqual([1, 0.84, 0.5, 0.5, 0]);
  });
});
