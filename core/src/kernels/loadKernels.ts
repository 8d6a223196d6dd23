import type { Kernels } from './kernels';

/** The memory type both Node and browsers give: growable is not used, shared between threads is. */
export type KernelMemory = WebAssembly.Memory;

/** Pages that the compiled kernels declare as their maximum; a memory may not declare more. */
const MAXIMUM_PAGES = 65536;
const PAGE = 65536;

/**
 * Shared memory for kernels, able to grow no further than asked: sized once, since page faults are dear.
 * @param bytes wanted size; rounded up to whole pages. At most 2 GiB, beyond which offsets turn negative in 32-bit arithmetic.
 * @throws RangeError when more than 2 GiB is asked for.
 */
export function createKernelMemory(bytes: number): KernelMemory {
  if (bytes > 2 ** 31) throw new RangeError(`Kernel memory of ${bytes} bytes is over 2 GiB: render in smaller parts.`);
  const pages = Math.max(16, Math.ceil(bytes / PAGE));
  return new WebAssembly.Memory({ initial: pages, maximum: Math.min(MAXIMUM_PAGES, pages), shared: true });
}

/** Instantiates the compiled kernels on a memory (one instance a thread, the memory may be shared). */
export function loadKernels(module: WebAssembly.Module, memory: KernelMemory): Kernels {
  const instance = new WebAssembly.Instance(module, { env: { memory, abort: () => { throw new Error('A kernel stopped.'); } } });
  return { ...(instance.exports as unknown as Omit<Kernels, 'memory'>), memory };
}
