import type { Plane } from '../image/plane';

type Point = readonly [number, number];

/** Pixels to either side of a line in which its edge is looked for, and stations along it. */
const REACH = 9;
const STATIONS = 48;
/** Steps of a pixel that are told apart. */
const STEP = 0.5;
const OFFSETS = (2 * REACH) / STEP + 1;
/** Mean step of grey (0..255) over two pixels across an edge that is worth following. */
const LEAST_STEP = 3;
/** What an edge far from where the line was drawn counts less, per reach. */
const NEARNESS = 0.35;

/** Grey between pixels, bilinear; edges repeat. */
function greyAt({ data, width, height }: Plane, x: number, y: number): number {
  const [cx, cy] = [Math.min(width - 1.001, Math.max(0, x)), Math.min(height - 1.001, Math.max(0, y))];
  const [i, j] = [Math.floor(cx), Math.floor(cy)];
  const [u, v] = [cx - i, cy - j];
  const p = j * width + i;
  return (1 - v) * ((1 - u) * data[p] + u * data[p + 1]) + v * ((1 - u) * data[p + width] + u * data[p + width + 1]);
}

/** Signed steps of grey across a line: row by row of stations, at offsets from -REACH to REACH. */
function stepsAcross(plane: Plane, [x0, y0]: Point, [x1, y1]: Point): Float32Array {
  const length = Math.hypot(x1 - x0, y1 - y0);
  const [nx, ny] = [(y0 - y1) / length, (x1 - x0) / length];
  const steps = new Float32Array(STATIONS * OFFSETS);
  for (let s = 0; s < STATIONS; s++) {
    const t = (s + 0.5) / STATIONS;
    const [x, y] = [x0 + t * (x1 - x0), y0 + t * (y1 - y0)];
    for (let k = 0; k < OFFSETS; k++) {
      const o = k * STEP - REACH;
      steps[s * OFFSETS + k] = greyAt(plane, x + (o + 1) * nx, y + (o + 1) * ny) - greyAt(plane, x + (o - 1) * nx, y + (o - 1) * ny);
    }
  }
  return steps;
}

/** Mean of steps along the straight line from one offset at its beginning to another at its end; offsets in steps. */
function meanAlong(steps: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let s = 0; s < STATIONS; s++) {
    const at = from + ((s + 0.5) / STATIONS) * (to - from);
    const k = Math.max(0, Math.min(OFFSETS - 2, Math.floor(at)));
    // Edges of one thing step the same way all along; what crosses the line, strong as it may be, counts as one step.
    const step = steps[s * OFFSETS + k] + (at - k) * (steps[s * OFFSETS + k + 1] - steps[s * OFFSETS + k]);
    sum += Math.max(-40, Math.min(40, step));
  }
  return sum / STATIONS;
}

/** Steps to either side of a found line from which its place between steps is told, and rounds of doing so. */
const ABOUT = 4;
const ROUNDS = 3;

/** Offsets of a line's ends once it follows the middle of the edge that it lies on: a weighted least-squares line through each station's own middle. */
function between(steps: Float32Array, from: number, to: number): [number, number] {
  const sign = Math.sign(meanAlong(steps, from, to));
  for (let round = 0; round < ROUNDS; round++) {
    let [w0, w1, w2, o0, o1] = [0, 0, 0, 0, 0];
    for (let s = 0; s < STATIONS; s++) {
      const t = (s + 0.5) / STATIONS;
      const at = Math.round(from + t * (to - from));
      let [sum, weight] = [0, 0];
      for (let k = Math.max(0, at - ABOUT); k <= Math.min(OFFSETS - 1, at + ABOUT); k++) {
        const g = Math.max(0, sign * steps[s * OFFSETS + k]) ** 2;
        sum += g * k;
        weight += g;
      }
      if (weight === 0) continue;
      // A station counts by how strong its step is, up to what all have.
      const w = Math.min(1, weight / LEAST_STEP ** 2);
      w0 += w;
      w1 += w * t;
      w2 += w * t * t;
      o0 += (w * sum) / weight;
      o1 += (w * t * sum) / weight;
    }
    const determinant = w0 * w2 - w1 * w1;
    if (!(determinant > 1e-9)) return [from, to];
    const [start, rise] = [(w2 * o0 - w1 * o1) / determinant, (w0 * o1 - w1 * o0) / determinant];
    [from, to] = [start, start + rise];
  }
  return [from, to];
}

/**
 * A line moved onto the straight edge next to it: the offsets of its two ends along which grey steps most, the same way from
 * end to end, then between steps by a line through the edge's own middle. Null where no edge stands out.
 * @param plane grey 0..255; @param from, to pixels of the plane
 */
export function snapLine(plane: Plane, from: Point, to: Point): { from: Point; to: Point } | null {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (length < 4 * REACH) return null;
  const steps = stepsAcross(plane, from, to);
  const middle = (OFFSETS - 1) / 2;
  const far = (a: number, b: number): number => 1 - (NEARNESS * (Math.abs(a - middle) + Math.abs(b - middle))) / (2 * middle);
  let [best, a, b] = [0, 0, 0];
  for (let i = 0; i < OFFSETS; i++) {
    for (let k = 0; k < OFFSETS; k++) {
      const value = Math.abs(meanAlong(steps, i, k)) * far(i, k);
      if (value > best) [best, a, b] = [value, i, k];
    }
  }
  if (best < LEAST_STEP) return null;
  const [start, end] = between(steps, a, b);
  const [oa, ob] = [start * STEP - REACH, end * STEP - REACH];
  const [nx, ny] = [(from[1] - to[1]) / length, (to[0] - from[0]) / length];
  return { from: [from[0] + oa * nx, from[1] + oa * ny], to: [to[0] + ob * nx, to[1] + ob * ny] };
}
