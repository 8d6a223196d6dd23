import { createPlane, type Plane } from './plane';

/** 1 / number of window positions inside a line of n, for each place on it. */
function inverseCounts(n: number, radius: number): Float64Array {
  return Float64Array.from({ length: n }, (_, i) => 1 / (Math.min(i + radius, n - 1) - Math.max(i - radius, 0) + 1));
}

/** Running means along rows. */
function blurRows(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(w, radius);
  const first = Math.min(radius, w);
  for (let y = 0; y < h; y++) {
    const row = y * w;
    let sum = 0;
    for (let x = 0; x < first; x++) sum += from[row + x];
    const enterEnd = w - radius;
    for (let x = 0; x < w; x++) {
      if (x < enterEnd) sum += from[row + x + radius];
      if (x > radius) sum -= from[row + x - radius - 1];
      to[row + x] = sum * inverse[x];
    }
  }
}

/** Running means along columns, row by row so that memory is read in order. */
function blurColumns(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(h, radius);
  const sums = new Float64Array(w);
  for (let i = 0, end = Math.min(radius, h) * w; i < end; i += w) for (let x = 0; x < w; x++) sums[x] += from[i + x];
  for (let y = 0; y < h; y++) {
    const k = inverse[y];
    const row = y * w;
    const enter = (y + radius) * w;
    const leave = (y - radius - 1) * w;
    if (y + radius < h) for (let x = 0; x < w; x++) sums[x] += from[enter + x];
    if (y > radius) for (let x = 0; x < w; x++) sums[x] -= from[leave + x];
    for (let x = 0; x < w; x++) to[row + x] = sums[x] * k;
  }
}

/**
 * Mean over a (2 radius + 1)² window, windows cut at the border, by running sums (after Crow, "Summed-area
 * tables", 1984): the cost does not depend on the radius.
 */
export function boxBlur(plane: Plane, radius: number): Plane {
  const { width: w, height: h } = plane;
  const across = new Float32Array(w * h);
  const out = createPlane(w, h);
  blurRows(plane.data, across, w, h, radius);
  blurColumns(across, out.data, w, h, radius);
  return out;
}
