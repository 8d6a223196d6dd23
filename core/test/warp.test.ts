import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { coordCount } from '../src/geometry/composedMap';
import { Arena } from '../src/kernels/arena';
import { catmullRom, cubicPhases } from '../src/kernels/cubicPhases';
import { both, floats, wasm } from './bothKernels';
import { seeded } from './kernelMemory';

const seeds = fc.integer({ min: 1, max: 1_000_000 });
const lengths = fc.integer({ min: 1, max: 200 });
const runs = { numRuns: 40 };

describe('cubic phases', () => {
  test('weights of every phase sum to one and reproduce straight lines', () => {
    const table = cubicPhases();
    for (let p = 0; p < 128; p++) {
      const vertical = table.subarray(p * 8, p * 8 + 4);
      expect(vertical.reduce((s, v) => s + v, 0)).toBe(128);
      expect(table.subarray(p * 8 + 4, p * 8 + 8).reduce((s, v) => s + v, 0)).toBe(16384);
      const t = p / 128;
      expect(catmullRom(t).reduce((s, w, k) => s + w * (k - 1), 0)).toBeCloseTo(t, 12);
    }
  });
});

describe.each(['warpRow8', 'warpRow16'] as const)('%s', (name) => {
  test('equals its twin to one code, inside, at borders and outside', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      const next = seeded(seed);
      const [w, h, plane] = [37, 23, 1024];
      let out = 0;
      let cover = 0;
      const { a, b } = both((arena) => {
        const deep = name === 'warpRow16';
        const values = Array.from({ length: w * h * 3 }, () => Math.floor(next() * (deep ? 65536 : 256)));
        const src = arena.placeBytes(deep ? new Uint8Array(Uint16Array.from(values).buffer) : Uint8Array.from(values));
        const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
        const coords = arena.take(coordCount(n) * 8);
        new Float64Array(arena.buffer, coords, coordCount(n)).forEach((_, i, all) => (all[i] = -4 + next() * (i % 2 ? h + 8 : w + 8)));
        out = arena.take(plane * 3);
        cover = arena.take(plane);
        return (k) => k[name](src, w, h, coords, n, phases, out, plane, cover);
      });
      for (let c = 0; c < 3; c++) {
        const [p, q] = [new Uint16Array(a, out + c * plane, n), new Uint16Array(b, out + c * plane, n)];
        for (let i = 0; i < n; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(1);
      }
      expect(floats(a, cover, n)).toEqual(floats(b, cover, n));
    }), runs);
  });

  test('equals its twin where a frame hardly moved, is turned, or is bent: whichever way a segment is filtered', () => {
    const tiny = fc.constantFrom(0, 1e-6, -3e-4, 0.01);
    fc.assert(fc.property(seeds, lengths, tiny, tiny, fc.double({ min: -3, max: 40, noNaN: true }), fc.double({ min: -1, max: 30, noNaN: true }), (seed, n, stretch, turn, x0, y0) => {
      const next = seeded(seed);
      const [w, h, plane] = [230, 33, 1024];
      let out = 0;
      let cover = 0;
      const { a, b } = both((arena) => {
        const deep = name === 'warpRow16';
        const values = Array.from({ length: w * h * 3 }, () => Math.floor(next() * (deep ? 65536 : 256)));
        const src = arena.placeBytes(deep ? new Uint8Array(Uint16Array.from(values).buffer) : Uint8Array.from(values));
        const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
        const coords = arena.take(coordCount(n) * 8);
        new Float64Array(arena.buffer, coords, coordCount(n)).forEach((_, i, all) => (all[i] = i % 2 ? y0 + turn * (i - 1) * 8 : x0 + (1 + stretch) * i * 8));
        out = arena.take(plane * 3);
        cover = arena.take(plane);
        return (k) => k[name](src, w, h, coords, n, phases, out, plane, cover);
      });
      for (let c = 0; c < 3; c++) {
        const [p, q] = [new Uint16Array(a, out + c * plane, n), new Uint16Array(b, out + c * plane, n)];
        for (let i = 0; i < n; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(name === 'warpRow8' ? 0 : 1);
      }
      expect(floats(a, cover, n)).toEqual(floats(b, cover, n));
    }), { numRuns: 200 });
  });

  test('an identity map gives the pixels back', () => {
    const [w, h] = [40, 8];
    const arena = new Arena(wasm.memory.buffer);
    const deep = name === 'warpRow16';
    const values = Array.from({ length: w * h * 3 }, (_, i) => (i * 37) % 256);
    const src = arena.placeBytes(deep ? new Uint8Array(Uint16Array.from(values, (v) => v * 257).buffer) : Uint8Array.from(values));
    const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
    const coords = arena.placeBytes(new Uint8Array(Float64Array.from([0, 3, 16, 3, 32, 3, 48, 3]).buffer));
    const out = arena.take(3 * 512);
    wasm[name](src, w, h, coords, w, phases, out, 512, arena.take(512));
    for (let x = 0; x < w; x++) for (let c = 0; c < 3; c++) expect(new Uint16Array(wasm.memory.buffer, out + c * 512, w)[x]).toBe(values[(3 * w + x) * 3 + c] * 16);
  });
});
