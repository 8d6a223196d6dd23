import { PlacedFilter } from '../image/placedGuide';
import { quantile, type Plane } from '../image/plane';
import type { Tools } from '../kernels/tools';
import { localContrast } from './localContrast';

const BASE_RADIUS = 28;
const FINE_RADIUS = 10;
/** Variance, in stops squared, under which a neighbourhood is detail to keep, not a step of light to compress. */
const BASE_EPSILON = 0.6;
const FINE_EPSILON = 0.15;
/** Local contrast is that of surfaces: small windows, and hardly any variance that counts as flat. */
const SURFACE_RADIUS = 4;
const SURFACE_EPSILON = 0.004;
/** Of so many pixels one is looked at for the middle. */
const SAMPLED = 5;

/** The broad light of a picture, and what is needed to follow its edges. */
export interface ToneBase {
  readonly logY: Plane;
  readonly base: Plane;
  /** Middle of the base, log2 luminance. */
  readonly middle: number;
  /** Means of `logY` and of its square over fine windows. */
  readonly mean: Plane;
  readonly meanSquare: Plane;
}

/** Local gain in stops, as coefficients over log2 luminance, for any scale. */
export interface ToneModel {
  readonly a: Plane;
  readonly b: Plane;
}

/** Kernel memory, bytes, that both functions take for a guide of this size. */
export const toneBytes = (width: number, height: number): number => (width * height * 4 + 128) * 20 + width * 8 + 4096;

/**
 * Takes a picture's broad light apart from its detail by the guided filter (base and detail as in Durand, Dorsey, SIGGRAPH
 * 2002, with He's filter for the base). @param logY log2 luminance on the guide.
 */
export function toneBase(tools: Tools, logY: Plane): ToneBase {
  const mark = tools.arena.mark();
  const filter = new PlacedFilter(tools, logY.width, logY.height);
  const at = filter.place(logY);
  const base = filter.plane(filter.apply(filter.model(filter.guide(at, BASE_RADIUS), at, BASE_RADIUS, BASE_EPSILON), at));
  const fine = filter.guide(at, FINE_RADIUS);
  const sample = new Float32Array(Math.ceil(base.data.length / SAMPLED));
  for (let i = 0; i < sample.length; i++) sample[i] = base.data[i * SAMPLED];
  const result = { logY, base, middle: quantile(sample, 0.5), mean: filter.plane(fine.mean), meanSquare: filter.plane(fine.meanSquare) };
  tools.arena.release(mark);
  return result;
}

/** What local contrast adds to a base, as coefficients, worked out when it is first asked for: any strength is a multiple. */
const contrasts = new WeakMap<ToneBase, ToneModel>();

/** Room for coefficients is the caller's to give back. */
function contrastOf(tools: Tools, filter: PlacedFilter, base: ToneBase): ToneModel {
  const known = contrasts.get(base);
  if (known) return known;
  const { a, b } = filter.model(filter.guide(filter.place(base.logY), SURFACE_RADIUS), filter.place(localContrast(tools, base.logY)), SURFACE_RADIUS, SURFACE_EPSILON);
  const model = { a: filter.plane(a), b: filter.plane(b) };
  contrasts.set(base, model);
  return model;
}

/**
 * Gain map, in stops, that lifts broad shadows and lowers broad highlights while leaving detail, and changes local contrast.
 * @param wanted stops at the bright and the dark end, and multiples of full local contrast
 */
export function localTone(tools: Tools, toned: ToneBase, wanted: { readonly highlights: number; readonly shadows: number; readonly localContrast: number }): ToneModel {
  const { logY, base, middle, mean, meanSquare } = toned;
  const { highlights, shadows } = wanted;
  const mark = tools.arena.mark();
  const filter = new PlacedFilter(tools, logY.width, logY.height);
  const gain = filter.take();
  const view = filter.view(gain);
  for (let i = 0; i < view.length; i++) {
    const v = base.data[i];
    const up = Math.min(1, Math.max(0, (v - middle) / 2.5));
    const down = Math.min(1, Math.max(0, (middle - v) / 3));
    view[i] = highlights * up * (2 - up) * 0.5 + highlights * up * up * 0.5 + shadows * down * (2 - down);
  }
  const { a, b } = filter.model({ at: filter.place(logY), mean: filter.place(mean), meanSquare: filter.place(meanSquare) }, gain, FINE_RADIUS, FINE_EPSILON);
  const model = { a: filter.plane(a), b: filter.plane(b) };
  if (wanted.localContrast !== 0) {
    const contrast = contrastOf(tools, filter, toned);
    for (const key of ['a', 'b'] as const) for (let i = 0; i < model[key].data.length; i++) model[key].data[i] += wanted.localContrast * contrast[key].data[i];
  }
  tools.arena.release(mark);
  return model;
}
