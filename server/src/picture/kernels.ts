import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
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
