import type { FrameId, Mix } from '@zaddle/document';
import { type Pixels } from '../image/plane';
import { shrinkPixels, shrunkSize } from '../image/shrink';
import type { Arena } from '../kernels/arena';
import type { Kernels } from '../kernels/kernels';
import { GUIDE_SIDE } from '../mix/guides';
import { type PlacedSource } from './placedMix';

/** Pixels of frames at the guide's scale, so that the one interpolation neither skips nor blurs. */
export function placeGuideSources(kernels: Kernels, arena: Arena, mix: Mix, proxies: ReadonlyMap<FrameId, Pixels>): Map<FrameId, PlacedSource> {
  const reference = mix.frames[mix.reference];
  const size = shrunkSize(reference.width, reference.height, GUIDE_SIDE);
  const factor = Math.max(reference.width, reference.height) / Math.max(size.width, size.height);
  const sources = new Map<FrameId, PlacedSource>();
  for (const [id, proxy] of proxies) {
    const use = mix.frames[id];
    if (!use) continue;
    const small = shrunkSize(proxy.width, proxy.height, (Math.max(use.width, use.height) / factor) * 1.0001);
    const at = arena.take(small.width * small.height * 3);
    const scratch = arena.mark();
    const pixels = shrinkPixels(kernels, arena, arena.placeBytes(proxy.data as Uint8Array), proxy.width, proxy.height, small.width, small.height);
    new Uint8Array(arena.buffer, at, small.width * small.height * 3).set(pixels.data as Uint8Array);
    arena.release(scratch);
    sources.set(id, { at, ...small, depth: 8, name: 'guide' });
  }
  return sources;
}
