import type { Point } from '@zaddle/document';
import type { PaneQuad } from './fitPane';

const between = (a: Point, b: Point, t: number): Point => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
const distance = (a: Point, b: Point): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

/** A place within four corners, by shares across and down. */
export const placeIn = ([a, b, c, d]: PaneQuad, s: number, t: number): Point => between(between(a, b, s), between(d, c, s), t);

/** How wide and how high a pane is, in the middle. */
export const sidesOf = ([a, b, c, d]: PaneQuad): [across: number, down: number] => [0.5 * (distance(a, b) + distance(d, c)), 0.5 * (distance(a, d) + distance(b, c))];
