import { guidanceOf, guidedCoefficients, guidedFilter, type Guidance, type GuidedCoefficients } from '../image/guidedFilter';
import { createPlane, quantile, type Plane } from '../image/plane';

const BASE_RADIUS = 28;
const FINE_RADIUS = 10;
/** Of so many pixels one is looked at for the middle. */
const SAMPLED = 5;
/** Variance, in stops squared, under which a neighbourhood is detail to keep, not a step of light to compress. */
const BASE_EPSILON = 0.6;

/** The broad light of a picture, and what is needed to follow its edges. */
export interface ToneBase {
  readonly base: Plane;
  /** Middle of the base, log2 luminance. */
  readonly middle: number;
  readonly fine: Guidance;
}

/**
 * Takes a picture's broad light apart from its detail by the guided filter (base and detail as in Durand, Dorsey, SIGGRAPH
 * 2002, with He's filter for the base). @param logY log2 luminance on the guide.
 */
export function toneBase(logY: Plane): ToneBase {
  const base = guidedFilter(guidanceOf(logY, BASE_RADIUS), logY, BASE_EPSILON);
  const sample = new Float32Array(Math.ceil(base.data.length / SAMPLED));
  for (let i = 0; i < sample.length; i++) sample[i] = base.data[i * SAMPLED];
  return { base, middle: quantile(sample, 0.5), fine: guidanceOf(logY, FINE_RADIUS) };
}

/**
 * Gain map, in stops, that lifts broad shadows and lowers broad highlights while leaving detail.
 * @param highlights, shadows stops at the bright and the dark end. @returns coefficients over log2 luminance, for any scale.
 */
export function localTone({ base, middle, fine }: ToneBase, highlights: number, shadows: number): GuidedCoefficients {
  const gain = createPlane(base.width, base.height);
  for (let i = 0; i < gain.data.length; i++) {
    const v = base.data[i];
    const up = Math.min(1, Math.max(0, (v - middle) / 2.5));
    const down = Math.min(1, Math.max(0, (middle - v) / 3));
    gain.data[i] = highlights * up * (2 - up) * 0.5 + highlights * up * up * 0.5 + shadows * down * (2 - down);
  }
  return guidedCoefficients(fine, gain, 0.15);
}
