import type { TonePoint } from '@zaddle/document';

/** Where tables of tones begin and end, stops about middle grey, and how many of their values lie in a stop. */
export const CURVE_FROM = -12;
export const CURVE_TO = 7;
export const CURVE_STEPS = 16;

/** Slopes at the points by Fritsch and Carlson, "Monotone Piecewise Cubic Interpolation", 1980, with the harmonic mean of Butland: no swing beyond the points. */
function slopes(points: readonly TonePoint[]): number[] {
  const rise = points.slice(1).map(([x, y], k) => (y - points[k][1]) / (x - points[k][0]));
  return points.map((_, k) => {
    const [left, right] = [rise[k - 1] ?? 0, rise[k] ?? 0];
    return k === 0 || k === points.length - 1 || left * right <= 0 ? 0 : (2 * left * right) / (left + right);
  });
}

/** By how many stops a tone changes: smooth through the points, level beyond the outermost. @param points from dark to bright, at least one @param tone stops about middle grey */
export function toneChange(points: readonly TonePoint[], tone: number): number {
  if (tone <= points[0][0]) return points[0][1];
  const k = points.findIndex(([at]) => at >= tone);
  if (k < 0) return points[points.length - 1][1];
  const [[x0, y0], [x1, y1]] = [points[k - 1], points[k]];
  const d = slopes(points);
  const h = x1 - x0;
  const t = (tone - x0) / h;
  return y0 * (1 + 2 * t) * (1 - t) ** 2 + d[k - 1] * h * t * (1 - t) ** 2 + y1 * t * t * (3 - 2 * t) + d[k] * h * t * t * (t - 1);
}

/** Table of changes in stops, for the kernel. */
export function toneCurveTable(points: readonly TonePoint[]): Float32Array {
  return Float32Array.from({ length: (CURVE_TO - CURVE_FROM) * CURVE_STEPS + 1 }, (_, i) => toneChange(points, CURVE_FROM + i / CURVE_STEPS));
}
