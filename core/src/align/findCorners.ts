import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { GreyPyramid } from './structure';

/** A place with structure in two directions. */
export interface Corner {
  readonly x: number;
  readonly y: number;
  readonly strength: number;
}

/** Half the side of the windows that are judged, least strength, and least distance between corners; pixels of the plane. */
const REACH = 2;
const LEAST = 2e-5;
const APART = 5;

/** Smaller eigenvalue of the structure tensor (Shi, Tomasi, "Good features to track", 1994) of log-like contrast. */
function cornerStrength(plane: Plane): Plane {
  const { width: w, height: h, data } = plane;
  const [xx, xy, yy] = [createPlane(w, h), createPlane(w, h), createPlane(w, h)];
  const [dxx, dxy, dyy] = [xx.data, xy.data, yy.data];
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      // Contrast relative to the local level, so that dark parts get points too.
      const level = 1 / (data[i] + 12);
      const gx = (data[i + 1] - data[i - 1]) * level;
      const gy = (data[i + w] - data[i - w]) * level;
      dxx[i] = gx * gx;
      dxy[i] = gx * gy;
      dyy[i] = gy * gy;
    }
  }
  const [a, b, c] = [xx, xy, yy].map((tensor) => boxBlur(tensor, REACH).data);
  // The blurred tensor is done with place by place: its first plane takes the result.
  for (let i = 0; i < a.length; i++) {
    const difference = (a[i] - c[i]) / 2;
    a[i] = data[i] > 248 ? 0 : (a[i] + c[i]) / 2 - Math.sqrt(difference * difference + b[i] * b[i]);
  }
  return createPlane(w, h, a);
}

/**
 * The strongest corners of every cell of a grid, so that points cover the whole picture. They are looked for at half
 * size: what is followed is a window, not a point, and a quarter of the pixels tells as much.
 * @param cell side of a cell in pixels; @param perCell how many at most in each.
 */
export function findCorners({ levels }: Pick<GreyPyramid, 'levels'>, cell: number, perCell: number): Corner[] {
  const level = Math.min(1, levels.length - 1);
  const scale = 2 ** level;
  return cornersOf(levels[level], Math.round(cell / scale), perCell).map(({ x, y, strength }) => ({ x: x * scale + (scale - 1) / 2, y: y * scale + (scale - 1) / 2, strength }));
}

/** The strongest place of a cell that lies apart from those found before, or null. */
function strongest(strength: Float32Array, width: number, left: number, right: number, top: number, bottom: number, before: readonly Corner[]): Corner | null {
  let [most, at] = [LEAST, -1];
  for (let y = top; y < bottom; y++) {
    for (let i = y * width + left, end = y * width + right; i < end; i++) {
      if (strength[i] <= most) continue;
      const x = i - y * width;
      if (before.some((c) => Math.abs(c.x - x) + Math.abs(c.y - y) < APART)) continue;
      [most, at] = [strength[i], i];
    }
  }
  return at < 0 ? null : { x: at % width, y: Math.floor(at / width), strength: most };
}

function cornersOf(plane: Plane, cell: number, perCell: number): Corner[] {
  const strength = cornerStrength(plane).data;
  const { width: w, height: h } = plane;
  const margin = 5;
  const corners: Corner[] = [];
  for (let top = margin; top < h - margin; top += cell) {
    for (let left = margin; left < w - margin; left += cell) {
      const found: Corner[] = [];
      for (let k = 0; k < perCell; k++) {
        const next = strongest(strength, w, left, Math.min(left + cell, w - margin), top, Math.min(top + cell, h - margin), found);
        if (!next) break;
        found.push(next);
      }
      corners.push(...found);
    }
  }
  return corners;
}
