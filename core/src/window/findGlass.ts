import { boxBlur } from '../image/boxBlur';
import { createPlane, luminance, mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '../mix/mix';
import { labelRegions, type Region } from './labelRegions';

/** Frames that the search compares, with their exposure against the reference in stops. */
export type Exposures = Readonly<Record<FrameId, number>>;

const SEED_LEVEL = 0.75;
const GROW_LEVEL = 0.2;
/** Stops by which the frames may disagree about the brightness of a place outside. */
const AGREEMENT = 0.42;

/** How far values (sorted, n of them) disagree: their range for few, the middle half's for many, so that one glare spot does not count. */
function disagreement(values: Float64Array, n: number): number {
  if (n < 2) return 0;
  if (n < 4) return values[n - 1] - values[0];
  const at = (share: number): number => {
    const position = share * (n - 1);
    const low = Math.floor(position);
    return values[low] + (position - low) * (values[Math.min(n - 1, low + 1)] - values[low]);
  };
  return at(0.75) - at(0.25);
}

/** What each guide pixel gives off, in white of the reference, and how far the frames that see it unclipped disagree, in stops. */
function radianceAndSpread(guides: GuideSet, exposures: Exposures): { radiance: Plane; spread: Plane } {
  const n = guides.width * guides.height;
  const merged = luminance(guides.merge);
  const frames = [...guides.frames].map(([id, guide]) => ({ guide, stops: exposures[id], y: boxBlur(luminance(guide.light), 1) }));
  const radiance = createPlane(guides.width, guides.height);
  const spread = createPlane(guides.width, guides.height);
  const values = new Float64Array(frames.length);
  for (let i = 0; i < n; i++) {
    let count = 0;
    for (const { guide, stops, y } of frames) {
      // What is clipped or nearly black in a frame carries no evidence.
      if (guide.top.data[i] > 0.965 || guide.cover.data[i] === 0 || y.data[i] < 0.004) continue;
      values[count++] = Math.log2(y.data[i]) - stops;
    }
    values.subarray(0, count).sort();
    radiance.data[i] = Math.max(merged.data[i], count > 0 ? 2 ** values[0] : 0);
    // One witness is none, unless it is blinded by the light outside.
    spread.data[i] = count < 2 && radiance.data[i] < 0.9 ? Infinity : disagreement(values, count);
  }
  return { radiance, spread };
}

/** A small and very warm region is a lamp, not a view. */
function isLamp(region: Region, guides: GuideSet): boolean {
  const warmth = region.pixels.map((i) => guides.merge.r[i] / Math.max(1e-4, guides.merge.b[i]));
  const share = region.pixels.length / (guides.width * guides.height);
  return share < 0.012 && quantile(warmth, 0.5) > 1.5;
}

/** Morphological closing by a square: dilation, then erosion, by counting in windows. */
function close(plane: Plane, radius: number): Plane {
  const grown = mapPlane(boxBlur(plane, radius), (v) => (v > 1e-4 ? 1 : 0));
  return mapPlane(boxBlur(grown, radius), (v) => (v > 1 - 1e-4 ? 1 : 0));
}

/**
 * The view through glass on the guide grid, 1 inside and 0 outside: brighter than the room, and equally bright
 * against the exposure in all frames, since no flash reaches the outside.
 * @param exposures of all frames in `guides`; at least the ambient ones.
 */
export function findGlass(guides: GuideSet, exposures: Exposures): Plane {
  const { radiance, spread } = radianceAndSpread(guides, exposures);
  const calm = boxBlur(mapPlane(spread, (v) => Math.min(v, 4)), 2);
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
  return close(out, 3);
}
