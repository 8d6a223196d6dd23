import type { OutlineNode, Point } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import type { Plane } from '../image/plane';
import { edgeMiddle, whiteOf } from './edgeMiddle';
import { edgesBeside, minus, unitNormal, type Part, type Vector } from './edgesBeside';
import { joinSegments, segmentFrom, type Curve, type Segment } from './joinSegments';
import { meantEdges } from './meantEdges';

/** How far off an edge may lie, shares of the picture's longer side. */
const REACH = 0.008;

const at = (p: readonly Point[], t: number): Point => [0, 1].map((c) => (1 - t) ** 3 * p[0][c] + 3 * t * (1 - t) ** 2 * p[1][c] + 3 * t * t * (1 - t) * p[2][c] + t ** 3 * p[3][c]) as unknown as Point;

/** Twice the area that parts go round, positive where it lies on the left of their way. */
const turn = (parts: readonly Part[]): number => parts.reduce((sum, { from, to }) => sum + from[0] * to[1] - from[1] * to[0], 0);

/** Each part moved onto its edge, as its two ends; where no edge stands out, as it was. */
function movedParts(logs: readonly Plane[], parts: readonly Part[]): (readonly [Point, Point])[] {
  const calm = logs.map((log) => boxBlur(log, 1));
  const whites = logs.map(whiteOf);
  const reach = REACH * Math.max(logs[0].width, logs[0].height);
  const inner = turn(parts) > 0 ? 1 : -1;
  const meant = meantEdges(parts.map((part) => ({ edges: edgesBeside(calm, part, reach), inner, length: Math.hypot(...minus(part.to, part.from)) })), reach);
  return parts.map(({ from, to }, k) => {
    const edge = meant[k];
    if (!edge) return [from, to];
    const [nx, ny] = unitNormal(minus(to, from));
    return edgeMiddle(logs, whites, [from[0] + edge.start * nx, from[1] + edge.start * ny], [to[0] + edge.end * nx, to[1] + edge.end * ny]);
  });
}

/** Bent segments are taken in so many chords. */
const CHORDS = 8;

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
 * edge near it, corners to where those lines meet; bent ones chord by chord. Where no edge stands out, it stays as it was drawn.
 * @param logs log2 luminance of what it is to follow: pictures of the same place in different light. @param ring its nodes, pixels of those planes
 */
export function snapOutline(logs: readonly Plane[], ring: readonly OutlineNode[]): OutlineNode[] {
  const segments = ring.map((_, k) => segmentFrom(ring, k));
  const parts = segments.map((segment): Part[] => ('curve' in segment ? chordsOf(segment.curve) : [{ from: segment.line[0], to: segment.line[1] }]));
  const moved = movedParts(logs, parts.flat());
  const own = parts.map((list, k) => { const start = parts.slice(0, k).reduce((sum, p) => sum + p.length, 0); return moved.slice(start, start + list.length); });
  const placed = segments.map((segment, k): Segment => ('curve' in segment ? { curve: carriedCurve(segment.curve, parts[k], own[k]) } : { line: own[k][0] }));
  return joinSegments(ring, placed, 2 * REACH * Math.max(logs[0].width, logs[0].height));
}
