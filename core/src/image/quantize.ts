import { createPlane, type Plane } from './plane';

/** How values are kept in 16 bits: evenly from the lowest to the highest; light by its root, so that dark is as exact as bright. */
export interface Quantization {
  readonly width: number;
  readonly height: number;
  /** The lowest value, and what a step counts, of the values or of their signed roots. */
  readonly low: number;
  readonly step: number;
  readonly scale: 'even' | 'root';
}

const STEPS = 65535;
const root = (v: number): number => Math.sign(v) * Math.sqrt(Math.abs(v));

/** A plane in 16 bits a value; null where it holds what is no number. */
export function quantize({ width, height, data }: Plane, scale: Quantization['scale']): { readonly how: Quantization; readonly values: Uint16Array } | null {
  const of = scale === 'root' ? root : (v: number): number => v;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < data.length; i++) {
    const v = of(data[i]);
    if (!Number.isFinite(v)) return null;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const step = (high - low) / STEPS;
  const values = new Uint16Array(data.length);
  if (step > 0) for (let i = 0; i < data.length; i++) values[i] = Math.round((of(data[i]) - low) / step);
  return { how: { width, height, low, step, scale }, values };
}

/** The plane as it was, to within half a step. */
export function dequantize({ width, height, low, step, scale }: Quantization, values: Uint16Array): Plane {
  const plane = createPlane(width, height);
  const { data } = plane;
  for (let i = 0; i < data.length; i++) data[i] = low + values[i] * step;
  if (scale === 'root') for (let i = 0; i < data.length; i++) data[i] *= Math.abs(data[i]);
  return plane;
}
