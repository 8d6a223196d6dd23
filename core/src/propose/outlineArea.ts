import type { Area, OutlineNode } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { mapPlane, type Plane } from '../image/plane';
import { outlineRegions } from '../window/outlineRegions';
import { polygonArea } from '../window/polygonArea';

/** Most outlines of an area. */
const MOST = 6;

/**
 * The regions of a plane on the guide as an area with soft outlines, convex ones: of the largest, where there are many.
 * @param beyond how far outside of them the outlines lie, guide pixels; @param softness of the edge, longer sides
 */
export function outlineArea(id: string, join: Area['join'], plane: Plane, beyond: number, softness: number): Area {
  const about = mapPlane(boxBlur(plane, beyond), (v) => (v > 0 ? 1 : 0));
  const unit = Math.max(plane.width, plane.height);
  const inSides = (pixel: number): number => Math.round(((pixel + 0.5) / unit) * 1e5) / 1e5;
  const rings = outlineRegions(about, 1).filter((ring) => ring.length >= 3).sort((a, b) => polygonArea(b) - polygonArea(a)).slice(0, MOST).map((ring) => ring.map(([x, y]): OutlineNode => ({ at: [inSides(x), inSides(y)], before: null, after: null })));
  return { id, kind: 'outline', join, inverted: false, rings, softness };
}
