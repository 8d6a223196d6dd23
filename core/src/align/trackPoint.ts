import type { Plane } from '../image/plane';

const RADIUS = 7;
const SIDE = 2 * RADIUS + 1;
const AREA = SIDE * SIDE;
const MAX_STEPS = 12;

/** Scratch of the tracker, made once: the loop allocates nothing. */
const template = new Float32Array(AREA);
const gradientX = new Float32Array(AREA);
const gradientY = new Float32Array(AREA);
const sample = new Float32Array(AREA);

/** Where a point went. */
export interface Track {
  x: number;
  y: number;
  /** Zero-mean normalised correlation of the two windows at the end, -1..1. */
  score: number;
}

/** Reads a window about (x, y), bilinear, as zero-mean unit-norm values; false when it is flat, clipped or outside. */
function readWindow(plane: Plane, x: number, y: number, out: Float32Array): boolean {
  const { width: w, height: h, data } = plane;
  const left = Math.floor(x) - RADIUS;
  const top = Math.floor(y) - RADIUS;
  if (left < 0 || top < 0 || left + SIDE >= w || top + SIDE >= h) return false;
  const fx = x - Math.floor(x);
  const fy = y - Math.floor(y);
  const w00 = (1 - fx) * (1 - fy);
  const w10 = fx * (1 - fy);
  const w01 = (1 - fx) * fy;
  const w11 = fx * fy;
  let sum = 0;
  let clipped = 0;
  for (let j = 0, k = 0; j < SIDE; j++) {
    let p = (top + j) * w + left;
    for (let i = 0; i < SIDE; i++, k++, p++) {
      const v = w00 * data[p] + w10 * data[p + 1] + w01 * data[p + w] + w11 * data[p + w + 1];
      if (v > 251 || v < 1.5) clipped++;
      out[k] = v;
      sum += v;
    }
  }
  if (clipped > AREA * 0.4) return false;
  const mean = sum / AREA;
  let norm = 0;
  for (let k = 0; k < AREA; k++) {
    out[k] -= mean;
    norm += out[k] * out[k];
  }
  // Under about 1 grey level of deviation there is only noise.
  if (norm < AREA * 0.8) return false;
  const scale = 1 / Math.sqrt(norm);
  for (let k = 0; k < AREA; k++) out[k] *= scale;
  return true;
}

/**
 * Follows a window of `from` at (x, y) into `to`, starting at (track.x, track.y): inverse compositional
 * Lucas-Kanade (Baker, Matthews, IJCV 2004) on windows normalised for brightness and contrast, which
 * makes it indifferent to exposure and to most of what a moved flash does.
 * @returns false when the window has no structure, leaves the picture or does not settle.
 */
export function trackPoint(from: Plane, to: Plane, x: number, y: number, track: Track, reach: number): boolean {
  if (!readWindow(from, x, y, template)) return false;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (let j = 0, k = 0; j < SIDE; j++) {
    for (let i = 0; i < SIDE; i++, k++) {
      const gx = i === 0 || i === SIDE - 1 ? 0 : (template[k + 1] - template[k - 1]) / 2;
      const gy = j === 0 || j === SIDE - 1 ? 0 : (template[k + SIDE] - template[k - SIDE]) / 2;
      gradientX[k] = gx;
      gradientY[k] = gy;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
    }
  }
  const determinant = xx * yy - xy * xy;
  if (determinant < 1e-5) return false;
  const startX = track.x;
  const startY = track.y;
  for (let step = 0; step < MAX_STEPS; step++) {
    if (!readWindow(to, track.x, track.y, sample)) return false;
    let bx = 0;
    let by = 0;
    for (let k = 0; k < AREA; k++) {
      const difference = sample[k] - template[k];
      bx += gradientX[k] * difference;
      by += gradientY[k] * difference;
    }
    const dx = (yy * bx - xy * by) / determinant;
    const dy = (xx * by - xy * bx) / determinant;
    track.x -= Math.max(-2, Math.min(2, dx));
    track.y -= Math.max(-2, Math.min(2, dy));
    if (Math.abs(track.x - startX) > reach || Math.abs(track.y - startY) > reach) return false;
    if (dx * dx + dy * dy < 4e-4) break;
  }
  if (!readWindow(to, track.x, track.y, sample)) return false;
  let score = 0;
  for (let k = 0; k < AREA; k++) score += sample[k] * template[k];
  track.score = score;
  return true;
}
