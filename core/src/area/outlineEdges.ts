import type { OutlineNode, Point } from '@zaddle/document';
import type { Placing } from '../kind/placing';
import type { Pointer } from '../kernels/kernels';

/** Closed outlines as straight edges in kernel memory, pixels of the reference, and the width over which they rise. */
export interface PlacedOutline {
  readonly edges: Pointer;
  readonly count: number;
  readonly width: number;
}

/** How far, in pixels of the grid, a chord may lie off its curve. */
const OFF = 0.03;
const MOST_CHORDS = 96;

/** The chords of a cubic Bézier curve, evenly spaced: as many as its second differences ask for (Wang 1984). */
function chords(p: readonly [Point, Point, Point, Point], off: number, out: Point[]): void {
  const bend = (a: Point, b: Point, c: Point): number => Math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]);
  const count = Math.max(1, Math.min(MOST_CHORDS, Math.ceil(Math.sqrt((0.75 * Math.max(bend(p[0], p[1], p[2]), bend(p[1], p[2], p[3]))) / off))));
  for (let k = 1; k <= count; k++) {
    const t = k / count;
    const shares = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
    out.push([0, 1].map((c) => shares.reduce((sum, share, i) => sum + share * p[i][c], 0)) as unknown as Point);
  }
}

/** Lays closed outlines out for a grid. @param softness width of the soft edge, longer sides of the reference */
export function placeOutline(rings: readonly (readonly OutlineNode[])[], softness: number, placing: Placing): PlacedOutline {
  const { full, pixel } = placing.shapes;
  const edges: number[] = [];
  for (const ring of rings) {
    let from = ring[0].at;
    ring.forEach((node, k) => {
      const next = ring[(k + 1) % ring.length];
      const points: Point[] = [];
      if (node.after || next.before) chords([node.at, node.after ?? node.at, next.before ?? next.at, next.at], (OFF * pixel) / full, points);
      else points.push(next.at);
      for (const to of points) {
        edges.push(from[0] * full, from[1] * full, to[0] * full, to[1] * full);
        from = to;
      }
    });
  }
  return { edges: placing.once(edges), count: edges.length / 4, width: Math.max(pixel, softness * full) };
}
