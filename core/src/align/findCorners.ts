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
  const xx = createPlane(w, h);
  const xy = createPlane(w, h);
  const yy = createPlane(w, h);
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      // Contrast relative to the local level, so that dark parts get points too.
      const level = 1 / (data[i] + 12);
      const gx = (data[i + 1] - data[i - 1]) * level;
      const gy = (data[i + w] - data[i - w]) * level;
      xx.data[i] = gx * gx;
      xy.data[i] = gx * gy;
      yy.data[i] = gy * gy;
    }
  }
  const a = boxBlur(xx, REACH);
  const b = boxBlur(xy, REACH);
  const c = boxBlur(yy, REACH);
  const out = createPlane(w, h);
  for (let i = 0; i < out.data.length; i++) {
    const half = (a.data[i] + c.data[i]) / 2;
    const difference = (a.data[i] - c.data[i]) / 2;
    const spread = Math.sqrt(difference * difference + b.data[i] * b.data[i]);
    out.data[i] = data[i] > 248 ? 0 : half - spread;
  }
  return out;
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

function cornersOf(plane: Plane, cell: number, perCell: number): Corner[] {
  const strength = cornerStrength(plane);
  const { width: w, height: h } = plane;
  const margin = 5;
  const corners: Corner[] = [];
  for (let top = margin; top < h - margin; top += cell) {
    for (let left = margin; left < w - margin; left += cell) {
      const found: Corner[] = [];
      for (let y = top; y < Math.min(top + cell, h - margin); y++) {
        for (let x = left; x < Math.min(left + cell, w - margin); x++) {
          const s = strength.data[y * w + x];
          if (s < LEAST || (found.length === perCell && s <= found[perCell - 1].strength)) continue;
          const near = found.findIndex((p) => Math.abs(p.x - x) + Math.abs(p.y - y) < APART);
          if (near >= 0) {
            if (found[near].strength >= s) continue;
            found.splice(near, 1);
          }
          found.push({ x, y, strength: s });
          found.sort((p, q) => q.strength - p.strength);
          if (found.length > perCell) found.pop();
        }
      }
      corners.push(...found);
    }
  }
  return corners;
}
