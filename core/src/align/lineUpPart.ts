import { compose, mapPoint, type Homography } from '../geometry/homography';
import { meshMap } from '../geometry/mesh';
import type { Lens } from '../geometry/lens';
import { quantile } from '../image/plane';
import { findCorners } from './findCorners';
import type { Match } from './fitHomography';
import type { GreyPyramid } from './structure';
import type { Tools } from '../kernels/tools';
import { freeMatches, trackCorners } from './trackCorners';

const CELL = 20;
const PER_CELL = 2;
const FEWEST = 8;
/** Extent of the matches, pixels, from which on turn and scale can be told. */
const WIDE = 60;

export interface PartAlignment {
  /** Reference pixel to frame pixel, of the pictures given. */
  readonly homography: Homography;
  /** Median distance that is left, pixels, and from how many windows. */
  readonly residual: number;
  readonly matches: number;
}

/** The similarity that takes predicted places to found ones (Umeyama 1991), by Tukey's biweight; a shift where they lie too close to tell more. */
function similarity(from: readonly (readonly [number, number])[], matches: readonly Match[]): { map: Homography; left: number[] } {
  let map: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  let left: number[] = [];
  let weights = matches.map((m) => m.weight);
  for (let round = 0; round < 8; round++) {
    let [s, fx, fy, u, v] = [0, 0, 0, 0, 0];
    matches.forEach((m, i) => { s += weights[i]; fx += weights[i] * from[i][0]; fy += weights[i] * from[i][1]; u += weights[i] * m.u; v += weights[i] * m.v; });
    if (s < 1e-6) break;
    [fx, fy, u, v] = [fx / s, fy / s, u / s, v / s];
    let [a, b, spread] = [0, 0, 0];
    matches.forEach((m, i) => {
      const [dx, dy, du, dv] = [from[i][0] - fx, from[i][1] - fy, m.u - u, m.v - v];
      a += weights[i] * (dx * du + dy * dv);
      b += weights[i] * (dx * dv - dy * du);
      spread += weights[i] * (dx * dx + dy * dy);
    });
    [a, b] = spread / s > WIDE ** 2 / 4 && matches.length >= 3 * FEWEST ? [a / spread, b / spread] : [1, 0];
    map = [a, -b, u - a * fx + b * fy, b, a, v - b * fx - a * fy, 0, 0, 1];
    left = matches.map((m, i) => { const [x, y] = mapPoint(map, from[i][0], from[i][1]); return Math.hypot(m.u - x, m.v - y); });
    const cut = Math.max(0.3, 4.685 * 1.48 * quantile(left, 0.5));
    weights = left.map((e, i) => matches[i].weight * Math.max(0, 1 - (e / cut) ** 2) ** 2);
  }
  return { map, left };
}

/**
 * Lines up one part of a frame by itself: windows inside the part are followed from where `start` expects them, coarse to
 * fine, and a shift, turn and scale is fitted to them.
 * @param within whether a reference pixel belongs to the part.
 * @returns null where the part has too little structure to tell.
 */
export function lineUpPart(tools: Tools, reference: GreyPyramid, frame: GreyPyramid, start: Homography, lens: Lens, within: (x: number, y: number) => boolean): PartAlignment | null {
  const { width, height } = reference.levels[0];
  const corners = findCorners(reference, CELL, PER_CELL).filter((c) => within(c.x, c.y));
  let homography = start;
  let result: PartAlignment | null = null;
  for (const [level, reach, least] of [[2, 8, 0.5], [1, 6, 0.5], [0, 5, 0.6]] as const) {
    if (level >= reference.levels.length || level >= frame.levels.length) continue;
    const matches = freeMatches(trackCorners(tools, corners, reference, frame, level, meshMap(homography, null, width, height), lens, reach, least), lens, width, height);
    if (matches.length < FEWEST) {
      if (level === 0) return null;
      continue;
    }
    const { map, left } = similarity(matches.map((m) => mapPoint(homography, m.x, m.y)), matches);
    homography = compose(map, homography);
    result = { homography, residual: quantile(left, 0.5), matches: matches.length };
  }
  return result;
}

