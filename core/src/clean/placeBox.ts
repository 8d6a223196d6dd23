import type { Area, Point } from '@zaddle/document';
import type { PlaceBox } from './lookAtPlace';

/** Points that a shape lies within, shares of the longer side; null for what is no shape. */
function pointsOf(area: Area): readonly Point[] | null {
  if (area.kind === 'outline') return area.rings.flatMap((ring) => ring.flatMap(({ at, before, after }) => [at, ...(before ? [before] : []), ...(after ? [after] : [])]));
  if (area.kind === 'box') return area.corners;
  if (area.kind !== 'spot') return null;
  const [x, y] = area.at;
  const reach = Math.hypot(area.rim[0] - x, area.rim[1] - y) * Math.max(1, area.ratio);
  return [[x - reach, y - reach], [x + reach, y + reach]];
}

/** The box that shapes lie within, reference pixels; null where one of the areas is no shape, or something is taken away or inverted, so that only its mask tells. @param full longer side of the reference */
export function placeBox(areas: readonly Area[], full: number): PlaceBox | null {
  const points: Point[] = [];
  for (const area of areas) {
    const own = area.join === 'add' && !area.inverted && !area.border ? pointsOf(area) : null;
    if (!own) return null;
    points.push(...own);
  }
  if (points.length === 0) return null;
  const [xs, ys] = [points.map(([x]) => x * full), points.map(([, y]) => y * full)];
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}
