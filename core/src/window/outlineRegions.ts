import type { Point } from '@zaddle/document';
import type { Plane } from '../image/plane';
import { convexHull } from './convexHull';
import { labelRegions } from './labelRegions';

/** Drops hull points that lie within `tolerance` of the line through their neighbours. */
function simplify(points: readonly Point[], tolerance: number): Point[] {
  const out = [...points];
  for (let changed = true; changed && out.length > 4; ) {
    changed = false;
    for (let i = 0; i < out.length && out.length > 4; i++) {
      const a = out[(i + out.length - 1) % out.length];
      const b = out[(i + 1) % out.length];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      if (Math.abs((b[0] - a[0]) * (a[1] - out[i][1]) - (a[0] - out[i][0]) * (b[1] - a[1])) / length < tolerance) {
        out.splice(i--, 1);
        changed = true;
      }
    }
  }
  return out;
}

/** Outlines (convex) of the regions of a 0/1 guide plane, each point in guide pixels times `scale`. */
export function outlineRegions(plane: Plane, scale: number): Point[][] {
  return labelRegions(plane).map((region) => {
    const rim = region.pixels.filter((i) => {
      const x = i % plane.width;
      return x === 0 || x === plane.width - 1 || plane.data[i - 1] <= 0 || plane.data[i + 1] <= 0;
    });
    const points = rim.map((i): Point => [i % plane.width, Math.floor(i / plane.width)]);
    return simplify(convexHull(points), 1.5).map(([x, y]): Point => [(x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5]);
  });
}
