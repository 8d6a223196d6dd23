import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { testKernels } from './kernelMemory';

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
