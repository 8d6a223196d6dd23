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

/** One row of a picture of chance, by the kernel and by its twin: codes of the three colours and covers, each from both. */
function bothWarped(name: 'warpRow8' | 'warpRow16', seed: number, n: number, w: number, h: number, position: (i: number, next: () => number) => number): { codes: [Uint16Array, Uint16Array][]; covers: [Float32Array, Float32Array] } {
  const next = seeded(seed);
  const plane = 1024;
  let out = 0;
  let cover = 0;
  const { a, b } = both((arena) => {
    const deep = name === 'warpRow16';
    const values = Array.from({ length: w * h * 3 }, () => Math.floor(next() * (deep ? 65536 : 256)));
    const src = arena.placeBytes(deep ? new Uint8Array(Uint16Array.from(values).buffer) : Uint8Array.from(values));
    const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
    const coords = arena.take(coordCount(n) * 8);
    new Float64Array(arena.buffer, coords, coordCount(n)).forEach((_, i, all) => (all[i] = position(i, next)));
    out = arena.take(plane * 3);
    cover = arena.take(plane);
    return (k) => k[name](src, w, h, coords, n, phases, out, plane, cover);
  });
  return { codes: [0, 1, 2].map((c) => [new Uint16Array(a, out + c * plane, n), new Uint16Array(b, out + c * plane, n)]), covers: [floats(a, cover, n), floats(b, cover, n)] };
}

function expectWithin({ codes, covers }: ReturnType<typeof bothWarped>, most: number): void {
  for (const [p, q] of codes) for (let i = 0; i < p.length; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(most);
  expect(covers[0]).toEqual(covers[1]);
}

describe.each(['warpRow8', 'warpRow16'] as const)('%s', (name) => {
  test('equals its twin to one code, inside, at borders and outside', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => expectWithin(bothWarped(name, seed, n, 37, 23, (i, next) => -4 + next() * (i % 2 ? 31 : 45)), 1)), runs);
  });

  test('equals its twin where a frame hardly moved, is turned, or is bent: whichever way a segment is filtered', () => {
    const tiny = fc.constantFrom(0, 1e-6, -3e-4, 0.01);
    fc.assert(fc.property(seeds, lengths, tiny, tiny, fc.double({ min: -3, max: 40, noNaN: true }), fc.double({ min: -1, max: 30, noNaN: true }), (seed, n, stretch, turn, x0, y0) => {
      expectWithin(bothWarped(name, seed, n, 230, 33, (i) => (i % 2 ? y0 + turn * (i - 1) * 8 : x0 + (1 + stretch) * i * 8)), name === 'warpRow8' ? 0 : 1);
    }), { numRuns: 200 });
  });

  test('positions that are no numbers, or far away, leave the row uncovered', () => {
    for (const odd of [NaN, Infinity, -Infinity, 1e300]) {
      const { covers } = bothWarped(name, 5, 40, 37, 23, () => odd);
      expect(covers[0].every((v) => v === 0)).toBe(true);
    }
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
