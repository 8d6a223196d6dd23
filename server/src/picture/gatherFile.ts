import { greyPyramid } from '@zaddle/core/align/structure';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { frameStats, type FrameStats } from '@zaddle/core/read/frameStats';
import { PROXY_SIDE, shrinkPixels, shrunkSize } from '@zaddle/core/image/shrink';
import type { Pixels, Plane } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import { decodeFrame, readFacts } from './decodeFrame';
import { newKernels } from './kernels';

/** What gathering keeps of a frame: facts, a proxy to line up and look at, and a small picture to sort by. */
export interface GatheredFrame {
  readonly facts: FrameFacts;
  readonly proxy: Pixels;
  readonly structure: Plane;
  readonly stats: FrameStats;
}

let shrinker: ReturnType<typeof newKernels> | null = null;

/** Proxy of decoded 8-bit pixels, by area means. One kernel memory serves all calls: it does not yield in between. */
export function makeProxy(pixels: Pixels): Pixels {
  const size = shrunkSize(pixels.width, pixels.height, PROXY_SIDE);
  if (size.width === pixels.width && size.height === pixels.height) return { ...size, data: Uint8Array.from(pixels.data) };
  const bytes = pixels.data.byteLength + 4_000_000;
  if (!shrinker || shrinker.memory.buffer.byteLength < bytes) shrinker = newKernels(bytes);
  const arena = new Arena(shrinker.memory.buffer);
  const at = arena.placeBytes(pixels.data as Uint8Array);
  return shrinkPixels(shrinker, arena, at, pixels.width, pixels.height, size.width, size.height);
}

/**
 * Reads one file of a card: its facts, one decode, and what follows from the pixels.
 * @throws RejectedFile with the reason for the person.
 */
export async function gatherFile(input: string | Buffer, id: string, name: string): Promise<GatheredFrame> {
  const facts = await readFacts(input, id, name);
  const proxy = makeProxy(await decodeFrame(input));
  return { facts, proxy, structure: greyPyramid(proxy).structure, stats: frameStats(proxy) };
}
