import { guidanceOf, guidedCoefficients, guidedFilter, type GuidedCoefficients } from '../image/guidedFilter';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';

const BASE_RADIUS = 28;
/** Variance, in stops squared, under which a neighbourhood is detail to keep, not a step of light to compress. */
const BASE_EPSILON = 0.6;

/**
 * Gain map, in stops, that lifts broad shadows and lowers broad highlights while leaving detail: the base
 * layer is taken by the guided filter (base and detail as in Durand, Dorsey, SIGGRAPH 2002, with He's filter for the base).
 * @param logY log2 luminance on the guide; @param highlights, shadows stops at the bright and the dark end.
 * @returns coefficients over logY, for any scale.
 */
export function localTone(logY: Plane, highlights: number, shadows: number): GuidedCoefficients {
  const zero = createPlane(logY.width, logY.height);
  if (highlights === 0 && shadows === 0) return { a: zero, b: zero };
  const base = guidedFilter(guidanceOf(logY, BASE_RADIUS), logY, BASE_EPSILON);
  const middle = quantile(base.data.filter((_, i) => i % 5 === 0), 0.5);
  const gain = mapPlane(base, (v) => {
    const up = Math.min(1, Math.max(0, (v - middle) / 2.5));
    const down = Math.min(1, Math.max(0, (middle - v) / 3));
    return highlights * up * (2 - up) * 0.5 + highlights * up * up * 0.5 + shadows * down * (2 - down);
  });
  return guidedCoefficients(guidanceOf(logY, 10), gain, 0.15);
}
