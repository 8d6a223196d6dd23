import { createPlane, type Plane } from './plane';

/** Line i of the result is 1 where `value` stands within `radius` of it on a line of n places, `step` apart, that begins at `start`. */
function spreadLine(from: Uint8Array, to: Uint8Array, start: number, step: number, n: number, radius: number, value: number): void {
  let until = -1;
  for (let k = 0; k < Math.min(radius, n); k++) if (from[start + k * step] === value) until = k + radius;
  for (let k = 0; k < n; k++) {
    const ahead = k + radius;
    if (ahead < n && from[start + ahead * step] === value) until = ahead + radius;
    to[start + k * step] = until >= k ? value : 1 - value;
  }
}

/** Every place within a square about a place of this value takes the value. */
function spread(mask: Uint8Array, w: number, h: number, radius: number, value: number): Uint8Array {
  const across = new Uint8Array(mask.length);
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < h; y++) spreadLine(mask, across, y * w, 1, w, radius, value);
  for (let x = 0; x < w; x++) spreadLine(across, out, x, w, h, radius, value);
  return out;
}

/**
 * Morphological closing of a mask by a square of side 2 radius + 1: dilation, then erosion, both separable (Serra, "Image
 * Analysis and Mathematical Morphology", 1982). Beyond the border nothing is assumed.
 * @param plane above 0 is inside. @returns 0 or 1.
 */
export function closeMask({ width, height, data }: Plane, radius: number): Plane {
  const mask = new Uint8Array(data.length);
  let some = false;
  for (let i = 0; i < mask.length; i++) {
    if (!(data[i] > 0)) continue;
    mask[i] = 1;
    some = true;
  }
  const closed = some ? spread(spread(mask, width, height, radius, 1), width, height, radius, 0) : mask;
  return createPlane(width, height, new Float32Array(closed));
}
