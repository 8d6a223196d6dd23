import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Tools } from '@zaddle/core/kernels/tools';
import { Arena } from '@zaddle/core/kernels/arena';
import { createKernelMemory, loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Kernels } from '@zaddle/core/kernels/kernels';

let compiled: WebAssembly.Module | null = null;

/** The kernels, compiled once a process. @throws Error saying how to build them when they are missing. */
export function kernelModule(): WebAssembly.Module {
  try {
    return (compiled ??= new WebAssembly.Module(readFileSync(createRequire(import.meta.url).resolve('@zaddle/kernels/kernels.wasm'))));
  } catch (error) {
    throw new Error('The kernels are not built: run `npm run build:kernels`.', { cause: error });
  }
}

/** Kernels on a new memory of their own. */
export function newKernels(bytes: number): Kernels & { memory: KernelMemory } {
  const memory = createKernelMemory(bytes);
  return { ...loadKernels(kernelModule(), memory), memory };
}

/** Kernels with an arena over all of a new memory. */
export function newTools(bytes: number): Tools {
  const kernels = newKernels(bytes);
  return { kernels, arena: new Arena(kernels.memory.buffer) };
}
