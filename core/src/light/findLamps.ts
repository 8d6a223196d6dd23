import { createPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';
import { labelRegions, type Region } from '../window/labelRegions';

/** Light in white of the reference from which on a place glows by itself. */
const GLOWS = 1.15;
/** Shares of the picture between which a lamp lies. */
const SMALLEST = 0.00006;
const LARGEST = 0.02;
/** Encoded value of the brightest channel from which on a pixel counts as clipped. */
const CLIPPED = 0.96;
/** Share of blue against green that daylight has and lamps have not. */
const BLUE = 0.82;

/**
 * Lit lamps: small places that are brighter than white by themselves, whatever light falls on them, and not blue as what
 * mirrors the day is.
 * @param ambient frames by the room's own light. @param own what each place gives off by itself (`ownRadiance`); @param glass the view outside, 0..1.
 * @returns regions of the guide, the largest first.
 */
export function findLamps(guides: GuideSet, own: Plane, glass: Plane, ambient: readonly FrameId[]): Region[] {
  const tops = ambient.map((id) => guides.frames.get(id)!.top.data);
  const { width, height, merge } = guides;
  const glows = createPlane(width, height);
  for (let i = 0; i < glows.data.length; i++) {
    // The merge may be clipped there, flash frames may have been taken with the lamps off.
    if (Math.max(merge.g[i], own.data[i] || 0) > GLOWS && glass.data[i] < 0.2) glows.data[i] = 1;
  }
  return labelRegions(glows).filter(({ pixels }) => {
    const share = pixels.length / glows.data.length;
    if (share < SMALLEST || share > LARGEST) return false;
    // Clipped in every frame has no colour; what mirrors the day is seldom that bright.
    const white = pixels.filter((i) => tops.every((top) => top[i] > CLIPPED)).length > pixels.length / 2;
    return (white && ambient.length > 1) || quantile(pixels.map((i) => merge.b[i] / Math.max(1e-4, merge.g[i])), 0.5) < BLUE;
  }).sort((a, b) => b.pixels.length - a.pixels.length);
}

/** Share of the lamps that keeps its shape in a frame: neither clipped nor outside of it. */
export function lampsIntact(guides: GuideSet, lamps: readonly Region[], frame: FrameId): number {
  const { top, cover } = guides.frames.get(frame)!;
  let [intact, all] = [0, 0];
  for (const { pixels } of lamps) {
    for (const i of pixels) {
      all++;
      if (cover.data[i] === 1 && top.data[i] < CLIPPED) intact++;
    }
  }
  return all === 0 ? 1 : intact / all;
}
