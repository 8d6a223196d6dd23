import type { Point } from '@zaddle/document';
import { bilinear, quantile, type Plane } from '../image/plane';
import { centreOf, type PaneQuad } from './fitPane';
import { polygonArea } from './polygonArea';

/** Widths of bars between panes that are tried, pixels. */
const BARS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as const;
/** Panes of a picture, at most: what repeats without end is no window. */
const MOST_PANES = 80;
/** Step a pixel that a side must show, most of its way. */
const LEAST_STEP = 0.035;
/** Share of a pane that another may take of it and still be one of its own. */
const SAME = 0.3;
/** Share of a pane's area below which another is a patch that was found in it: it takes nothing. */
const PATCH = 0.4;

/** Pictures of which one must show each of so many sides of a pane. */
export interface Proof {
  readonly planes: readonly Plane[];
  readonly sides: number;
}

const plus = ([x, y]: Point, [dx, dy]: Point, k = 1): Point => [x + k * dx, y + k * dy];

/** Corners on the side of a pane that a sibling lies beyond, and those across from them, in one order. */
const NEIGHBOURS: readonly (readonly [near: readonly [number, number], far: readonly [number, number]])[] = [[[1, 2], [0, 3]], [[0, 3], [1, 2]], [[3, 2], [0, 1]], [[0, 1], [3, 2]]];

/** Where a pane like this one would lie beyond one of its sides, with a bar between. */
function beside(quad: PaneQuad, [near, far]: (typeof NEIGHBOURS)[number], bar: number): PaneQuad {
  const moved = [...quad] as Point[];
  for (const k of [0, 1]) {
    const [to, from] = [quad[near[k]], quad[far[k]]];
    const way: Point = [to[0] - from[0], to[1] - from[1]];
    const length = Math.hypot(...way) || 1;
    const unit: Point = [way[0] / length, way[1] / length];
    moved[far[k]] = plus(to, unit, bar);
    moved[near[k]] = plus(to, unit, bar + length);
  }
  return moved as unknown as PaneQuad;
}

/** Step across a side, most of its way, in whichever picture shows it best. */
function stepAcross(from: Point, to: Point, logs: readonly Plane[]): number {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const [nx, ny] = [-(to[1] - from[1]) / length, (to[0] - from[0]) / length];
  let best = 0;
  for (const log of logs) {
    const steps: number[] = [];
    for (let k = 0; k < 24; k++) {
      const [x, y] = plus(from, [to[0] - from[0], to[1] - from[1]], 0.1 + (0.8 * (k + 0.5)) / 24);
      steps.push((bilinear(log, x + nx, y + ny) - bilinear(log, x - nx, y - ny)) / 2);
    }
    best = Math.max(best, Math.abs(quantile(steps, 0.5)));
  }
  return best;
}

/**
 * Panes that belong to a window beside those that were found, over a bar as wide as its edges say: as large as their neighbour,
 * with sides that frames show, and with something in it that may be a view. Repeated until none is added.
 * @param logs log2 luminance of frames, of one size: where its sides lie. @param proof what must show a pane's sides, beside others. @param maybe whether what lies in a pane may be a view
 */
export function siblingPanes(found: readonly PaneQuad[], logs: readonly Plane[], proof: (quad: PaneQuad, others: readonly PaneQuad[]) => Proof, maybe: (quad: PaneQuad, like: PaneQuad, others: readonly PaneQuad[]) => boolean): PaneQuad[] {
  const { width, height } = logs[0];
  const all = [...found];
  const taken = (quad: PaneQuad): boolean => all.some((other) => {
    const [a, b] = [centreOf(quad), centreOf(other)];
    return polygonArea(other) > PATCH * polygonArea(quad) && Math.abs(a[0] - b[0]) < (1 - SAME) * Math.abs(other[1][0] - other[0][0]) && Math.abs(a[1] - b[1]) < (1 - SAME) * Math.abs(other[3][1] - other[0][1]);
  });
  for (let k = 0; k < all.length; k++) {
    for (const neighbour of NEIGHBOURS) {
      if (all.length >= MOST_PANES) return all.slice(found.length);
      if (taken(beside(all[k], neighbour, BARS[BARS.length >> 1]))) continue;
      let best: { quad: PaneQuad; steps: number } | null = null;
      for (const bar of BARS) {
        const quad = beside(all[k], neighbour, bar);
        const steps = quad.reduce((sum, corner, c) => sum + stepAcross(corner, quad[(c + 1) % 4], logs), 0);
        if (!best || steps > best.steps) best = { quad, steps };
      }
      const { quad } = best!;
      const [x, y] = centreOf(quad);
      if (x < 0 || y < 0 || x >= width || y >= height || taken(quad)) continue;
      const { planes, sides } = proof(quad, all);
      const shown = quad.filter((corner, c) => stepAcross(corner, quad[(c + 1) % 4], planes) > LEAST_STEP).length;
      if (shown >= sides && maybe(quad, all[k], all)) all.push(quad);
    }
  }
  return all.slice(found.length);
}
