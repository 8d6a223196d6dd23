import { createPlane, type Plane } from './plane';

/** 1 / number of window positions inside a line of n, for each place on it. */
function inverseCounts(n: number, radius: number): Float64Array {
  const inverse = new Float64Array(n);
  for (let i = 0; i < n; i++) inverse[i] = 1 / (Math.min(i + radius, n - 1) - Math.max(i - radius, 0) + 1);
  return inverse;
}

/** Running means along rows. */
function blurRows(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(w, radius);
  const whole = 1 / (2 * radius + 1);
  for (let row = 0; row < w * h; row += w) {
    let sum = 0;
    for (let x = 0; x < Math.min(radius, w); x++) sum += from[row + x];
    let x = 0;
    // Nothing leaves yet, then as much as enters, then nothing enters any more.
    for (; x <= radius && x < w - radius; x++) to[row + x] = (sum += from[row + x + radius]) * inverse[x];
    for (let enter = row + x + radius, leave = enter - 2 * radius - 1; x < w - radius; x++) {
      sum += from[enter++] - from[leave++];
      to[row + x] = sum * whole;
    }
    for (; x < w; x++) {
      if (x > radius) sum -= from[row + x - radius - 1];
      to[row + x] = sum * inverse[x];
    }
  }
}

/** One row of running means along columns: sums <- sums + enter - leave. */
function moveDown(sums: Float64Array, enter: Float32Array, leave: Float32Array, scale: number, out: Float32Array): void {
  for (let x = 0; x < out.length; x++) {
    const sum = sums[x] + enter[x] - leave[x];
    sums[x] = sum;
    out[x] = sum * scale;
  }
}

/** Running means along columns, row by row so that memory is read in order. */
function blurColumns(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(h, radius);
  const sums = new Float64Array(w);
  const nothing = new Float32Array(w);
  const rowOf = (y: number): Float32Array => (y >= 0 && y < h ? from.subarray(y * w, (y + 1) * w) : nothing);
  for (let y = 0; y < Math.min(radius, h); y++) for (let x = 0; x < w; x++) sums[x] += from[y * w + x];
  for (let y = 0; y < h; y++) moveDown(sums, rowOf(y + radius), rowOf(y - radius - 1), inverse[y], to.subarray(y * w, (y + 1) * w));
}

/** Room for the means along rows, used again: fresh memory costs as much as the sums. */
let across = new Float32Array(0);

/**
 * Mean over a (2 radius + 1)² window, windows cut at the border, by running sums (after Crow, "Summed-area
 * tables", 1984): the cost does not depend on the radius.
 */
export function boxBlur(plane: Plane, radius: number): Plane {
  const { width: w, height: h } = plane;
  if (across.length < w * h) across = new Float32Array(w * h);
  const out = createPlane(w, h);
  blurRows(plane.data, across, w, h, radius);
  blurColumns(across, out.data, w, h, radius);
  return out;
}
