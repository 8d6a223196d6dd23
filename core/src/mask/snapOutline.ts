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
/** Stretches of a segment that are bright on one side each: along a window what lies outside changes from bright to dark. */
const STRETCHES = 6;
/** Share of the strongest edge's strength from which another beside it counts. */
const BESIDE = 0.5;
/** How likely an edge is meant: the usual distance of a rough end from it, shares of the reach, and how much more likely twice as strong a one is, as a power. */
const ROUGH = 2 / 3;
const BY_STRENGTH = 3;
/** How much less likely than the likeliest an edge further inside may be and still be taken, as a natural logarithm. */
const INSIDE_FIRST = 1;
/** Steps of log luminance a pixel below which there is no edge, and how much an edge must stand out from the mean of all lines. */
const LEAST_EDGE = 0.07;
const STANDS_OUT = 1.2;
/** Steepness, stops a pixel, beyond which an edge counts no more: one bright spot must not bend a line. */
const STEEP = 0.6;

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

/** A straight edge beside a segment: how far off it lies at the segment's two ends, pixels to the left of its way, and how steep it is. */
interface Edge {
  readonly start: number;
  readonly end: number;
  readonly strength: number;
}

/** The straight edges near a segment that stand out, from its right to its left. */
function edgesBeside(table: Steepness): Edge[] {
  const { columns } = table;
  const steps = (columns - 1) / 2;
  const lines = new Float32Array(columns * columns);
  let sum = 0;
  for (let a = 0; a < columns; a++) for (let b = 0; b < columns; b++) sum += lines[a * columns + b] = along(table, a, b);
  const usual = sum / columns ** 2;
  const peaks: { a: number; b: number; edge: number }[] = [];
  for (let a = 1; a < columns - 1; a++) {
    for (let b = 1; b < columns - 1; b++) {
      const i = a * columns + b;
      const edge = lines[i];
      if (edge < LEAST_EDGE || edge < STANDS_OUT * usual) continue;
      let most = true;
      for (let da = -1; da <= 1 && most; da++) for (let db = -1; db <= 1; db++) if (lines[i + da * columns + db] > edge) most = false;
      if (most) peaks.push({ a, b, edge });
    }
  }
  const strongest = Math.max(...peaks.map((p) => p.edge));
  return peaks.filter((p) => p.edge > BESIDE * strongest).map(({ a, b, edge }) => {
    const i = a * columns + b;
    return { start: (a + peak(lines[i - columns], edge, lines[i + columns]) - steps) * STEP, end: (b + peak(lines[i - 1], edge, lines[i + 1]) - steps) * STEP, strength: edge };
  }).sort((p, q) => p.start + p.end - q.start - q.end);
}

const at = (p: readonly Point[], t: number): Point => [0, 1].map((c) => (1 - t) ** 3 * p[0][c] + 3 * t * (1 - t) ** 2 * p[1][c] + 3 * t * t * (1 - t) * p[2][c] + t ** 3 * p[3][c]) as unknown as Point;

/** Twice the area that parts go round, positive where it lies on the left of their way. */
const turn = (parts: readonly Part[]): number => parts.reduce((sum, { from, to }) => sum + from[0] * to[1] - from[1] * to[0], 0);

/**
 * The edge that was meant: of those that are about as likely as the likeliest, the innermost. Panes and pictures are seldom
 * bounded by one edge: a reveal, a bar and what lies behind the bar follow a few pixels further out, just as strong; what is
 * drawn round is the thing inside.
 * @param inner 1 where the inside lies to the left of the way, else -1
 */
function meantEdge(edges: readonly Edge[], reach: number, inner: 1 | -1): Edge | null {
  const strongest = Math.max(...edges.map(({ strength }) => strength));
  const unlikely = ({ start, end, strength }: Edge): number => (start ** 2 + end ** 2) / (2 * (ROUGH * reach) ** 2) - BY_STRENGTH * Math.log(strength / strongest);
  const least = Math.min(...edges.map(unlikely));
  const meant = edges.filter((edge) => unlikely(edge) <= least + INSIDE_FIRST);
  return (inner > 0 ? meant.at(-1) : meant[0]) ?? null;
}

/** Each part moved onto its edge, as its two ends. What all pictures say of an edge is added: so does a pane count that is clipped by day and dark by flash; a shadow, which lies elsewhere in each, does not. */
function movedParts(logs: readonly Plane[], parts: readonly Part[]): (readonly [Point, Point])[] {
  const steps = Math.ceil((REACH * Math.max(logs[0].width, logs[0].height)) / STEP);
  const inner = turn(parts) > 0 ? 1 : -1;
  return parts.map((part) => {
    const { from, to } = part;
    const { start, end } = meantEdge(edgesBeside(steepness(logs, part, steps)), steps * STEP, inner) ?? { start: 0, end: 0 };
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
 * A closed outline that was drawn roughly, moved onto the edges that it was meant for: each straight segment onto a straight
 * edge near it, over all lines within reach (after Duda and Hart, 1972, between the two ends), the innermost of those that
 * stand out about as much, corners to where those lines meet; bent ones chord by chord. Where no edge stands out, it stays as it was drawn.
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
