import type { Point } from '@zaddle/document';
import { bilinear, type Plane } from '../image/plane';

/** Steps in which edges are looked for, pixels. */
const STEP = 0.5;
/** Pixels between places along a segment where it is looked at, and how many of them are enough. */
const ALONG = 2;
const ENOUGH = 160;
/** Places along an edge at which what lies beside it is looked at. */
const LOOKS = 40;
/** Stretches of a segment that are bright on one side each: along a window what lies outside changes from bright to dark. */
const STRETCHES = 6;
/** Share of the strongest edge's strength from which another beside it counts. */
const BESIDE = 0.5;
/** Steps of log luminance a pixel below which there is no edge, and how much an edge must stand out from the mean of all lines. */
const LEAST_EDGE = 0.07;
const STANDS_OUT = 1.2;
/** Steepness, stops a pixel, beyond which an edge counts no more: one bright spot must not bend a line. */
const STEEP = 0.6;

export type Vector = readonly [number, number];
export const minus = (a: Point, b: Point): Vector => [a[0] - b[0], a[1] - b[1]];
export const unitNormal = ([x, y]: Vector): Vector => {
  const length = Math.hypot(x, y) || 1;
  return [-y / length, x / length];
};

/** A part of an outline: a straight segment, or a chord of a bent one. */
export interface Part {
  readonly from: Point;
  readonly to: Point;
}

/** How pictures rise to the left of a segment's way, at places along it (rows) and offsets from it (columns), stops a pixel; a picture after the other. */
interface Steepness {
  readonly rows: number;
  readonly columns: number;
  readonly values: readonly Float32Array[];
}

/** @param steps offsets to either side */
function steepness(logs: readonly Plane[], { from, to }: Part, steps: number): Steepness {
  const [dx, dy] = minus(to, from);
  const [nx, ny] = unitNormal([dx, dy]);
  const rows = Math.min(ENOUGH, Math.max(STRETCHES, Math.round(Math.hypot(dx, dy) / ALONG)));
  const columns = 2 * steps + 1;
  const values = logs.map((log) => {
    const out = new Float32Array(rows * columns);
    for (let i = 0; i < rows; i++) {
      // Corners belong to two segments: what lies there says little of either.
      const t = 0.06 + (0.88 * (i + 0.5)) / rows;
      for (let k = 0; k < columns; k++) {
        const off = (k - steps) * STEP;
        const [x, y] = [from[0] + t * dx + off * nx, from[1] + t * dy + off * ny];
        const across = bilinear(log, x + nx, y + ny) - bilinear(log, x - nx, y - ny);
        out[i * columns + k] = Math.max(-STEEP, Math.min(STEEP, across / 2));
      }
    }
    return out;
  });
  return { rows, columns, values };
}

/** How steep pictures are across a line that lies off the segment by a at its start and b at its end, in steps: the mean of its stretches, each with its sign left aside. */
function along({ rows, columns, values }: Steepness, a: number, b: number): number {
  let total = 0;
  for (const picture of values) {
    let sum = 0;
    let stretch = 0;
    for (let i = 0; i < rows; i++) {
      const at = a + (b - a) * (0.06 + (0.88 * (i + 0.5)) / rows);
      const k = Math.min(columns - 2, Math.floor(at));
      const v = picture[i * columns + k];
      sum += v + (at - k) * (picture[i * columns + k + 1] - v);
      const next = Math.floor(((i + 1) * STRETCHES) / rows);
      if (next === stretch) continue;
      stretch = next;
      total += Math.abs(sum);
      sum = 0;
    }
  }
  return total / (rows * values.length);
}

/** The peak of a parabola through three values at -1, 0 and 1. */
const peak = (left: number, middle: number, right: number): number => {
  const bend = left - 2 * middle + right;
  return bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (left - right)) / bend)) : 0;
};

/** Pixels off an edge at which what lies on either side of it is looked at. */
const SIDES = [1.5, 2.5];

/** A straight edge beside a segment. */
export interface Edge {
  /** How far off it lies at the segment's two ends, pixels to the left of its way. */
  readonly start: number;
  readonly end: number;
  /** How steep it is, stops a pixel. */
  readonly strength: number;
  /** What lies to the left and to the right of it: log2 luminance in each picture. */
  readonly left: readonly number[];
  readonly right: readonly number[];
}

/** Mean log2 luminance of each picture along a line beside an edge. @param off pixels to the edge's left */
function beside(logs: readonly Plane[], { from, to }: Part, start: number, end: number, off: number): number[] {
  const [dx, dy] = minus(to, from);
  const [nx, ny] = unitNormal([dx, dy]);
  return logs.map((log) => {
    let sum = 0;
    for (let i = 0; i < LOOKS; i++) {
      const t = 0.06 + (0.88 * (i + 0.5)) / LOOKS;
      const o = start + t * (end - start) + off;
      sum += bilinear(log, from[0] + t * dx + o * nx, from[1] + t * dy + o * ny);
    }
    return sum / LOOKS;
  });
}
const mean = (lists: readonly (readonly number[])[]): number[] => lists[0].map((_, k) => lists.reduce((sum, list) => sum + list[k], 0) / lists.length);

/** Lines beside a segment that are steeper than those next to them: offsets of their ends in steps from the right, and how steep. */
function steepestLines(table: Steepness): { a: number; b: number; strength: number }[] {
  const { columns } = table;
  const lines = new Float32Array(columns * columns);
  let sum = 0;
  for (let a = 0; a < columns; a++) for (let b = 0; b < columns; b++) sum += lines[a * columns + b] = along(table, a, b);
  const usual = sum / columns ** 2;
  const found: { a: number; b: number; strength: number }[] = [];
  for (let a = 1; a < columns - 1; a++) {
    for (let b = 1; b < columns - 1; b++) {
      const i = a * columns + b;
      const strength = lines[i];
      if (strength < LEAST_EDGE || strength < STANDS_OUT * usual) continue;
      let most = true;
      for (let da = -1; da <= 1 && most; da++) for (let db = -1; db <= 1; db++) if (lines[i + da * columns + db] > strength) most = false;
      if (most) found.push({ a: a + peak(lines[i - columns], strength, lines[i + columns]), b: b + peak(lines[i - 1], strength, lines[i + 1]), strength });
    }
  }
  return found;
}

/**
 * The straight edges near a segment that stand out, from its right to its left: over all lines within reach (after Duda and
 * Hart, 1972, between the two ends), each stretch of a line with its own sign. What all pictures say is added: so does a pane
 * count that is clipped by day and dark by flash; a shadow, which lies elsewhere in each, does not.
 * @param logs log2 luminance: pictures of the same place in different light. @param reach pixels to either side
 */
export function edgesBeside(logs: readonly Plane[], part: Part, reach: number): Edge[] {
  const steps = Math.ceil(reach / STEP);
  const found = steepestLines(steepness(logs, part, steps));
  const strongest = Math.max(...found.map(({ strength }) => strength));
  return found.filter(({ strength }) => strength > BESIDE * strongest).map(({ a, b, strength }): Edge => {
    const [start, end] = [(a - steps) * STEP, (b - steps) * STEP];
    const side = (sign: 1 | -1): number[] => mean(SIDES.map((off) => beside(logs, part, start, end, sign * off)));
    return { start, end, strength, left: side(1), right: side(-1) };
  }).sort((p, q) => p.start + p.end - q.start - q.end);
}
