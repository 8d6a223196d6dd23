import type { Point } from '@zaddle/document';
import { quantile } from '../image/plane';
import type { Region } from './labelRegions';

/** Four corners: top left, top right, bottom right, bottom left, places of pixel centres. */
export type PaneQuad = readonly [Point, Point, Point, Point];

/** Share of a side's length at either end that belongs to the corners. */
const CORNERS = 0.08;
/** How much further out than the middle of its points a side lies: what stands before a pane only takes from it. */
const OUTWARD = 0.85;
/** Pixels by which a pane is larger than what looks like outside: where it meets its bars a little flash light is as good as much. */
const SHY = 0.7;
/** Pixels that the points of a straight side lie off it. */
const STRAIGHT = 0.15;
/** Rounds of reweighting. */
const ROUNDS = 12;
/** Least share of a pane that is seen as glass, and most of what is seen that may lie beyond it. */
const SEEN = 0.7;
const BEYOND = 0.06;
/** Pixels of the shortest side. */
const SHORTEST = 5;

/** A line u = offset + slope * v. */
interface Line {
  readonly offset: number;
  readonly slope: number;
}

type Ends = readonly (readonly [number, number])[];

/** The slope of most of some points, and how far they lie off it: least absolute deviations by iterated reweighting (Schlossmacher, 1973). */
function mostlyAlong(points: Ends): { slope: number; off: number } {
  let line: Line = { offset: points.reduce((sum, [u]) => sum + u, 0) / points.length, slope: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    let [sw, sv, su, svv, suv] = [0, 0, 0, 0, 0];
    for (const [u, v] of points) {
      const w = 1 / Math.max(0.25, Math.abs(u - line.offset - line.slope * v));
      sw += w;
      sv += w * v;
      su += w * u;
      svv += w * v * v;
      suv += w * u * v;
    }
    const spread = svv - (sv * sv) / sw;
    const slope = spread > 1e-6 ? (suv - (su * sv) / sw) / spread : 0;
    line = { slope, offset: (su - slope * sv) / sw };
  }
  return { slope: line.slope, off: points.reduce((sum, [u, v]) => sum + Math.abs(u - line.offset - line.slope * v), 0) / points.length };
}

/** Directions of a pane's sides: x per y of the standing ones, y per x of the level ones. */
export interface Along {
  readonly standing: number;
  readonly level: number;
}

/** The direction of two opposite sides, about parallel: that of the one that is straighter, and how far its points lie off it. */
function direction(first: Ends, last: Ends): { slope: number; off: number } {
  const [a, b] = [mostlyAlong(first), mostlyAlong(last)];
  return a.off <= b.off ? a : b;
}

/** Two opposite sides along a direction, each where a share of its points lies further in. */
function opposite(first: Ends, last: Ends, slope: number): [Line, Line] {
  const at = (points: Ends, share: number): Line => ({ slope, offset: quantile(points.map(([u, v]) => u - slope * v), share) });
  return [at(first, 1 - OUTWARD), at(last, OUTWARD)];
}

/** Where x = a + b y and y = c + d x meet. */
function meet(standing: Line, level: Line): Point {
  const x = (standing.offset + standing.slope * level.offset) / (1 - standing.slope * level.slope);
  return [x, level.offset + level.slope * x];
}

/** First and last place of a region on every row, or on every column, as [place, line]. */
function ends(region: Region, width: number, across: boolean): { first: [number, number][]; last: [number, number][] } {
  const [from, count] = across ? [region.top, region.bottom - region.top + 1] : [region.left, region.right - region.left + 1];
  const low = new Float64Array(count).fill(Infinity);
  const high = new Float64Array(count).fill(-Infinity);
  for (const i of region.pixels) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const [at, line] = across ? [x, y - from] : [y, x - from];
    if (at < low[line]) low[line] = at;
    if (at > high[line]) high[line] = at;
  }
  const skip = Math.floor(count * CORNERS);
  const first: [number, number][] = [];
  const last: [number, number][] = [];
  for (let k = skip; k < count - skip; k++) {
    if (low[k] > high[k]) continue;
    first.push([low[k] - 0.5, k + from]);
    last.push([high[k] + 0.5, k + from]);
  }
  return { first, last };
}

/** The middle of a pane's corners. */
export const centreOf = (quad: PaneQuad): Point => [quad.reduce((sum, [x]) => sum + x, 0) / 4, quad.reduce((sum, [, y]) => sum + y, 0) / 4];

/** Whether a place lies within a pane. */
export function withinPane(quad: PaneQuad, x: number, y: number): boolean {
  for (let k = 0; k < 4; k++) {
    const [a, b] = [quad[k], quad[(k + 1) % 4]];
    if ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0]) < 0) return false;
  }
  return true;
}

/** Where a row runs through a pane, between whole places that surely lie beyond either end; null: nowhere. */
function runOf(quad: PaneQuad, y: number): readonly [number, number] | null {
  let [from, to] = [-Infinity, Infinity];
  for (let k = 0; k < 4; k++) {
    const [[ax, ay], [bx, by]] = [quad[k], quad[(k + 1) % 4]];
    const [over, rise] = [(bx - ax) * (y - ay), by - ay];
    if (rise > 0) to = Math.min(to, ax + over / rise);
    else if (rise < 0) from = Math.max(from, ax + over / rise);
    else if (over < 0) return null;
  }
  return from > to + 1 ? null : [Math.floor(from) - 1, Math.ceil(to) + 1];
}

/** Calls back for the pixels of a pane. */
export function pixelsOfPane(quad: PaneQuad, width: number, height: number, visit: (i: number) => void): void {
  const ys = quad.map(([, y]) => y);
  for (let y = Math.max(0, Math.ceil(Math.min(...ys))); y <= Math.min(height - 1, Math.max(...ys)); y++) {
    const run = runOf(quad, y);
    if (!run) continue;
    let [first, last] = [Math.max(0, run[0]), Math.min(width - 1, run[1])];
    while (first <= last && !withinPane(quad, first, y)) first++;
    while (last >= first && !withinPane(quad, last, y)) last--;
    for (let x = first; x <= last; x++) visit(y * width + x);
  }
}

/**
 * The pane that a region shows, if it is one: four straight sides, each through the outermost of what is seen, since things before
 * a pane take from it and nothing adds to it. @param given directions of its sides, where they are known
 * @returns it with how well it fits, pixels of both as a share of those of either; null where the region has another shape.
 */
export function fitPane(region: Region, width: number, height: number, given?: Along): { quad: PaneQuad; fit: number } | null {
  if (region.right - region.left < SHORTEST || region.bottom - region.top < SHORTEST) return null;
  const [rows, columns] = [ends(region, width, true), ends(region, width, false)];
  const [left, right] = opposite(rows.first, rows.last, given?.standing ?? direction(rows.first, rows.last).slope);
  const [top, bottom] = opposite(columns.first, columns.last, given?.level ?? direction(columns.first, columns.last).slope);
  const moved = ({ slope, offset }: Line, by: number): Line => ({ slope, offset: offset + by });
  const cornersAt = (out: number): PaneQuad => {
    const [l, r, t, b] = [moved(left, -out), moved(right, out), moved(top, -out), moved(bottom, out)];
    return [meet(l, t), meet(r, t), meet(r, b), meet(l, b)];
  };
  const seen = new Set(region.pixels);
  let [area, inside] = [0, 0];
  pixelsOfPane(cornersAt(0), width, height, (i) => {
    area++;
    if (seen.has(i)) inside++;
  });
  const isPane = area > 0 && inside > SEEN * area && region.pixels.length - inside < BEYOND * region.pixels.length;
  return isPane ? { quad: cornersAt(SHY), fit: inside / (area + region.pixels.length - inside) } : null;
}

/** The value at which half of the weight lies on either side. */
function weightedMedian(values: readonly { readonly value: number; readonly weight: number }[]): number {
  const sorted = [...values].sort((a, b) => a.value - b.value);
  const half = sorted.reduce((sum, { weight }) => sum + weight, 0) / 2;
  let sum = 0;
  return sorted.find(({ weight }) => (sum += weight) >= half)?.value ?? 0;
}

/**
 * Directions of the sides of panes that belong together, which differ little: what most of their length says, where each
 * counts by how straight it is. One pane alone may be led astray by what hangs or stands before a side of it.
 */
export function directionsOf(regions: readonly Region[], width: number): Along {
  const found = regions.filter((region) => region.right - region.left >= SHORTEST && region.bottom - region.top >= SHORTEST).map((region) => {
    const [rows, columns] = [ends(region, width, true), ends(region, width, false)];
    const [standing, level] = [direction(rows.first, rows.last), direction(columns.first, columns.last)];
    return { standing: { value: standing.slope, weight: rows.first.length / (standing.off + STRAIGHT) }, level: { value: level.slope, weight: columns.first.length / (level.off + STRAIGHT) } };
  });
  return { standing: weightedMedian(found.map(({ standing }) => standing)), level: weightedMedian(found.map(({ level }) => level)) };
}
