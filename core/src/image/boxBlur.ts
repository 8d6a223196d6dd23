import { createPlane, type Plane } from './plane';

/**
 * Mean over a (2 radius + 1)² window, windows cut at the border, by running sums (Crow 1984 in spirit:
 * cost independent of the radius).
 */
export function boxBlur(plane: Plane, radius: number): Plane {
  const { width: w, height: h } = plane;
  const across = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const row = y * w;
    let sum = 0;
    for (let x = 0; x < Math.min(radius, w); x++) sum += plane.data[row + x];
    for (let x = 0; x < w; x++) {
      if (x + radius < w) sum += plane.data[row + x + radius];
      if (x - radius > 0) sum -= plane.data[row + x - radius - 1];
      across[row + x] = sum / (Math.min(x + radius, w - 1) - Math.max(x - radius, 0) + 1);
    }
  }
  const out = createPlane(w, h);
  const sums = new Float64Array(w);
  for (let y = 0; y < Math.min(radius, h); y++) for (let x = 0; x < w; x++) sums[x] += across[y * w + x];
  for (let y = 0; y < h; y++) {
    const count = Math.min(y + radius, h - 1) - Math.max(y - radius, 0) + 1;
    const enter = y + radius < h ? (y + radius) * w : -1;
    const leave = y - radius > 0 ? (y - radius - 1) * w : -1;
    for (let x = 0; x < w; x++) {
      if (enter >= 0) sums[x] += across[enter + x];
      if (leave >= 0) sums[x] -= across[leave + x];
      out.data[y * w + x] = sums[x] / count;
    }
  }
  return out;
}
