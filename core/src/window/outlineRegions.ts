import type { Plane } from '../image/plane';
import { labelRegions } from './labelRegions';

type Point = readonly [number, number];

/** Convex hull, counter-clockwise (Andrew's monotone chain, 1979). */
function hull(points: Point[]): Point[] {
  const sorted = points.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const turn = (o: Point, a: Point, b: Point): number => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const half = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const p of list) {
      while (out.length >= 2 && turn(out[out.length - 2], out[out.length - 1], p) <= 0) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}

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
    return simplify(hull(points), 1.5).map(([x, y]): Point => [(x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5]);
  });
}
