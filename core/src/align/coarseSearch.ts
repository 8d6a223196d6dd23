import type { Plane } from '../image/plane';
import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';

/** A turn and shift found by the coarse search, in pixels of the structure plane, and how well it fits (-1..1). */
export interface CoarseFit {
  readonly dx: number;
  readonly dy: number;
  /** Radians, clockwise on screen, about the picture's centre. */
  readonly turn: number;
  readonly score: number;
  /** How far the score stands out from those of other shifts, in their standard deviations. */
  readonly standout: number;
}

export const STILL: CoarseFit = { dx: 0, dy: 0, turn: 0, score: 1, standout: Infinity };

/** Share of the picture that two frames must have in common: little common ground proves nothing. */
const LEAST_COMMON = 0.08;
/** A score above which a turn need not be looked for. */
const SURE = 0.8;
const TURNS = [-0.035, -0.0175, 0.0175, 0.035];
/** Shifts tried about the best one for every turn, structure pixels. */
const TURNED_REACH = 3;
/** How many of the best shifts of the first, sparse pass are looked at closely. */
const PROMISING = 3;
/** Shifts nearer than this to the best one, structure pixels, belong to its summit. */
const PEAK = 6;

/** Correlation of two structure planes with b turned and shifted, every other pixel; pixels where either is empty do not count. */
function turnedCorrelation(a: Plane, b: Plane, dx: number, dy: number, turn: number): number {
  const { width: w, height: h } = a;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const cx = (w - 1) / 2;
  const cy = (h - 1) / 2;
  let ab = 0;
  let aa = 0;
  let bb = 0;
  let count = 0;
  for (let y = 0; y < h; y++) {
    for (let x = y % 2; x < w; x += 2) {
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
  if (2 * count < LEAST_COMMON * w * h) return 0;
  return ab / Math.sqrt(aa * bb + 1e-9);
}

/**
 * Finds the shift (up to `reach` of the longer side) and turn (up to 2°) that line structure plane b up with a,
 * exhaustively: at this size that is cheap, and nothing can trap it.
 */
export function coarseSearch(kernels: Kernels, arena: Arena, a: Plane, b: Plane, reach = 0.09): CoarseFit {
  const mark = arena.mark();
  const range = Math.ceil(reach * Math.max(a.width, a.height));
  const [at, bt]: Pointer[] = [arena.placeFloats(a.data), arena.placeFloats(b.data)];
  const sums = arena.take(32);
  const [ab, aa, bb, count] = [0, 1, 2, 3];
  const view = new Float64Array(arena.buffer, sums, 4);
  const score = (dx: number, dy: number): number => {
    kernels.correlate(at, a.width, a.height, bt, b.width, b.height, dx, dy, sums);
    return view[count] < LEAST_COMMON * a.width * a.height ? 0 : view[ab] / Math.sqrt(view[aa] * view[bb] + 1e-9);
  };
  // Structure is a few pixels wide: every other shift sees the summit's slope.
  const sparse: Omit<CoarseFit, 'standout'>[] = [];
  for (let dy = -range; dy <= range; dy += 2) for (let dx = -range; dx <= range; dx += 2) sparse.push({ dx, dy, turn: 0, score: score(dx, dy) });
  sparse.sort((p, q) => q.score - p.score);
  let best = sparse[0];
  for (const { dx, dy } of sparse.slice(0, PROMISING)) {
    for (let v = dy - 1; v <= dy + 1; v++) {
      for (let u = dx - 1; u <= dx + 1; u++) {
        const value = score(u, v);
        if (value > best.score) best = { dx: u, dy: v, turn: 0, score: value };
      }
    }
  }
  arena.release(mark);
  const first = best;
  const others = sparse.filter((p) => Math.hypot(p.dx - first.dx, p.dy - first.dy) > PEAK).map((p) => p.score);
  const mean = others.reduce((sum, v) => sum + v, 0) / Math.max(1, others.length);
  const spread = Math.sqrt(others.reduce((sum, v) => sum + (v - mean) ** 2, 0) / Math.max(1, others.length));
  const rated = (fit: Omit<CoarseFit, 'standout'>): CoarseFit => ({ ...fit, standout: (fit.score - mean) / Math.max(0.02, spread) });
  if (first.score > SURE) return rated(first);
  for (const turn of TURNS) {
    for (let dy = first.dy - TURNED_REACH; dy <= first.dy + TURNED_REACH; dy++) {
      for (let dx = first.dx - TURNED_REACH; dx <= first.dx + TURNED_REACH; dx++) {
        const value = turnedCorrelation(a, b, dx, dy, turn);
        if (value > best.score) best = { dx, dy, turn, score: value };
      }
    }
  }
  return rated(best);
}
