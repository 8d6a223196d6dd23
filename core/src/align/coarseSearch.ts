import type { Plane } from '../image/plane';

/** A turn and shift found by the coarse search, in pixels of the structure plane, and how well it fits (-1..1). */
export interface CoarseFit {
  readonly dx: number;
  readonly dy: number;
  /** Radians, clockwise on screen, about the picture's centre. */
  readonly turn: number;
  readonly score: number;
}

/** Correlation of two structure planes with b turned and shifted; pixels where either is empty do not count. */
function correlation(a: Plane, b: Plane, dx: number, dy: number, turn: number, step: number): number {
  const { width: w, height: h } = a;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const cx = (w - 1) / 2;
  const cy = (h - 1) / 2;
  let ab = 0;
  let aa = 0;
  let bb = 0;
  let count = 0;
  for (let y = 0; y < h; y += step) {
    for (let x = (y / step) % 2; x < w; x += step) {
      const u = Math.round(cx + cos * (x - cx) - sin * (y - cy) + dx);
      const v = Math.round(cy + sin * (x - cx) + cos * (y - cy) + dy);
      if (u < 0 || v < 0 || u >= b.width || v >= b.height) continue;
      const p = a.data[y * w + x];
      const q = b.data[v * b.width + u];
      if (p === 0 || q === 0) continue;
      ab += p * q;
      aa += p * p;
      bb += q * q;
      count++;
    }
  }
  // Little common ground proves nothing.
  if (count * step * step < 0.08 * w * h) return 0;
  return ab / Math.sqrt(aa * bb + 1e-9);
}

const TURNS = [-0.035, -0.0175, 0.0175, 0.035];

/**
 * Finds the shift (up to `reach` of the longer side) and turn (up to 2°) that line structure plane b up with a,
 * exhaustively: at this size that is cheap, and nothing can trap it.
 */
export function coarseSearch(a: Plane, b: Plane, reach = 0.09): CoarseFit {
  const range = Math.ceil(reach * Math.max(a.width, a.height));
  let best: CoarseFit = { dx: 0, dy: 0, turn: 0, score: -1 };
  const test = (dx: number, dy: number, turn: number, step: number): void => {
    const score = correlation(a, b, dx, dy, turn, step);
    if (score > best.score) best = { dx, dy, turn, score };
  };
  for (let dy = -range; dy <= range; dy++) for (let dx = -range; dx <= range; dx++) test(dx, dy, 0, 2);
  const first = best;
  best = { ...first, score: correlation(a, b, first.dx, first.dy, 0, 1) };
  for (const turn of TURNS) for (let dy = -4; dy <= 4; dy++) for (let dx = -4; dx <= 4; dx++) test(first.dx + dx, first.dy + dy, turn, 1);
  return best;
}
