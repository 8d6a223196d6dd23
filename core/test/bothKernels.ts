import fc from 'fast-check';
import { expect } from 'vitest';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { seeded, testKernels } from './kernelMemory';

const BYTES = 2 << 20;
export const wasm = testKernels(BYTES);

/** Runs the same call on the compiled kernels and on the twin, on equal memories, and gives both memories' floats and bytes. */
export function both(prepare: (arena: Arena) => (kernels: Kernels) => void): { a: ArrayBufferLike; b: ArrayBufferLike } {
  new Uint8Array(wasm.memory.buffer).fill(0);
  const call = prepare(new Arena(wasm.memory.buffer));
  const copy = new ArrayBuffer(BYTES);
  new Uint8Array(copy).set(new Uint8Array(wasm.memory.buffer, 0, BYTES));
  call(wasm);
  call(twinKernels(copy));
  return { a: wasm.memory.buffer, b: copy };
}

export const floats = (buffer: ArrayBufferLike, at: number, n: number): Float32Array => new Float32Array(buffer, at, n);

/** Whether numbers are the same to a share of what they are, beside 1. */
export function expectClose(a: Float32Array, b: Float32Array, tolerance: number): void {
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]) / (1 + Math.abs(b[i])));
  expect(worst).toBeLessThanOrEqual(tolerance);
}

export const seeds = fc.integer({ min: 1, max: 1_000_000 });
export const lengths = fc.integer({ min: 1, max: 200 });
export const runs = { numRuns: 40 };
/** Numbers from a seed. */
export const random = (seed: number, n: number, low = 0, high = 1): Float32Array => {
  const next = seeded(seed);
  return Float32Array.from({ length: n }, () => low + (high - low) * next());
};
