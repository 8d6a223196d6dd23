import { quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { Region } from './labelRegions';
import { CLIPPED } from './ownRadiance';

/** Share of the picture up to which a bright region may be a lamp. */
const SMALL = 0.012;
/** How much warmer than the largest view, as a ratio of red over blue, and how much brighter than any other a lamp is: warm walls outside are no brighter than the sky. */
const WARMER = 1.25;
const BRIGHTER = 1.3;
/** Share of a region that a frame has unclipped to tell of its colour. */
const TELLS = 0.5;

/** Red over blue of a region, in the middle of the frames that show it unclipped; NaN where none does. */
function warmthOf({ pixels }: Region, guides: GuideSet): number {
  const told = [...guides.frames.values()].flatMap(({ light, top, cover }) => {
    const seen = pixels.filter((i) => top.data[i] <= CLIPPED && cover.data[i] > 0);
    return seen.length > TELLS * pixels.length ? [quantile(seen.map((i) => light.r[i] / Math.max(1e-4, light.b[i])), 0.5)] : [];
  });
  return quantile(told, 0.5);
}

/** Regions that look like a view, without shades of lamps that no flash outshines: small, warmer than the view and brighter than all of it. */
export function withoutLamps(regions: readonly Region[], guides: GuideSet, radiance: Plane): Region[] {
  const level = new Map(regions.map((region) => [region, quantile(region.pixels.map((i) => radiance.data[i]), 0.5)]));
  const largest = regions.reduce<Region | null>((best, region) => (best && best.pixels.length >= region.pixels.length ? best : region), null);
  return regions.filter((region) => {
    if (region === largest || region.pixels.length > SMALL * radiance.data.length) return true;
    const brightest = Math.max(...regions.filter((other) => other !== region && other.pixels.length >= region.pixels.length).map((other) => level.get(other)!));
    return !(level.get(region)! > BRIGHTER * brightest && warmthOf(region, guides) > WARMER * warmthOf(largest!, guides));
  });
}
