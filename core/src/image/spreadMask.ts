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

/**
 * Every place within a square about a place of this value takes the value: dilation by a square of side 2 radius + 1 for 1, erosion for 0, both separable
 * (Serra, "Image Analysis and Mathematical Morphology", 1982). Beyond the border nothing is assumed.
 * @param mask 0 or 1
 */
export function spreadMask(mask: Uint8Array, w: number, h: number, radius: number, value: number): Uint8Array {
  const across = new Uint8Array(mask.length);
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < h; y++) spreadLine(mask, across, y * w, 1, w, radius, value);
  for (let x = 0; x < w; x++) spreadLine(across, out, x, w, h, radius, value);
  return out;
}
