import { boxBlur } from '../image/boxBlur';
import type { GuidedCoefficients } from '../image/guidedFilter';
import { createPlane, mapPlane, type Plane } from '../image/plane';

/** Variance of the guidance, its units squared, that is noise. */
const EPSILON = 0.02;

/** Weight 1 where a 0/1 mask is the same all about, next to nothing near its edges, and next to that where it tells nothing. */
function trusted(mask: Plane, band: number, tells: Plane | null): Plane {
  if (!tells) return mapPlane(boxBlur(mask, band), (v) => (v < 1e-4 || v > 1 - 1e-4 ? 1 : 1e-4));
  const share = boxBlur(tells, band).data;
  return mapPlane(boxBlur(mapPlane(mask, (v, i) => v * tells.data[i]), band), (v, i) => (tells.data[i] === 0 ? 1e-7 : v < 1e-4 * share[i] || v > (1 - 1e-4) * share[i] ? 1 : 1e-4));
}

/**
 * Where exactly the edge of a found area runs: a trimap of sure inside, sure outside and a band between, and in the band
 * the local linear model of the guidance that explains what is sure (the guided filter of He, Sun, Tang, PAMI 2013, with
 * weights as in closed-form matting with a trimap, Levin, Lischinski, Weiss, PAMI 2008).
 * @param guidance log luminance of the frame that separates the two best; @param mask 0 or 1. Planes of one size.
 * @param band pixels on either side of the mask's edge where it is not trusted. @param radius of the neighbourhood that tells what inside and outside look like there.
 * @param tells 1 where the mask tells anything, 0 elsewhere: there it is neither inside nor outside. null: everywhere
 * @returns coefficients over the guidance, for any scale; the result is to be clamped to 0..1.
 */
export function matteEdges(guidance: Plane, mask: Plane, band = 2, radius = 6, tells: Plane | null = null): GuidedCoefficients {
  const weight = trusted(mask, band, tells);
  const mean = boxBlur(weight, radius).data;
  const g = guidance.data;
  const m = mask.data;
  const product = createPlane(mask.width, mask.height);
  /** Weighted mean of the product of two planes. */
  const weighted = (p: Float32Array, q: Float32Array | null): Float32Array => {
    for (let i = 0; i < m.length; i++) product.data[i] = weight.data[i] * p[i] * (q ? q[i] : 1);
    const blurred = boxBlur(product, radius).data;
    for (let i = 0; i < blurred.length; i++) blurred[i] /= mean[i];
    return blurred;
  };
  const [meanG, meanM, meanGG, meanGM] = [weighted(g, null), weighted(m, null), weighted(g, g), weighted(g, m)];
  const a = createPlane(mask.width, mask.height);
  const b = createPlane(mask.width, mask.height);
  for (let i = 0; i < a.data.length; i++) {
    const variance = Math.max(0, meanGG[i] - meanG[i] * meanG[i]) + EPSILON;
    const covariance = meanGM[i] - meanG[i] * meanM[i];
    a.data[i] = covariance / variance;
    b.data[i] = meanM[i] - a.data[i] * meanG[i];
  }
  const [smoothA, smoothB] = [boxBlur(a, 1), boxBlur(b, 1)];
  for (let i = 0; i < a.data.length; i++) {
    // What is sure stays as it is, whatever it looks like.
    if (weight.data[i] < 1) continue;
    smoothA.data[i] = 0;
    smoothB.data[i] = m[i];
  }
  return { a: smoothA, b: smoothB };
}
