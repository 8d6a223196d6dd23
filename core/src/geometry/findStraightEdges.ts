import type { Plane } from '../image/plane';

/** A long edge that is straight or nearly so: points along it, x and y alternating, in pixels of the plane. */
export type Edge = Float64Array;

/** Grey levels (0..255) between the neighbours of an edge pixel. */
const LEAST_STEP = 10;
/** Share of the longer side that an edge must be long. */
const LEAST_LENGTH = 0.07;
/** Share of the longer side by which an edge may bend: more than a lens does, less than things that are round. */
const LARGEST_BEND = 0.006;

/** Sub-pixel places, along one axis, where the grey steps most; sign of the step, or 0 where there is none. */
interface Steps {
  readonly offset: Float32Array;
  readonly sign: Int8Array;
}

/** Steps across x (near-vertical edges), or across y, by the parabola through three gradients (Devernay 1995). */
function findSteps(plane: Plane, acrossX: boolean): Steps {
  const { width: w, height: h, data } = plane;
  const offset = new Float32Array(w * h);
  const sign = new Int8Array(w * h);
  const by = acrossX ? 1 : w;
  const along = acrossX ? w : 1;
  for (let y = 2; y < h - 2; y++) {
    for (let x = 2; x < w - 2; x++) {
      const i = y * w + x;
      const g = data[i + by] - data[i - by];
      const size = Math.abs(g);
      if (size < LEAST_STEP || Math.abs(data[i + along] - data[i - along]) > size) continue;
      const before = Math.abs(data[i] - data[i - 2 * by]);
      const after = Math.abs(data[i + 2 * by] - data[i]);
      if (size < before || size <= after) continue;
      sign[i] = g > 0 ? 1 : -1;
      offset[i] = (0.5 * (before - after)) / Math.min(-1e-6, before - 2 * size + after);
    }
  }
  return { offset, sign };
}

/** Where the step next to a place on a line is that goes on a chain; negative: nowhere. */
function nextAt(sign: Int8Array, used: Uint8Array, row: number, step: number, here: number, length: number, wanted: number): number {
  for (let k = 0; k < 3; k++) {
    const c = here + (k === 2 ? 1 : -k);
    const p = row + c * step;
    if (c >= 2 && c < length - 2 && sign[p] === wanted && used[p] === 0) return c;
  }
  return -1;
}

/** Links steps from line to line into chains of (position across, position along) of at least so many. */
function linkChains({ offset, sign }: Steps, w: number, h: number, acrossX: boolean, least: number): [number, number][][] {
  const [lines, length, lineStep, step] = acrossX ? [h, w, w, 1] : [w, h, 1, w];
  const used = new Uint8Array(w * h);
  const chains: [number, number][][] = [];
  // Most chains are short: only what is long enough becomes one.
  const across = new Float64Array(lines);
  for (let line = 2; line < lines - 2; line++) {
    for (let at = 2; at < length - 2; at++) {
      const i = line * lineStep + at * step;
      if (sign[i] === 0 || used[i]) continue;
      let here = at;
      let end = line;
      for (; end < lines - 2; end++) {
        const q = nextAt(sign, used, end * lineStep, step, here, length, sign[i]);
        if (q < 0) break;
        const p = end * lineStep + q * step;
        used[p] = 1;
        across[end] = q + offset[p];
        here = q;
      }
      if (end - line >= least) chains.push(Array.from({ length: end - line }, (_, k) => [across[line + k], line + k]));
    }
  }
  return chains;
}

/** Splits a chain where it leaves the straight line between its ends by more than `tolerance` (Douglas, Peucker 1973). */
function split(chain: readonly [number, number][], tolerance: number, least: number, take: (part: readonly [number, number][]) => void): void {
  if (chain.length < least) return;
  const [a0, l0] = chain[0];
  const [a1, l1] = chain[chain.length - 1];
  let worst = 0;
  let at = 0;
  chain.forEach(([a, l], k) => {
    const d = Math.abs(a - a0 - ((a1 - a0) * (l - l0)) / (l1 - l0));
    if (d > worst) {
      worst = d;
      at = k;
    }
  });
  if (worst <= tolerance) return take(chain);
  split(chain.slice(0, at), tolerance, least, take);
  split(chain.slice(at), tolerance, least, take);
}

/** Long edges of a grey plane (0..255) that are straight but for what a lens bends. */
export function findStraightEdges(plane: Plane): Edge[] {
  const { width: w, height: h } = plane;
  const side = Math.max(w, h);
  const edges: Edge[] = [];
  for (const acrossX of [true, false]) {
    for (const chain of linkChains(findSteps(plane, acrossX), w, h, acrossX, LEAST_LENGTH * side)) {
      split(chain, LARGEST_BEND * side, LEAST_LENGTH * side, (part) => edges.push(Float64Array.from(part.flatMap(([across, along]) => (acrossX ? [across, along] : [along, across])))));
    }
  }
  return edges;
}
