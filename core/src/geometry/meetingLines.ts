import type { Point } from '@zaddle/document';

/** Sine of the angle below which two lines hardly meet. */
const PARALLEL = 0.05;

/** Where the line through a and b meets that through c and d; null where they hardly do. */
export function meetingLines(a: Point, b: Point, c: Point, d: Point): Point | null {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const cross = ux * vy - uy * vx;
  if (Math.abs(cross) < PARALLEL * Math.hypot(ux, uy) * Math.hypot(vx, vy)) return null;
  const t = ((c[0] - a[0]) * vy - (c[1] - a[1]) * vx) / cross;
  return [a[0] + t * ux, a[1] + t * uy];
}
