import { createPlane, type Light, type Plane } from './plane';

/** How values are kept in 16 bits: as whole steps of a power of two; light by its root, so that dark is as exact as bright. */
export interface Quantization {
  readonly width: number;
  readonly height: number;
  /** The lowest value in steps, and what a step counts, of the values or of their signed roots. */
  readonly low: number;
  readonly step: number;
  readonly scale: 'even' | 'root';
}

/** Most steps between the lowest value and the highest. */
const SPAN = 65535;
/** Most steps of a value: whole numbers up to it are exact in 32-bit floats. */
const EXACT = 2 ** 23;
/** The finest step: what is finer is nothing. */
const FINEST = 2 ** -60;
/** The root of a square is the very number that was squared, in the same number of bits. */
const root = (v: number): number => Math.sign(v) * Math.fround(Math.sqrt(Math.abs(v)));

/** The finest step that holds values from a lowest to a highest. */
function stepFor(low: number, high: number): number {
  const span = Math.max((high - low) / SPAN, Math.max(Math.abs(low), Math.abs(high)) / EXACT, FINEST);
  const step = 2 ** Math.floor(Math.log2(span));
  return [step, 2 * step, 4 * step].find((each) => Math.round(high / each) - Math.round(low / each) <= SPAN && Math.max(Math.abs(low), Math.abs(high)) / each <= EXACT)!;
}

/** A plane in 16 bits a value; null where it holds what is no number. */
export function quantize({ width, height, data }: Plane, scale: Quantization['scale']): { readonly how: Quantization; readonly values: Uint16Array } | null {
  const of = scale === 'root' ? root : (v: number): number => v;
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < data.length; i++) {
    const v = data[i];
    if (!Number.isFinite(v)) return null;
    if (v < least) least = v;
    if (v > most) most = v;
  }
  const step = stepFor(of(least), of(most));
  const low = Math.round(of(least) / step);
  const values = new Uint16Array(data.length);
  for (let i = 0; i < data.length; i++) values[i] = Math.round(of(data[i]) / step) - low;
  return { how: { width, height, low, step, scale }, values };
}

/** The plane as it was, to within half a step. What was quantized once is exactly what it was then. */
export function dequantize({ width, height, low, step, scale }: Quantization, values: Uint16Array): Plane {
  const plane = createPlane(width, height);
  const { data } = plane;
  for (let i = 0; i < data.length; i++) data[i] = (low + values[i]) * step;
  if (scale === 'root') for (let i = 0; i < data.length; i++) data[i] *= Math.abs(data[i]);
  return plane;
}

/** A plane as it will come back where it is kept in 16 bits; what holds what is no number as it is. */
export function rounded(plane: Plane, scale: Quantization['scale'] = 'even'): Plane {
  const made = quantize(plane, scale);
  return made ? dequantize(made.how, made.values) : plane;
}

/** Light, likewise. */
export function roundedLight({ width, height, r, g, b }: Light): Light {
  const of = (data: Float32Array): Float32Array => rounded(createPlane(width, height, data), 'root').data;
  return { width, height, r: of(r), g: of(g), b: of(b) };
}
