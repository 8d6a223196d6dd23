import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Tools } from '../src/kernels/tools';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { createKernelMemory, loadKernels, type KernelMemory } from '../src/kernels/loadKernels';

const module = new WebAssembly.Module(readFileSync(fileURLToPath(new URL('../../kernels/build/kernels.wasm', import.meta.url))));

/** Compiled kernels on a memory of their own. */
export function testKernels(bytes: number): Kernels & { memory: KernelMemory } {
  const memory = createKernelMemory(bytes);
  return { ...loadKernels(module, memory), memory };
}

/** Compiled kernels with an arena over all of their memory. */
export function testTools(bytes: number): Tools {
  const kernels = testKernels(bytes);
  return { kernels, arena: new Arena(kernels.memory.buffer) };
}

/** Numbers in 0..1 from a seed. */
export function seeded(seed: number): () => number {
  let state = (seed * 7919 + 31) % 2147483647;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}
