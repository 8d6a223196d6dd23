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

export function createPlane(width: number, height: number, data = new Float32Array(width * height)): Plane {
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

/** Luminance (BT.2020 weights) of linear light. */
export function luminance(light: Light): Plane {
  const { r, g, b } = light;
  const data = new Float32Array(r.length);
  for (let i = 0; i < data.length; i++) data[i] = 0.2627 * r[i] + 0.678 * g[i] + 0.0593 * b[i];
  return createPlane(light.width, light.height, data);
}

/** The value below which a share (0..1) of the numbers lies. NaN for an empty list. */
export function quantile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float32Array.from(values).sort();
  const at = share * (sorted.length - 1);
  const low = Math.floor(at);
  return sorted[low] + (at - low) * (sorted[Math.min(low + 1, sorted.length - 1)] - sorted[low]);
}
