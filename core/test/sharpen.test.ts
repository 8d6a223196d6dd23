import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Sharpening } from '@zaddle/document';
import { gaussianWeights, placeSharpening, rowSharpener, sharpeningBytes, sharpens } from '../src/finish/sharpen';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { testKernels } from './kernelMemory';
import { seeded } from './kernelMemory';

const wasm = testKernels(2 << 20);
const twin = twinKernels(new ArrayBuffer(2 << 20));

const USUAL: Sharpening = { amount: 0.8, radius: 0.9, edges: 0.01, halo: 0.02 };

/** A picture of grey bytes, sharpened. */
function sharpened(kernels: Kernels, grey: (x: number, y: number) => number | readonly number[], w: number, h: number, sharpening: Sharpening, { step = 3, scale = 1, shows = 'picture' }: { step?: 3 | 4; scale?: number; shows?: 'picture' | 'edges' } = {}): Uint8Array {
  const arena = new Arena(kernels.memory.buffer);
  const at = arena.take(w * h * step);
  const bytes = new Uint8Array(kernels.memory.buffer, at, w * h * step);
  for (let i = 0; i < w * h; i++) {
    const v = grey(i % w, Math.floor(i / w));
    for (let c = 0; c < 3; c++) bytes[i * step + c] = typeof v === 'number' ? v : v[c];
  }
  const out = arena.take(w * h * step);
  const plan = placeSharpening(sharpening, scale, arena);
  const row = rowSharpener(kernels, plan, { at, out, width: w, height: h, step }, arena.take(sharpeningBytes(w, plan.radius)), shows);
  for (let y = 0; y < h; y++) row(y);
  return new Uint8Array(kernels.memory.buffer, out, w * h * step).slice();
}

const sharpenings: fc.Arbitrary<Sharpening> = fc.record({ amount: fc.double({ min: 0.05, max: 3, noNaN: true }), radius: fc.double({ min: 0.3, max: 3, noNaN: true }), edges: fc.double({ min: 0, max: 0.3, noNaN: true }), halo: fc.double({ min: 0, max: 0.2, noNaN: true }) });

describe('sharpening', () => {
  test('the kernel does what its plain twin does, in rows of three bytes and of four, in any order of strips', () => {
    fc.assert(fc.property(sharpenings, fc.integer({ min: 1, max: 50 }), fc.integer({ min: 1, max: 24 }), fc.constantFrom(3 as const, 4 as const), fc.constantFrom('picture' as const, 'edges' as const), fc.integer({ min: 1, max: 9999 }), (sharpening, w, h, step, shows, seed) => {
      const next = seeded(seed);
      const noise = Array.from({ length: w * h }, () => [0, 1, 2].map(() => Math.floor(256 * next())));
      const make = (kernels: Kernels): Uint8Array => sharpened(kernels, (x, y) => noise[y * w + x], w, h, sharpening, { step, shows });
      const [a, b] = [make(wasm), make(twin)];
      let worst = 0;
      for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
      expect(worst).toBeLessThanOrEqual(1);
    }), { numRuns: 40 });
  });
  test('an edge becomes steeper, and goes beyond what lies around by no more than the halo', () => {
    const edge = (x: number): number => Math.round(60 + 130 / (1 + Math.exp(-(x - 30) / 0.9)));
    for (const halo of [0, 0.02, 0.04]) {
      const out = sharpened(wasm, edge, 60, 9, { amount: 2, radius: 1.2, edges: 0.01, halo });
      const row = Array.from({ length: 60 }, (_, x) => out[(4 * 60 + x) * 3]);
      expect(Math.max(...row)).toBeLessThanOrEqual(190 + 255 * halo + 1);
      expect(Math.min(...row)).toBeGreaterThanOrEqual(60 - 255 * halo - 1);
      expect(row[31] - row[29]).toBeGreaterThan(1.15 * (edge(31) - edge(29)));
    }
  });
  test('what is no edge is left to the last bit: smooth tones, and noise up to the step that was set', () => {
    const ramp = sharpened(wasm, (x, y) => Math.round((x + y) / 4), 200, 20, USUAL);
    for (let y = 0; y < 20; y++) for (let x = 0; x < 200; x++) expect(ramp[(y * 200 + x) * 3]).toBe(Math.round((x + y) / 4));
    const next = seeded(3);
    const noise = Array.from({ length: 4000 }, () => 120 + Math.floor(5 * next()));
    const kept = sharpened(wasm, (x, y) => noise[y * 100 + x], 100, 40, { ...USUAL, edges: 0.02 });
    for (let i = 0; i < 4000; i++) expect(kept[i * 3]).toBe(noise[i]);
  });
  test('colour is not changed where brightness is: all components move alike', () => {
    const out = sharpened(wasm, (x) => (x < 20 ? [90, 60, 120] : [160, 130, 190]), 40, 7, { ...USUAL, halo: 0.1 });
    for (let x = 0; x < 40; x++) {
      const p = (3 * 40 + x) * 3;
      expect(out[p] - out[p + 1]).toBe(30);
      expect(out[p + 2] - out[p]).toBe(30);
    }
  });
  test('weights are those of a Gaussian; where nothing of the radius shows, nothing is done', () => {
    fc.assert(fc.property(fc.double({ min: 0.25, max: 3, noNaN: true }), (sigma) => {
      const w = gaussianWeights(sigma);
      expect(2 * w.reduce((a, b) => a + b, 0) - w[0]).toBeCloseTo(1, 5);
      for (let k = 1; k < w.length; k++) expect(w[k]).toBeLessThan(w[k - 1]);
    }));
    expect([sharpens(USUAL, 1), sharpens(USUAL, 0.2), sharpens(null, 1), sharpens({ ...USUAL, amount: 0 }, 1)]).toEqual([true, false, false, false]);
  });
  test('edges are shown in grey: white where they count, black where nothing is', () => {
    const out = sharpened(wasm, (x) => (x < 20 ? 60 : 190), 40, 7, USUAL, { shows: 'edges' });
    expect(out[(3 * 40 + 20) * 3]).toBe(255);
    expect(out[(3 * 40 + 5) * 3]).toBe(0);
  });
});
