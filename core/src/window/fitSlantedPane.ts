import type { Point } from '@zaddle/document';
import { convexHull } from './convexHull';
import { pixelsOfPane, type PaneQuad } from './fitPane';
import type { Region } from './labelRegions';

/** Least share of a pane that is seen as glass. */
const SEEN = 0.8;

/** Where the lines through a, b and through c, d meet; null where they do not, ahead of b and behind c. */
function ahead(a: Point, b: Point, c: Point, d: Point): Point | null {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const turn = ux * vy - uy * vx;
  if (turn < 1e-6) return null;
  const t = ((c[0] - b[0]) * vy - (c[1] - b[1]) * vx) / turn;
  return t < 0 ? null : [b[0] + t * ux, b[1] + t * uy];
}

const triangle = (a: Point, b: Point, c: Point): number => Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2;

/** A hull brought to four sides: the side whose neighbours meet over the smallest area goes first. null where they do not meet. */
function fourSides(hull: readonly Point[]): Point[] | null {
  const points = [...hull];
  while (points.length > 4) {
    const n = points.length;
    let best: { k: number; at: Point; area: number } | null = null;
    for (let k = 0; k < n; k++) {
      const [a, b, c, d] = [points[k], points[(k + 1) % n], points[(k + 2) % n], points[(k + 3) % n]];
      const at = ahead(a, b, c, d);
      const area = at && triangle(b, at, c);
      if (at && area !== null && !(best && best.area <= area)) best = { k, at, area };
    }
    if (!best) return null;
    const [b, c] = [(best.k + 1) % n, (best.k + 2) % n];
    points[b] = best.at;
    points.splice(c, 1);
  }
  return points.length === 4 ? points : null;
}

/** Corners of the first and the last pixel of every row of a region: no others lie on its hull. */
function rowEnds({ pixels, top, bottom }: Region, width: number): Point[] {
  const first = new Float64Array(bottom - top + 1).fill(Infinity);
  const last = new Float64Array(bottom - top + 1).fill(-Infinity);
  for (const i of pixels) {
    const row = Math.floor(i / width) - top;
    first[row] = Math.min(first[row], i % width);
    last[row] = Math.max(last[row], i % width);
  }
  return Array.from(first, (x, row): Point[] => (last[row] < x ? [] : [-0.5, 0.5].flatMap((half): Point[] => [[x - 0.5, row + top + half], [last[row] + 0.5, row + top + half]]))).flat();
}

/**
 * The pane that a region shows whatever its sides lean to: a window in a slope, or one that is seen at a slant. Its hull is brought to
 * four sides, so that what stands before it takes nothing from it.
 * @returns it with how well it fits, pixels of the region as a share of its own; null where the region has another shape.
 */
export function fitSlantedPane(region: Region, width: number, height: number): { quad: PaneQuad; fit: number } | null {
  const four = fourSides(convexHull(rowEnds(region, width)));
  if (!four) return null;
  const first = four.reduce((best, [x, y], k) => (x + y < four[best][0] + four[best][1] ? k : best), 0);
  const quad = [0, 1, 2, 3].map((k) => four[(first + k) % 4]) as unknown as PaneQuad;
  let area = 0;
  pixelsOfPane(quad, width, height, () => area++);
  const fit = region.pixels.length / Math.max(1, area);
  return fit > SEEN && fit < 1.05 ? { quad, fit: Math.min(1, fit) } : null;
}
