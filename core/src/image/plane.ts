/** One channel of floats, row by row from the top left. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** Encoded 8-bit or 16-bit RGB, interleaved, turned the right way up. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint16Array;
}

/** Linear light in working primaries (BT.2020), three planes; 1.0 is the white of the frame it came from. */
export interface Light {
  readonly width: number;
  readonly height: number;
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
}

export function createPlane(width: number, height: number, data: Float32Array = new Float32Array(width * height)): Plane {
  return { width, height, data };
}

export function createLight(width: number, height: number): Light {
  const n = width * height;
  return { width, height, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
}

/** A new plane of f(value, index). */
export function mapPlane(plane: Plane, f: (value: number, index: number) => number): Plane {
  const from = plane.data;
  const data = new Float32Array(from.length);
  for (let i = 0; i < data.length; i++) data[i] = f(from[i], i);
  return createPlane(plane.width, plane.height, data);
}

/** Indices of the pixels whose value lies above a level. */
export function placesAbove({ data }: Plane, level: number): Int32Array {
  let n = 0;
  for (let i = 0; i < data.length; i++) if (data[i] > level) n++;
  const places = new Int32Array(n);
  for (let i = 0, k = 0; k < n; i++) if (data[i] > level) places[k++] = i;
  return places;
}

/** Sum of a plane's values. */
export function total({ data }: Plane): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i];
  return sum;
}

/** What red, green and blue of linear light in working primaries count for in luminance (ITU-R BT.2020). */
export const LUMA = [0.2627, 0.678, 0.0593] as const;

/** Luminance (BT.2020 weights) of linear light. */
export function luminance(light: Light): Plane {
  const { r, g, b } = light;
  const data = new Float32Array(r.length);
  for (let i = 0; i < data.length; i++) data[i] = 0.2627 * r[i] + 0.678 * g[i] + 0.0593 * b[i];
  return createPlane(light.width, light.height, data);
}

/** Rearranges values so that the k-th smallest stands at k, none larger before it. Hoare, "Algorithm 65: find", 1961. */
function select(values: Float32Array, k: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = values[k];
    let i = low;
    let j = high;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i <= j) {
        const v = values[i];
        values[i++] = values[j];
        values[j--] = v;
      }
    }
    if (j < k) low = i;
    if (k < i) high = j;
  }
  return values[k];
}

/** The value below which a share (0..1) of the numbers lies, NaNs not counted. NaN for an empty list. */
export function quantile(values: ArrayLike<number>, share: number): number {
  const copy = new Float32Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++) if (values[i] === values[i]) copy[count++] = values[i];
  if (count === 0) return NaN;
  const known = copy.subarray(0, count);
  const at = share * (known.length - 1);
  const low = Math.floor(at);
  const value = select(known, low);
  if (low === at) return value;
  let next = Infinity;
  for (let i = low + 1; i < known.length; i++) if (known[i] < next) next = known[i];
  return value + (at - low) * (next - value);
}

/** A plane's value between its pixels; outside, that of its edge. */
export function bilinear({ width, height, data }: Plane, x: number, y: number): number {
  const cx = Math.min(width - 1, Math.max(0, x));
  const cy = Math.min(height - 1, Math.max(0, y));
  const [ix, iy] = [Math.min(width - 2, Math.floor(cx)), Math.min(height - 2, Math.floor(cy))];
  const [fx, fy] = [cx - ix, cy - iy];
  const at = iy * width + ix;
  const upper = data[at] + fx * (data[at + 1] - data[at]);
  const lower = data[at + width] + fx * (data[at + width + 1] - data[at + width]);
  return upper + fy * (lower - upper);
}
