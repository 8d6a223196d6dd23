import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { NoiseReduction } from '@zaddle/document';
import { denoises, denoisingBytes, placeNoise, rowDenoiser } from '../src/finish/denoise';
import { measureGrain } from '../src/finish/measureGrain';
import { usualNoise } from '../src/finish/usualNoise';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { seeded, testKernels } from './kernelMemory';
import { factsOf } from './syntheticRoom';

const wasm = testKernels(8 << 20);
const twin = twinKernels(new ArrayBuffer(2 << 20));
const flat = (brightness: number, colour: number): NoiseReduction['grain'] => ({ brightness: Array.from({ length: 4 }, () => brightness), colour: Array.from({ length: 4 }, () => colour) });

type Colour = readonly [number, number, number];

/** A normal deviate (Box, Muller 1958). */
const normal = (next: () => number): number => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());

/** RGB bytes of a picture, with noise of so many bytes in each channel. */
function grainy(w: number, h: number, of: (x: number, y: number) => Colour, deviation: number, seed: number): Uint8Array {
  const next = seeded(seed);
  return Uint8Array.from({ length: w * h * 3 }, (_, i) => Math.max(0, Math.min(255, Math.round(of(Math.floor(i / 3) % w, Math.floor(i / 3 / w))[i % 3] + deviation * normal(next)))));
}

function calmed(kernels: Kernels, rgb: Uint8Array, w: number, h: number, noise: NoiseReduction, { step = 3, scale = 1 }: { step?: 3 | 4; scale?: number } = {}): Uint8Array {
  const arena = new Arena(kernels.memory.buffer);
  const at = arena.take(w * h * step);
  const bytes = new Uint8Array(kernels.memory.buffer, at, w * h * step);
  for (let i = 0; i < w * h; i++) for (let c = 0; c < 3; c++) bytes[i * step + c] = rgb[i * 3 + c];
  const out = arena.take(w * h * step);
  const plan = placeNoise(noise, scale, arena);
  const row = rowDenoiser(kernels, plan, { at, out, width: w, height: h, step }, arena.take(denoisingBytes(w, plan.spacing)));
  for (let y = 0; y < h; y++) row(y);
  const made = new Uint8Array(kernels.memory.buffer, out, w * h * step);
  return Uint8Array.from({ length: w * h * 3 }, (_, i) => made[Math.floor(i / 3) * step + (i % 3)]);
}

const luma = (rgb: ArrayLike<number>, i: number): number => 0.2126 * rgb[3 * i] + 0.7152 * rgb[3 * i + 1] + 0.0722 * rgb[3 * i + 2];
/** Deviation of brightness and of red against it from what is true, over the pixels of a part. */
function deviations(rgb: Uint8Array, truth: (x: number, y: number) => Colour, w: number, within: (x: number, y: number) => boolean): { brightness: number; colour: number } {
  let [n, b, c] = [0, 0, 0];
  for (let i = 0; i < rgb.length / 3; i++) {
    const [x, y] = [i % w, Math.floor(i / w)];
    if (!within(x, y)) continue;
    const t = truth(x, y);
    n++;
    b += (luma(rgb, i) - luma(t, 0)) ** 2;
    c += (rgb[3 * i] - luma(rgb, i) - (t[0] - luma(t, 0))) ** 2;
  }
  return { brightness: Math.sqrt(b / n), colour: Math.sqrt(c / n) };
}

const shares = fc.double({ min: 0, max: 1, noNaN: true });
const noises: fc.Arbitrary<NoiseReduction> = fc.record({ brightness: shares, colour: shares, grain: fc.record({ brightness: fc.array(fc.double({ min: 0, max: 0.1, noNaN: true }), { minLength: 4, maxLength: 4 }), colour: fc.array(fc.double({ min: 0, max: 0.1, noNaN: true }), { minLength: 4, maxLength: 4 }) }) });

describe('noise of a finished picture', () => {
  test('the kernel does what its plain twin does, in rows of three bytes and of four, at every zoom', () => {
    fc.assert(fc.property(noises, fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 16 }), fc.constantFrom(3 as const, 4 as const), fc.constantFrom(0.5, 1, 2, 3), fc.integer({ min: 1, max: 9999 }), (noise, w, h, step, scale, seed) => {
      const rgb = grainy(w, h, (x) => [90 + 3 * x, 120, 140 - 2 * x], 8, seed);
      const [a, b] = [calmed(wasm, rgb, w, h, noise, { step, scale }), calmed(twin, rgb, w, h, noise, { step, scale })];
      for (let i = 0; i < a.length; i++) expect(Math.abs(a[i] - b[i])).toBeLessThanOrEqual(1);
    }), { numRuns: 40 });
  });
  test('grain of plain surfaces falls to less than half; what stands out keeps its height, an edge its place', () => {
    const [w, h] = [160, 120];
    // Two surfaces, an edge between them, and a line of four times the grain.
    const truth = (x: number, y: number): Colour => (y === 60 && x < 70 ? [138, 128, 118] : x < 80 ? [118, 108, 98] : [190, 180, 170]);
    for (const grain of [2, 5]) {
      const line = (x: number, y: number): Colour => (y === 60 && x < 70 ? ([0, 1, 2].map((c) => truth(x, y)[c] - 20 + 4 * grain) as unknown as Colour) : truth(x, y));
      const rgb = grainy(w, h, line, grain, 11);
      const brightness = grain * Math.hypot(0.2126, 0.7152, 0.0722);
      const out = calmed(wasm, rgb, w, h, { brightness: 1, colour: 1, grain: flat(brightness / 255, grain / 255) });
      const plain = (x: number, y: number): boolean => Math.abs(y - 60) > 6 && Math.abs(x - 80) > 3;
      const [before, after] = [deviations(rgb, line, w, plain), deviations(out, line, w, plain)];
      expect(before.brightness).toBeGreaterThan(0.9 * brightness);
      expect(after.brightness).toBeLessThan(0.5 * before.brightness);
      expect(after.colour).toBeLessThan(0.5 * before.colour);
      const mean = (of: Uint8Array, x0: number, x1: number, y: number): number => Array.from({ length: x1 - x0 }, (_, k) => luma(of, y * w + x0 + k)).reduce((s, v) => s + v, 0) / (x1 - x0);
      const height = (of: Uint8Array): number => mean(of, 5, 65, 60) - 0.5 * (mean(of, 5, 65, 55) + mean(of, 5, 65, 65));
      expect(height(out)).toBeGreaterThan(0.9 * height(rgb));
      const step = (of: Uint8Array): number => [20, 90, 100].reduce((sum, y) => sum + luma(of, y * w + 81) - luma(of, y * w + 78), 0) / 3;
      expect(step(out)).toBeGreaterThan(0.93 * 72);
    }
  });
  test('a picture without grain is left as it is, and so is brightness where colour alone is calmed', () => {
    const clean = grainy(60, 40, (x, y) => [x + 60, 2 * y + 60, 90], 0, 1);
    const out = calmed(wasm, clean, 60, 40, { brightness: 1, colour: 1, grain: flat(0.0005, 0.0005) });
    for (let i = 0; i < clean.length; i++) expect(Math.abs(out[i] - clean[i])).toBeLessThanOrEqual(1);
    const rgb = grainy(60, 40, () => [130, 120, 110], 6, 4);
    const coloured = calmed(wasm, rgb, 60, 40, { brightness: 0, colour: 1, grain: flat(0.02, 0.02) });
    for (let i = 0; i < 60 * 40; i++) expect(Math.abs(luma(coloured, i) - luma(rgb, i))).toBeLessThanOrEqual(1);
    expect(coloured).not.toEqual(rgb);
  });
  test('shows as far as its scale lets it: a small picture has averaged it away', () => {
    const noise = { brightness: 0.5, colour: 0, grain: flat(0.006, 0.1) };
    expect([denoises(noise, 1), denoises(noise, 3), denoises(noise, 0.1), denoises({ ...noise, brightness: 0 }, 1), denoises(null, 1)]).toEqual([true, true, false, false, false]);
  });
});

describe('how grainy a picture is', () => {
  test('is told by its plain places, tone by tone, whatever else is in it', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.double({ min: 1, max: 9, noNaN: true }), (seed, deviation) => {
      const [w, h] = [400, 400];
      // Four tones with a rise; half of each is full of texture.
      const truth = (x: number, y: number): Colour => {
        const v = [32, 96, 160, 224][Math.floor(y / 100)] + 0.02 * x + (x > 200 ? 14 * Math.sin(x * 1.3) * Math.sin(y * 1.7) : 0);
        return [v + 3, v, v - 3];
      };
      const data = grainy(w, h, truth, deviation, seed);
      const grain = measureGrain({ width: w, height: h, data })!;
      // Rounding to bytes is noise, too.
      const brightness = Math.hypot(deviation, 0.29) * Math.hypot(0.2126, 0.7152, 0.0722);
      // Where white is near it is cut off, and places that clip do not count.
      for (const told of grain.brightness.slice(0, 3)) expect(Math.abs((255 * told) / brightness - 1)).toBeLessThan(0.15);
      const deep = measureGrain({ width: w, height: h, data: Uint16Array.from(data, (v) => v * 257) })!;
      deep.brightness.forEach((told, k) => expect(told).toBeCloseTo(grain.brightness[k], 6));
    }), { numRuns: 10 });
  });
  test('is not told where everything is clipped', () => {
    expect(measureGrain({ width: 200, height: 200, data: new Uint8Array(120_000).fill(255) })).toBeNull();
  });
  test('decides with how much a mix begins: nothing where nobody sees it; what the reference says goes before what others say', () => {
    const frame = (id: string, grain: NoiseReduction['grain'] | null) => ({ ...factsOf(id, 0, 0), grain });
    expect(usualNoise([frame('a', null)], 'a')).toBeNull();
    const clean = usualNoise([frame('a', flat(0.003, 0.002)), frame('b', flat(0.02, 0.02))], 'a')!;
    expect([clean.brightness, clean.colour, clean.grain.brightness[0]]).toEqual([0, 0, 0.003]);
    const coarse = usualNoise([frame('a', null), frame('b', flat(0.02, 0.005))], 'a')!;
    expect(coarse.brightness).toBeGreaterThan(0.4);
    expect(coarse.colour).toBeGreaterThan(0);
    expect(coarse.colour).toBeLessThan(0.5);
  });
});
