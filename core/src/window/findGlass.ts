import { boxBlur } from '../image/boxBlur';
import { createPlane, luminance, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '../mix/mix';
import { labelRegions, type Region } from './labelRegions';

/** Frames that the search compares, with their exposure against the reference in stops. */
export type Exposures = Readonly<Record<FrameId, number>>;

const SEED_LEVEL = 0.75;
const GROW_LEVEL = 0.2;
/** Stops by which the frames may disagree about the brightness of a place outside. */
const AGREEMENT = 0.42;

/** What each guide pixel gives off, in white of the reference, and how far the frames that see it unclipped disagree, in stops. */
function radianceAndSpread(guides: GuideSet, exposures: Exposures): { radiance: Plane; spread: Plane } {
  const n = guides.width * guides.height;
  const low = new Float32Array(n).fill(Infinity);
  const high = new Float32Array(n).fill(0);
  const merged = luminance(guides.merge);
  for (const [id, guide] of guides.frames) {
    const scale = 2 ** -exposures[id];
    const y = boxBlur(luminance(guide.light), 1);
    for (let i = 0; i < n; i++) {
      if (guide.top.data[i] > 0.965 || guide.cover.data[i] === 0) continue;
      const value = y.data[i] * scale;
      // What is nearly black in a frame carries no evidence.
      if (y.data[i] < 0.004) continue;
      if (value < low[i]) low[i] = value;
      if (value > high[i]) high[i] = value;
    }
  }
  const radiance = createPlane(guides.width, guides.height);
  const spread = createPlane(guides.width, guides.height);
  for (let i = 0; i < n; i++) {
    const seen = high[i] > 0;
    radiance.data[i] = Math.max(merged.data[i], seen ? low[i] : 0);
    spread.data[i] = seen ? Math.log2(high[i] / low[i]) : 0;
  }
  return { radiance, spread };
}

/** A small and very warm region is a lamp, not a view. */
function isLamp(region: Region, guides: GuideSet): boolean {
  const warmth = region.pixels.map((i) => guides.merge.r[i] / Math.max(1e-4, guides.merge.b[i]));
  const share = region.pixels.length / (guides.width * guides.height);
  return share < 0.012 && quantile(warmth, 0.5) > 1.5;
}

/**
 * The view through glass on the guide grid, 1 inside and 0 outside: brighter than the room, and equally bright
 * against the exposure in all frames, since no flash reaches the outside.
 * @param exposures of all frames in `guides`; at least the ambient ones.
 */
export function findGlass(guides: GuideSet, exposures: Exposures): Plane {
  const { radiance, spread } = radianceAndSpread(guides, exposures);
  const calm = boxBlur(spread, 2);
  const candidate = createPlane(guides.width, guides.height);
  for (let i = 0; i < candidate.data.length; i++) {
    if (Math.min(spread.data[i], calm.data[i]) > AGREEMENT || radiance.data[i] < GROW_LEVEL) continue;
    candidate.data[i] = radiance.data[i] > SEED_LEVEL ? 2 : 1;
  }
  const out = createPlane(guides.width, guides.height);
  const least = 0.0012 * out.data.length;
  for (const region of labelRegions(candidate)) {
    const seeds = region.pixels.reduce((sum, i) => sum + (candidate.data[i] === 2 ? 1 : 0), 0);
    if (seeds < least || seeds < 0.25 * region.pixels.length || isLamp(region, guides)) continue;
    for (const i of region.pixels) out.data[i] = 1;
  }
  return out;
}
