import { boxBlur } from './boxBlur';
import { unhalve } from './halve';
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

/** A guidance with its mean and variance over windows, which do for any number of inputs. */
export interface Guidance {
  readonly plane: Plane;
  /** Window radius, pixels. */
  readonly radius: number;
  readonly mean: Plane;
  readonly variance: Float32Array;
}

export function guidanceOf(plane: Plane, radius: number): Guidance {
  const mean = boxBlur(plane, radius);
  const variance = boxBlur(product(plane, plane), radius).data;
  for (let i = 0; i < variance.length; i++) variance[i] = Math.max(0, variance[i] - mean.data[i] * mean.data[i]);
  return { plane, radius, mean, variance };
}

/**
 * Coefficients of the guided filter (He, Sun, Tang, "Guided image filtering", PAMI 2013), averaged over
 * windows, to be upsampled and applied to a larger guidance (He, Sun, "Fast guided filter", 2015).
 * @param input of the guidance's size, or the guidance itself; @param epsilon variance of the guidance (its units
 * squared) below which a window counts as flat.
 */
export function guidedCoefficients({ plane, radius, mean, variance }: Guidance, input: Plane, epsilon: number): GuidedCoefficients {
  const a = createPlane(plane.width, plane.height);
  const b = createPlane(plane.width, plane.height);
  const itself = input === plane;
  const meanP = itself ? mean : boxBlur(input, radius);
  const meanGP = itself ? null : boxBlur(product(plane, input), radius);
  for (let i = 0; i < a.data.length; i++) {
    const covariance = meanGP ? meanGP.data[i] - mean.data[i] * meanP.data[i] : variance[i];
    a.data[i] = covariance / (variance[i] + epsilon);
    b.data[i] = meanP.data[i] - a.data[i] * mean.data[i];
  }
  return { a: boxBlur(a, radius), b: boxBlur(b, radius) };
}

/** The guided filter at half its scale, applied to the whole one (He, Sun, "Fast guided filter", 2015). @param guidance of half the size, by `halve` @param whole what that was made of @param input as `guidance` */
export function guidedFilterByHalf(guidance: Guidance, whole: Plane, input: Plane, epsilon: number): Plane {
  const coefficients = guidedCoefficients(guidance, input, epsilon);
  const a = unhalve(coefficients.a, whole.width, whole.height);
  const b = unhalve(coefficients.b, whole.width, whole.height).data;
  for (let i = 0; i < b.length; i++) a.data[i] = a.data[i] * whole.data[i] + b[i];
  return a;
}

/** The guided filter at its own scale. */
export function guidedFilter(guidance: Guidance, input: Plane, epsilon: number): Plane {
  const { a, b } = guidedCoefficients(guidance, input, epsilon);
  const { data, width, height } = guidance.plane;
  const out = createPlane(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = a.data[i] * data[i] + b.data[i];
  return out;
}
