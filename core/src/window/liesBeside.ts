import type { Point } from '@zaddle/document';
import { centreOf, type PaneQuad } from './fitPane';

/** Pixels between panes that are neighbours, at most, and share of a side along which they lie beside each other. */
const BAR = 14;
const BESIDE = 0.5;

/** A pane turned about so that the side that is looked at is its top: the corners' places, from its left. */
export const TURNS: readonly (readonly [number, number, number, number])[] = [[0, 1, 2, 3], [1, 2, 3, 0], [2, 3, 0, 1], [3, 0, 1, 2]];

/** A place between two. */
export const along = (a: Point, b: Point, t: number): Point => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
/** How far a point lies out beyond the line through a and b, which go round clockwise. */
export function beyond([px, py]: Point, a: Point, b: Point): number {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  return ((b[1] - a[1]) * (px - a[0]) - (b[0] - a[0]) * (py - a[1])) / length;
}
/** Whether one pane lies beside another, over a bar, when their tops are looked at: to its left or to its right. */
export function isBeside([tl, tr, br, bl]: readonly Point[], [otl, otr, obr, obl]: readonly Point[]): boolean {
  const high = Math.hypot(bl[0] - tl[0], bl[1] - tl[1]);
  const overlap = Math.min(beyond(obl, tr, tl), high) - Math.max(beyond(otl, tr, tl), 0);
  const gap = Math.min(Math.abs(beyond(along(otl, obl, 0.5), tr, br)), Math.abs(beyond(along(otr, obr, 0.5), bl, tl)));
  return overlap > BESIDE * high && gap < BAR;
}

/** Whether one pane lies beside another, over a bar, on its left, right, upper or lower side. */
export const liesBeside = (pane: PaneQuad, other: PaneQuad): boolean => TURNS.slice(0, 2).some((turn) => isBeside(turn.map((k) => pane[k]), turn.map((k) => other[k])));

/** Whether panes lie beside a place for one more both across and down, or on two sides of it that face each other. */
export function isEnclosed(quad: PaneQuad, others: readonly PaneQuad[]): boolean {
  const [mx, my] = centreOf(quad);
  const sides = new Set<string>();
  for (const other of others) {
    const [x, y] = centreOf(other);
    TURNS.slice(0, 2).forEach((turn, down) => {
      if (isBeside(turn.map((k) => quad[k]), turn.map((k) => other[k]))) sides.add(down === 0 ? (x < mx ? 'left' : 'right') : y < my ? 'above' : 'below');
    });
  }
  return sides.size > 1;
}
