import type { Point } from '@zaddle/document';
import { meetingLines } from '../geometry/meetingLines';
import { quantile } from '../image/plane';
import type { PaneQuad } from './fitPane';

/** Sides from which on most of them tell where their line is. */
const LEAST = 3;

type Line = readonly [Point, Point];
const sideOf = (quad: PaneQuad, k: number): Line => [quad[k], quad[(k + 1) % 4]];

/** Shares along a line, and places beyond its left, of a point. */
function seenFrom([a, b]: Line, [x, y]: Point): readonly [along: number, off: number] {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const square = dx * dx + dy * dy;
  return [((x - a[0]) * dx + (y - a[1]) * dy) / square, ((x - a[0]) * dy - (y - a[1]) * dx) / Math.sqrt(square)];
}

/** The line of most of some sides, by the middle of all slopes between their ends (Theil 1950; Sen, JASA 1968), as places beyond a given line. */
function mostly(samples: readonly (readonly [along: number, off: number])[]): (along: number) => number {
  const slopes = samples.flatMap(([s, u], k) => samples.slice(k + 1).flatMap(([t, v]) => (Math.abs(t - s) > 1e-3 ? [(v - u) / (t - s)] : [])));
  const slope = quantile(slopes, 0.5);
  const offset = quantile(samples.map(([s, u]) => u - slope * s), 0.5);
  return (along) => offset + slope * along;
}

/**
 * Panes of one window have sides in common lines: a side that went to another edge than those which it lay in one line with is brought back into theirs.
 * @param before panes while these sides lay in one line, clockwise from the top left @param after the same panes, each side moved by itself
 * @param near how far a side may lie off the line of the others, in places of the panes
 */
export function alignSides(before: readonly PaneQuad[], after: readonly PaneQuad[], near: number): PaneQuad[] {
  const sides: Line[][] = after.map((quad) => [0, 1, 2, 3].map((k) => sideOf(quad, k)));
  for (let k = 0; k < 4; k++) {
    const left = new Set(before.keys());
    for (const r of left) {
      const line = sideOf(before[r], k);
      const group = [...left].filter((other) => sideOf(before[other], k).every((end) => Math.abs(seenFrom(line, end)[1]) < near / 2));
      for (const other of group) left.delete(other);
      if (group.length < LEAST) continue;
      const at = mostly(group.flatMap((other) => sides[other][k].map((end) => seenFrom(line, end))));
      const [[ax, ay], [bx, by]] = line;
      const length = Math.hypot(bx - ax, by - ay);
      const placeAt = (along: number): Point => [ax + along * (bx - ax) + (at(along) * (by - ay)) / length, ay + along * (by - ay) - (at(along) * (bx - ax)) / length];
      for (const other of group) {
        const ends = sides[other][k].map((end) => seenFrom(line, end));
        if (ends.some(([along, off]) => Math.abs(off - at(along)) > near)) sides[other][k] = [placeAt(ends[0][0]), placeAt(ends[1][0])];
      }
    }
  }
  return after.map((quad, r) => quad.map((corner, k) => meetingLines(...sides[r][(k + 3) % 4], ...sides[r][k]) ?? corner) as unknown as PaneQuad);
}
