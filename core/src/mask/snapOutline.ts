import type { OutlineNode, Point } from '@zaddle/document';
import { meetingLines } from '../geometry/meetingLines';
import { boxBlur } from '../image/boxBlur';
import { bilinear, type Plane } from '../image/plane';

/** How far off an edge may lie, shares of the picture's longer side, and steps in which it is looked for, pixels. */
const REACH = 0.008;
const STEP = 0.5;
/** Pixels between places along a segment where it is looked at, and how many of them are enough. */
const ALONG = 2;
const ENOUGH = 160;
/** Share of the strongest edge that a nearer one may have and still be taken: what is off costs. */
const FAR_COSTS = 0.5;
/** Steps of log luminance a pixel below which there is no edge, and how much an edge must stand out from what lies beside it. */
const LEAST_EDGE = 0.02;
const STANDS_OUT = 1.8;
/** Steepness, stops a pixel, beyond which an edge counts no more: one bright spot must not bend a line. */
const STEEP = 0.6;

/** How a segment lies off its place at its two ends, pixels along its normal, and how much the edge there stands out; all 0 where no edge is found. */
interface Offsets {
  readonly start: number;
  readonly end: number;
  readonly score: number;
}

const NOWHERE: Offsets = { start: 0, end: 0, score: 0 };

/** Which side of an edge is brighter: that on the left of a segment's way, or that on its right. */
type Side = 1 | -1;
const SIDES: readonly Side[] = [1, -1];

type Vector = readonly [number, number];
const minus = (a: Point, b: Point): Vector => [a[0] - b[0], a[1] - b[1]];
const unitNormal = ([x, y]: Vector): Vector => {
  const length = Math.hypot(x, y) || 1;
  return [-y / length, x / length];
};

/** A part of an outline: a straight segment, or a chord of a bent one. */
interface Part {
  readonly from: Point;
  readonly to: Point;
}

/** How steeply a picture rises towards one side of a segment, at places along it (rows) and offsets from it (columns), stops a pixel. */
interface Steepness {
  readonly rows: number;
  readonly columns: number;
  readonly values: Float32Array;
}

/** @param steps offsets to either side */
function steepness(log: Plane, { from, to }: Part, steps: number, side: Side): Steepness {
  const [dx, dy] = minus(to, from);
  const [nx, ny] = unitNormal([dx, dy]);
  const rows = Math.min(ENOUGH, Math.max(4, Math.round(Math.hypot(dx, dy) / ALONG)));
  const columns = 2 * steps + 1;
  const values = new Float32Array(rows * columns);
  for (let i = 0; i < rows; i++) {
    // Corners belong to two segments: what lies there says little of either.
    const t = 0.06 + (0.88 * (i + 0.5)) / rows;
    for (let k = 0; k < columns; k++) {
      const off = (k - steps) * STEP;
      const [x, y] = [from[0] + t * dx + off * nx, from[1] + t * dy + off * ny];
      const across = bilinear(log, x + nx, y + ny) - bilinear(log, x - nx, y - ny);
      values[i * columns + k] = Math.min(STEEP, Math.max(0, side * across) / 2);
    }
  }
  return { rows, columns, values };
}

/** The mean steepness along a line that lies off the segment by a at its start and b at its end, in steps. */
function along({ rows, columns, values }: Steepness, a: number, b: number): number {
  let sum = 0;
  for (let i = 0; i < rows; i++) {
    const at = a + (b - a) * (0.06 + (0.88 * (i + 0.5)) / rows);
    const k = Math.min(columns - 2, Math.floor(at));
    const v = values[i * columns + k];
    sum += v + (at - k) * (values[i * columns + k + 1] - v);
  }
  return sum / rows;
}

/** The peak of a parabola through three values at -1, 0 and 1. */
const peak = (left: number, middle: number, right: number): number => {
  const bend = left - 2 * middle + right;
  return bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (left - right)) / bend)) : 0;
};

/** Where near a segment the straight edge lies that stands out most: every line between offsets at its two ends is tried. */
function nearestEdge(table: Steepness): Offsets {
  const { columns } = table;
  const steps = (columns - 1) / 2;
  let best = { score: 0, edge: 0, a: steps, b: steps };
  let sum = 0;
  const cost = (k: number): number => ((k - steps) / steps) ** 2;
  for (let a = 1; a < columns - 1; a++) {
    for (let b = 1; b < columns - 1; b++) {
      const edge = along(table, a, b);
      sum += edge;
      const score = edge * (1 - (FAR_COSTS * (cost(a) + cost(b))) / 2);
      if (score > best.score) best = { score, edge, a, b };
    }
  }
  const usual = sum / (columns - 2) ** 2;
  if (best.edge < LEAST_EDGE || best.edge < STANDS_OUT * usual) return NOWHERE;
  const at = (a: number, b: number): number => along(table, Math.max(0, Math.min(columns - 1, a)), Math.max(0, Math.min(columns - 1, b)));
  // What is off costs when edges are chosen, not where the chosen one lies.
  for (let climbed = true; climbed; ) {
    climbed = false;
    for (const [da, db] of [[1, 0], [-1, 0], [0, 1], [0, -1], [1, 1], [-1, -1], [1, -1], [-1, 1]]) {
      const edge = at(best.a + da, best.b + db);
      if (edge <= best.edge || Math.min(best.a + da, best.b + db) < 1 || Math.max(best.a + da, best.b + db) > columns - 2) continue;
      best = { ...best, edge, a: best.a + da, b: best.b + db };
      climbed = true;
    }
  }
  const [a, b] = [best.a + peak(at(best.a - 1, best.b), best.edge, at(best.a + 1, best.b)), best.b + peak(at(best.a, best.b - 1), best.edge, at(best.a, best.b + 1))];
  return { start: (a - steps) * STEP, end: (b - steps) * STEP, score: best.score };
}

const at = (p: readonly Point[], t: number): Point => [0, 1].map((c) => (1 - t) ** 3 * p[0][c] + 3 * t * (1 - t) ** 2 * p[1][c] + 3 * t * t * (1 - t) * p[2][c] + t ** 3 * p[3][c]) as unknown as Point;

/** What one picture says of all parts of an outline, whose edges are bright on one side: that of its inside, or that of its outside. */
function oneSided(log: Plane, parts: readonly Part[], steps: number): { weight: number; tables: readonly Steepness[] } {
  const lengths = parts.map(({ from, to }) => Math.hypot(...minus(to, from)));
  const [inside, outside] = SIDES.map((side) => {
    const tables = parts.map((part) => steepness(log, part, steps, side));
    return { tables, weight: tables.reduce((sum, table, k) => sum + nearestEdge(table).score * lengths[k], 0) };
  });
  return inside.weight >= outside.weight ? inside : outside;
}

/**
 * Each part moved onto its edge, as its two ends. In every picture the edges of one outline are bright on one side; what all of
 * them say is added, by how much each says. So does a pane count that is clipped by day and dark by flash; a shadow, which lies
 * elsewhere in each, does not.
 */
function movedParts(logs: readonly Plane[], parts: readonly Part[]): (readonly [Point, Point])[] {
  const steps = Math.ceil((REACH * Math.max(logs[0].width, logs[0].height)) / STEP);
  const all = logs.map((log) => oneSided(log, parts, steps));
  const most = Math.max(...all.map(({ weight }) => weight));
  return parts.map(({ from, to }, k) => {
    const sum = all[0].tables[k].values.map((_, i) => all.reduce((total, { tables, weight }) => total + (most > 0 ? weight / most : 1) * tables[k].values[i], 0));
    const { start, end } = nearestEdge({ ...all[0].tables[k], values: sum });
    const [nx, ny] = unitNormal(minus(to, from));
    return [[from[0] + start * nx, from[1] + start * ny], [to[0] + end * nx, to[1] + end * ny]];
  });
}

/** Bent segments are taken in so many chords. */
const CHORDS = 8;

type Curve = readonly [Point, Point, Point, Point];
const chordsOf = (p: Curve): Part[] => Array.from({ length: CHORDS }, (_, k) => ({ from: at(p, k / CHORDS), to: at(p, (k + 1) / CHORDS) }));

/** A bent segment, its ends and the points that bend it carried along by what its chords were moved by. */
function carriedCurve(p: Curve, chords: readonly Part[], moved: readonly (readonly [Point, Point])[]): Curve {
  const shift = (t: number): Vector => {
    const k = Math.min(CHORDS - 1, Math.floor(t * CHORDS));
    const s = t * CHORDS - k;
    const [a, b] = [minus(moved[k][0], chords[k].from), minus(moved[k][1], chords[k].to)];
    return [a[0] * (1 - s) + b[0] * s, a[1] * (1 - s) + b[1] * s];
  };
  return p.map((q, i): Point => { const [x, y] = shift(i / 3); return [q[0] + x, q[1] + y]; }) as unknown as Curve;
}

/**
 * A closed outline that was drawn roughly, moved onto the edges that it was meant for: each straight segment onto the straight
 * edge near it that stands out most, over all lines within reach (after Duda and Hart, 1972, between the two ends), all of them
 * bright on the same side in each picture, corners to where those lines meet; bent ones chord by chord. Where no edge stands out, it stays as it was drawn.
 * @param logs log2 luminance of what it is to follow: pictures of the same place in different light. @param ring its nodes, pixels of those planes
 */
export function snapOutline(logs: readonly Plane[], ring: readonly OutlineNode[]): OutlineNode[] {
  const calm = logs.map((log) => boxBlur(log, 1));
  const n = ring.length;
  const curveOf = (k: number): Curve => { const [node, next] = [ring[k], ring[(k + 1) % n]]; return [node.at, node.after ?? node.at, next.before ?? next.at, next.at]; };
  const bent = ring.map((node, k) => node.after !== null || ring[(k + 1) % n].before !== null);
  const parts = ring.map((node, k) => (bent[k] ? chordsOf(curveOf(k)) : [{ from: node.at, to: ring[(k + 1) % n].at }]));
  const moved = movedParts(calm, parts.flat());
  const own = parts.map((list, k) => { const start = parts.slice(0, k).reduce((sum, p) => sum + p.length, 0); return moved.slice(start, start + list.length); });
  const lines = ring.map((_, k) => (bent[k] ? null : own[k][0]));
  const curves = ring.map((_, k) => (bent[k] ? carriedCurve(curveOf(k), parts[k], own[k]) : null));
  const reach = 2 * REACH * Math.max(logs[0].width, logs[0].height);
  return ring.map((node, k) => {
    const before = (k + n - 1) % n;
    const [into, out] = [lines[before], lines[k]];
    const ends: Point[] = [into?.[1] ?? curves[before]![3], out?.[0] ?? curves[k]![0]];
    const corner = into && out ? meetingLines(...into, ...out) : null;
    const middle: Point = [(ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2];
    const placed = corner && Math.hypot(...minus(corner, node.at)) < reach ? corner : middle;
    return { at: placed, before: node.before && (curves[before]?.[2] ?? node.before), after: node.after && (curves[k]?.[1] ?? node.after) };
  });
}
