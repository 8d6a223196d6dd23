import { createPlane, type Plane } from './plane';

/** 1 / number of window positions inside a line of n, for each place on it. */
function inverseCounts(n: number, radius: number): Float64Array {
  return Float64Array.from({ length: n }, (_, i) => 1 / (Math.min(i + radius, n - 1) - Math.max(i - radius, 0) + 1));
}

/** Running means along rows, two rows at a time: neither waits for the other's sum. */
function blurRows(from: Float32Array, to: Float32Array, w: number, h: number, radius: number): void {
  const inverse = inverseCounts(w, radius);
  const enterEnd = Math.max(0, w - radius);
  const leaveStart = Math.min(w, radius + 1);
  for (let y = 0; y < h; y += 2) {
    const a = y * w;
    const b = Math.min(y + 1, h - 1) * w;
    let [sumA, sumB] = [0, 0];
    for (let x = 0; x < Math.min(radius, w); x++) {
      sumA += from[a + x];
      sumB += from[b + x];
    }
    let x = 0;
    for (const end = Math.min(leaveStart, enterEnd); x < end; x++) {
      to[a + x] = (sumA += from[a + x + radius]) * inverse[x];
      to[b + x] = (sumB += from[b + x + radius]) * inverse[x];
    }
    // Windows longer than the row keep all of it.
    for (; x < leaveStart; x++) {
      to[a + x] = sumA * inverse[x];
      to[b + x] = sumB * inverse[x];
    }
    for (; x < enterEnd; x++) {
      to[a + x] = (sumA += from[a + x + radius] - from[a + x - radius - 1]) * inverse[x];
      to[b + x] = (sumB += from[b + x + radius] - from[b + x - radius - 1]) * inverse[x];
    }
    for (; x < w; x++) {
      to[a + x] = (sumA -= from[a + x - radius - 1]) * inverse[x];
      to[b + x] = (sumB -= from[b + x - radius - 1]) * inverse[x];
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
