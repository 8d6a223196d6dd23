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

/** What regions span together. */
const spanOf = (regions: readonly Region[]): Box => ({
  left: Math.min(...regions.map(({ left }) => left)), right: Math.max(...regions.map(({ right }) => right)),
  top: Math.min(...regions.map(({ top }) => top)), bottom: Math.max(...regions.map(({ bottom }) => bottom)),
});
type Box = Pick<Region, 'left' | 'right' | 'top' | 'bottom'>;

/** Whether a region lies right under a view and is about as wide. @param size pixels of the view */
function isUnder(region: Region, view: Box, size: number): boolean {
  const [width, height] = [view.right - view.left + 1, view.bottom - view.top + 1];
  if (region.top < view.bottom - APART * height || region.top > view.bottom + APART * height || region.pixels.length < LEAST * size) return false;
  return Math.abs(region.left - view.left) <= ASIDE * width && Math.abs(region.right - view.right) <= ASIDE * width;
}

/**
 * Whether a region is what a glossy floor, or a table, mirrors of a view: no flash lifts it either, but it lies right under the view, is as wide, and fades
 * away from it, where a pane would end.
 * @param views regions that look like a view: each may be the one that is mirrored, and so may all that lie above, which bars part
 * @param known, outside as `rimStep` takes them
 */
export function mirroredBelow(region: Region, views: readonly Region[], guides: GuideSet, known: Uint8Array, outside: Plane): boolean {
  const above = views.filter((view) => view.top < region.top && view.bottom < region.top + APART * (view.bottom - view.top + 1));
  if (above.length === 0) return false;
  const all = spanOf(above);
  if (!isUnder(region, all, (all.right - all.left + 1) * (all.bottom - all.top + 1)) && !above.some((view) => isUnder(region, view, view.pixels.length))) return false;
  const lower = rimOf(region, guides.width, guides.height).sides[LOWER];
  return rimStep({ sides: [lower] }, guides, known, outside) < FADES;
}
