import type { OutlineNode, Point } from '@zaddle/document';
import { meetingLines } from '../geometry/meetingLines';

/** A bent segment: a cubic Bézier curve. */
export type Curve = readonly [Point, Point, Point, Point];
export type Segment = { readonly line: readonly [Point, Point] } | { readonly curve: Curve };

const first = (segment: Segment): Point => ('line' in segment ? segment.line[0] : segment.curve[0]);
const last = (segment: Segment): Point => ('line' in segment ? segment.line[1] : segment.curve[3]);

/** The segment from a node to the next one. */
export function segmentFrom(ring: readonly OutlineNode[], k: number): Segment {
  const [node, next] = [ring[k], ring[(k + 1) % ring.length]];
  if (node.after === null && next.before === null) return { line: [node.at, next.at] };
  return { curve: [node.at, node.after ?? node.at, next.before ?? next.at, next.at] };
}

/**
 * A closed outline whose segments were moved, each by itself: straight ones meet where their lines cross, unless that lies far off;
 * others in the middle between their ends.
 * @param ring as it was. @param segments from each of its nodes to the next. @param reach how far a corner may go, pixels
 */
export function joinSegments(ring: readonly OutlineNode[], segments: readonly Segment[], reach: number): OutlineNode[] {
  return ring.map((node, k) => {
    const [into, out] = [segments[(k + ring.length - 1) % ring.length], segments[k]];
    const [a, b] = [last(into), first(out)];
    const corner = 'line' in into && 'line' in out ? meetingLines(...into.line, ...out.line) : null;
    const near = corner && Math.hypot(corner[0] - node.at[0], corner[1] - node.at[1]) < reach;
    return {
      at: near ? corner : [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2],
      before: node.before && ('curve' in into ? into.curve[2] : node.before),
      after: node.after && ('curve' in out ? out.curve[1] : node.after),
    };
  });
}
