import { boxBlur } from './boxBlur';
import { createPlane, type Plane } from './plane';

/** The linear model of the guided filter: output = a * guidance + b, at any scale of the guidance. */
export interface GuidedCoefficients {
  readonly a: Plane;
  readonly b: Plane;
}

function product(p: Plane, q: Plane): Plane {
  const a = p.data;
  const b = q.data;
  const data = new Float32Array(a.length);
  for (let i = 0; i < data.length; i++) data[i] = a[i] * b[i];
  return createPlane(p.width, p.height, data);
}

/**
 * Coefficients of the guided filter (He, Sun, Tang, "Guided image filtering", PAMI 2013), averaged over
 * windows, to be upsampled and applied to a larger guidance (He, Sun, "Fast guided filter", 2015).
 * @param guidance, input planes of one size; @param radius window radius in pixels; @param epsilon variance of
 * the guidance (its units squared) below which a window counts as flat.
 */
export function guidedCoefficients(guidance: Plane, input: Plane, radius: number, epsilon: number): GuidedCoefficients {
  const meanG = boxBlur(guidance, radius);
  const meanP = boxBlur(input, radius);
  const meanGP = boxBlur(product(guidance, input), radius);
  const meanGG = boxBlur(product(guidance, guidance), radius);
  const a = createPlane(guidance.width, guidance.height);
  const b = createPlane(guidance.width, guidance.height);
  for (let i = 0; i < a.data.length; i++) {
    const variance = meanGG.data[i] - meanG.data[i] * meanG.data[i];
    const covariance = meanGP.data[i] - meanG.data[i] * meanP.data[i];
    a.data[i] = covariance / (Math.max(0, variance) + epsilon);
    b.data[i] = meanP.data[i] - a.data[i] * meanG.data[i];
  }
  return { a: boxBlur(a, radius), b: boxBlur(b, radius) };
}

/** The guided filter at its own scale. */
export function guidedFilter(guidance: Plane, input: Plane, radius: number, epsilon: number): Plane {
  const { a, b } = guidedCoefficients(guidance, input, radius, epsilon);
  const out = createPlane(guidance.width, guidance.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = a.data[i] * guidance.data[i] + b.data[i];
  return out;
}
