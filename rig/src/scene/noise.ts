/* Made-up irregularity: value noise (Perlin 1985, in its simplest form) and sums of it. */

/** A number in 0..1 that depends on two whole numbers. */
export function hash(x: number, y: number): number {
  let h = (Math.imul(x | 0, 374761393) + Math.imul(y | 0, 668265263)) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const CELLS = 256;
/** Heights at the corners of noise, which repeats after CELLS of them. */
const HEIGHTS = new Float32Array(CELLS * CELLS);
for (let i = 0; i < HEIGHTS.length; i++) HEIGHTS[i] = hash(i % CELLS, Math.floor(i / CELLS));

/** Value noise, 0..1. */
export function noise(x: number, y: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = x - ix;
  const fy = y - iy;
  const sx = fx * fx * (3 - 2 * fx);
  const sy = fy * fy * (3 - 2 * fy);
  const left = ix & (CELLS - 1);
  const right = (ix + 1) & (CELLS - 1);
  const above = (iy & (CELLS - 1)) * CELLS;
  const below = ((iy + 1) & (CELLS - 1)) * CELLS;
  const top = HEIGHTS[above + left] + sx * (HEIGHTS[above + right] - HEIGHTS[above + left]);
  const bottom = HEIGHTS[below + left] + sx * (HEIGHTS[below + right] - HEIGHTS[below + left]);
  return top + sy * (bottom - top);
}

/** Four octaves of noise, 0..1. */
export function cloud(x: number, y: number): number {
  return 0.53 * noise(x, y) + 0.27 * noise(2.03 * x + 7, 2.03 * y) + 0.13 * noise(4.1 * x, 4.1 * y + 3) + 0.07 * noise(8.3 * x, 8.3 * y);
}
