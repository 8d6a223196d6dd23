import { createPlane, type Plane } from './plane';

/** 1 / number of window positions inside a line of n, for each place on it. */
function inverseCounts(n: number, radius: number): Float64Array {
  const inverse = new Float64Array(n);
  for (let i = 0; i < n; i++) inverse[i] = 1 / (Math.min(i + radius, n - 1) - Math.max(i - radius, 0) + 1);
  return inverse;
}

/** Running means along rows, four rows at a time: none waits for another's sum. */
function blurRows(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(w, radius);
  for (let y = 0; y < h; y += 4) {
    const a = y * w;
    const b = Math.min(y + 1, h - 1) * w;
    const c = Math.min(y + 2, h - 1) * w;
    const d = Math.min(y + 3, h - 1) * w;
    let [sumA, sumB, sumC, sumD] = [0, 0, 0, 0];
    for (let x = 0; x < Math.min(radius, w); x++) {
      sumA += from[a + x];
      sumB += from[b + x];
      sumC += from[c + x];
      sumD += from[d + x];
    }
    for (let x = 0; x < w; x++) {
      const enter = x + radius;
      const leave = x - radius - 1;
      if (enter < w) {
        sumA += from[a + enter];
        sumB += from[b + enter];
        sumC += from[c + enter];
        sumD += from[d + enter];
      }
      if (leave >= 0) {
        sumA -= from[a + leave];
        sumB -= from[b + leave];
        sumC -= from[c + leave];
        sumD -= from[d + leave];
      }
      const k = inverse[x];
      to[a + x] = sumA * k;
      to[b + x] = sumB * k;
      to[c + x] = sumC * k;
      to[d + x] = sumD * k;
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
    const enters = y + radius < h;
    if (enters && y > radius) for (let x = 0; x < w; x++) to[row + x] = (sums[x] += from[enter + x] - from[leave + x]) * k;
    else if (enters) for (let x = 0; x < w; x++) to[row + x] = (sums[x] += from[enter + x]) * k;
    else if (y > radius) for (let x = 0; x < w; x++) to[row + x] = (sums[x] -= from[leave + x]) * k;
    else for (let x = 0; x < w; x++) to[row + x] = sums[x] * k;
  }
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
