import { traceOutline } from '../clean/traceOutline';
import { distanceFrom } from '../image/distance';
import { cutPlane, partWhere } from '../image/nearMask';
import { createPlane, mapPlane } from '../image/plane';

type Point = readonly [number, number];

/** Places of a reading that are told one by one: the largest. */
const MOST = 6;
/** Half-guide pixels by which they are grown, and that their outlines may lie off. */
const GROWN = 2;
const TOLERANCE = 1;

/**
 * Outlines of places that were found at half the guide's size, a little grown; of one that falls apart, or has holes, the outermost.
 * @param places pixels, row by row, the largest first; @param scale reference pixels to a guide pixel. @returns points in reference pixels
 */
export function placeOutlines(places: readonly (readonly number[])[], guide: { readonly width: number; readonly height: number }, scale: number): Point[][] {
  const [width, height] = [guide.width >> 1, guide.height >> 1];
  return places.slice(0, MOST).flatMap((pixels) => {
    const found = createPlane(width, height);
    for (const i of pixels) found.data[i] = 1;
    const part = partWhere(found, (v) => v > 0, GROWN + 1);
    if (!part) return [];
    const rings = traceOutline(mapPlane(distanceFrom(cutPlane(found, part)), (v) => (v <= GROWN ? 1 : 0)), TOLERANCE);
    const longest = rings.reduce<Point[]>((most, ring) => (ring.length > most.length ? ring : most), []);
    const toReference = (v: number): number => Math.round((2 * v + 1) * scale * 10) / 10;
    return longest.length < 3 ? [] : [longest.map(([x, y]): Point => [toReference(part.left + x), toReference(part.top + y)])];
  });
}
