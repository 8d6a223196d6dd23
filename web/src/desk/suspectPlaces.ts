import { cleanUpInsets } from '@zaddle/core/clean/cleanUpBundle';
import type { Reading } from '@zaddle/core/read/readings';
import type { Area, MixDocument, OutlineNode, Point } from '@zaddle/document';
import type { SearchedSpot } from '../store/deskSlice';

/** Places nearer to each other than this, in longer sides of the reference, are one. */
const SAME = 0.005;

/** Whether a point lies inside a ring (Shimrat, "Algorithm 112: position of point relative to polygon", 1962). */
function isInside([x, y]: Point, ring: readonly OutlineNode[]): boolean {
  let inside = false;
  for (let k = 0, j = ring.length - 1; k < ring.length; j = k++) {
    const [[ax, ay], [bx, by]] = [ring[k].at, ring[j].at];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

const middleOf = (points: readonly Point[]): Point => {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
};

/**
 * Places of a shot where frames disagree and that nobody has decided about: neither cleaned up nor let stay. Somebody or something first, then
 * mirrored flashes, in the order of the readings. @param stays places that may stay, in longer sides of the reference
 */
export function suspectPlaces(readings: readonly Reading[], mix: MixDocument, stays: readonly Point[]): SearchedSpot[] {
  const unit = Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);
  const cleaned = cleanUpInsets(mix.passes).flatMap(({ on, mask }) => (on ? mask.flatMap((area) => (area.kind === 'outline' ? area.rings : [])) : []));
  const spots: SearchedSpot[] = [];
  for (const { places, frame } of readings) {
    for (const place of places ?? []) {
      const points = place.map(([x, y]): Point => [Math.max(0, x / unit), Math.max(0, y / unit)]);
      const at = middleOf(points);
      const isNear = ([x, y]: Point): boolean => Math.hypot(x - at[0], y - at[1]) < SAME;
      if (cleaned.some((ring) => isInside(at, ring)) || stays.some(isNear) || spots.some((spot) => isNear(spot.at))) continue;
      const area: Area = { id: `suspect-${spots.length + 1}`, kind: 'outline', join: 'add', inverted: false, rings: [points.map((p) => ({ at: p, before: null, after: null }))], softness: 0 };
      spots.push({ areas: [area], at, found: { frame: frame ?? null } });
    }
  }
  return spots;
}
