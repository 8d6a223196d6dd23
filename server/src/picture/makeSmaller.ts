import { shrinkFrom, shrinkScratch } from '@zaddle/core/image/shrink';
import type { Pixels } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import { newKernels } from './kernels';

let shrinker: ReturnType<typeof newKernels> | null = null;

/** A smaller picture of 8-bit pixels, by area means. One kernel memory serves all calls: it does not yield in between. */
export function makeSmaller(pixels: Pixels, width: number, height: number): Pixels {
  const bytes = shrinkScratch(pixels.width) + 65536;
  if (!shrinker || shrinker.memory.buffer.byteLength < bytes) shrinker = newKernels(bytes);
  return shrinkFrom(shrinker, new Arena(shrinker.memory.buffer), pixels, width, height);
}
