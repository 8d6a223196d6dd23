import { createKernelMemory, type KernelMemory } from '@zaddle/core/kernels/loadKernels';

/** Sizes that memories come in, bytes: the next larger than what is asked for. What is not used of one is only promised. */
const SIZES = [2 ** 26, 2 ** 28, 2 ** 31];
/** Memories of each size that are kept for the next. */
const KEPT = 1;

const free = new Map<number, KernelMemory[]>();

/**
 * A kernel memory that is given back. What threads share is not seen by the garbage collector of any of them as what it takes: memories
 * that are made anew for each picture pile up by the gigabyte. What was in one that is lent again is still there.
 * @throws RangeError over 2 GiB.
 */
export function lendMemory(bytes: number): KernelMemory {
  const size = SIZES.find((each) => each >= bytes) ?? bytes;
  return free.get(size)?.pop() ?? createKernelMemory(size);
}

/** Takes a lent memory back: nobody may look at it any more. */
export function giveBack(memory: KernelMemory): void {
  const size = memory.buffer.byteLength;
  const kept = free.get(size) ?? [];
  if (!kept.includes(memory) && kept.length < KEPT) free.set(size, [...kept, memory]);
}
