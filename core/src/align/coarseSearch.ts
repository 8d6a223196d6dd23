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

/** How alike two views are: how well they correlate where they fit best, times how much that place stands out. */
export const likenessOf = (fit: CoarseFit): number => fit.score * Math.min(12, fit.standout);

/** Likeness below which two frames do not show the same view: in rooms of all kinds frames of different views have 0.85 at most. */
export const DIFFERENT = 0.9;

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

/** Writes a plane turned about its middle, nearest pixel; what lies outside is empty. */
function turnPlane({ width: w, height: h, data }: Plane, cos: number, sin: number, out: Float32Array): void {
  const cx = (w - 1) / 2;
  const cy = (h - 1) / 2;
  for (let y = 0, i = 0; y < h; y++) {
    let u = cx - cos * cx - sin * (y - cy) + 0.5;
    let v = cy - sin * cx + cos * (y - cy) + 0.5;
    for (let x = 0; x < w; x++, i++, u += cos, v += sin) {
      const column = Math.floor(u);
      const row = Math.floor(v);
      out[i] = column < 0 || row < 0 || column >= w || row >= h ? 0 : data[row * w + column];
    }
  }
}

/**
 * Finds the shift (up to `reach` of the longer side) and turn (up to 2°) that line structure plane b up with a,
 * exhaustively: at this size that is cheap, and nothing can trap it.
 * @param every shifts that are tried at first: structure is a few pixels wide, so that every other shift sees the summit's slope.
 */
export function coarseSearch(kernels: Kernels, arena: Arena, a: Plane, b: Plane, reach = 0.09, every = 2): CoarseFit {
  const mark = arena.mark();
  const range = Math.ceil(reach * Math.max(a.width, a.height));
  const [at, bt]: Pointer[] = [arena.placeFloats(a.data), arena.placeFloats(b.data)];
  const sums = arena.take(32);
  const [ab, aa, bb, count] = [0, 1, 2, 3];
  const view = new Float64Array(arena.buffer, sums, 4);
  const score = (dx: number, dy: number, frame = bt): number => {
    kernels.correlate(at, a.width, a.height, frame, b.width, b.height, dx, dy, sums);
    return view[count] < LEAST_COMMON * a.width * a.height ? 0 : view[ab] / Math.sqrt(view[aa] * view[bb] + 1e-9);
  };
  const sparse: Omit<CoarseFit, 'standout'>[] = [];
  for (let dy = -range; dy <= range; dy += every) for (let dx = -range; dx <= range; dx += every) sparse.push({ dx, dy, turn: 0, score: score(dx, dy) });
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
  const first = best;
  const others = sparse.filter((p) => Math.hypot(p.dx - first.dx, p.dy - first.dy) > PEAK).map((p) => p.score);
  const mean = others.reduce((sum, v) => sum + v, 0) / Math.max(1, others.length);
  const spread = Math.sqrt(others.reduce((sum, v) => sum + (v - mean) ** 2, 0) / Math.max(1, others.length));
  const rated = (fit: Omit<CoarseFit, 'standout'>): CoarseFit => ({ ...fit, standout: (fit.score - mean) / Math.max(0.02, spread) });
  if (first.score <= SURE) {
    const turned = arena.take(b.data.length * 4);
    for (const turn of TURNS) {
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      turnPlane(b, cos, sin, arena.floats(turned, b.data.length));
      // A shift of what was turned is a turned shift.
      const [left, top] = [Math.round(cos * first.dx + sin * first.dy), Math.round(cos * first.dy - sin * first.dx)];
      for (let v = top - TURNED_REACH; v <= top + TURNED_REACH; v++) {
        for (let u = left - TURNED_REACH; u <= left + TURNED_REACH; u++) {
          const value = score(u, v, turned);
          if (value > best.score) best = { dx: cos * u - sin * v, dy: sin * u + cos * v, turn, score: value };
        }
      }
    }
  }
  arena.release(mark);
  return rated(best);
}
