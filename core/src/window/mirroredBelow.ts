import type { Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { Region } from './labelRegions';
import { rimOf, rimStep } from './regionRim';

/** Rows between a view and what mirrors it, in its height, and by how much that may be wider or narrower, in its width. */
const APART = 0.15;
const ASIDE = 0.15;
/** Least of a view that is mirrored, as a share of it. */
const LEAST = 0.25;
/** Stops of brightness with which what a floor mirrors ends at most, away from the view: gloss is never quite smooth. */
const FADES = 0.15;
/** Sides of a rim as `rimOf` has them: the lower one. */
const LOWER = 3;

/**
 * Whether a region is what a glossy floor, or a table, mirrors of a view: no flash lifts it either, but it lies right under the view, is as wide, and fades
 * away from it, where a pane would end.
 * @param known, outside as `rimStep` takes them
 */
export function mirroredBelow(region: Region, view: Region, guides: GuideSet, known: Uint8Array, outside: Plane): boolean {
  const [width, height] = [view.right - view.left + 1, view.bottom - view.top + 1];
  if (region.top < view.bottom - APART * height || region.top > view.bottom + APART * height || region.pixels.length < LEAST * view.pixels.length) return false;
  if (Math.abs(region.left - view.left) > ASIDE * width || Math.abs(region.right - view.right) > ASIDE * width) return false;
  const lower = rimOf(region, guides.width, guides.height).sides[LOWER];
  return rimStep({ sides: [lower] }, guides, known, outside) < FADES;
}
