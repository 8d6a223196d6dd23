import { freeOfLens, lensFactor, type Lens } from '../geometry/lens';
import type { PixelMap } from '../geometry/mesh';
import { TRACK_SCRATCH } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';
import type { Corner } from './findCorners';
import type { Match } from './fitHomography';
import type { GreyPyramid } from './structure';

/** Scratch memory, in bytes, that following a frame's corners takes at most, for proxies of this size. */
export const trackingBytes = (width: number, height: number): number => 2 * width * height * 4 + 1_000_000;

/**
 * Where a frame clips, its edges move towards the dark side by part of a pixel: windows with more than this share of
 * clipped pixels err about 2.5 times as much as others, and have a say accordingly.
 */
const CLIPPED_SHARE = 0.08;
const CLIPPED_SAY = 0.15;

const isBare = ({ k1, k2 }: Lens): boolean => k1 === 0 && k2 === 0;

/** Where a stored reference pixel lies in the stored frame by a map between lens-free pixels. */
function predict(map: PixelMap, lens: Lens, width: number, height: number, x: number, y: number): [number, number] {
  if (isBare(lens)) return map(x, y);
  const [vx, vy] = map(...freeOfLens(lens, width, height, x, y));
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const s = lensFactor(lens, ((vx - cx) ** 2 + (vy - cy) ** 2) / ((width * width + height * height) / 4));
  return [cx + (vx - cx) * s, cy + (vy - cy) * s];
}

/**
 * Follows corners of the reference into the frame at one pyramid level, from where `map` expects them. Positions of the
 * matches are stored full proxy pixels, lens error and all.
 * @param reach pixels of the level that a corner may move; @param least correlation that a match must have.
 */
export function trackCorners({ kernels, arena }: Tools, corners: readonly Corner[], reference: GreyPyramid, frame: GreyPyramid, level: number, map: PixelMap, lens: Lens, reach: number, least: number): Match[] {
  const mark = arena.mark();
  const from = reference.levels[level];
  const to = frame.levels[level];
  const { width, height } = reference.levels[0];
  const scale = 2 ** level;
  const offset = (scale - 1) / 2;
  const [fromAt, toAt] = [arena.placeFloats(from.data), arena.placeFloats(to.data)];
  const points = arena.take(corners.length * 32);
  const out = arena.take(corners.length * 32);
  const scratch = arena.take(TRACK_SCRATCH);
  const starts = new Float64Array(arena.buffer, points, corners.length * 4);
  corners.forEach(({ x, y }, i) => {
    const [u, v] = predict(map, lens, width, height, x, y);
    starts.set([(x - offset) / scale, (y - offset) / scale, (u - offset) / scale, (v - offset) / scale], 4 * i);
  });
  kernels.trackPoints(fromAt, from.width, from.height, toAt, to.width, to.height, points, corners.length, out, scratch, reach);
  const ends = new Float64Array(arena.buffer, out, corners.length * 4);
  const matches: Match[] = [];
  corners.forEach(({ x, y }, i) => {
    const score = ends[4 * i + 2];
    if (score < least) return;
    matches.push({ x, y, u: ends[4 * i] * scale + offset, v: ends[4 * i + 1] * scale + offset, weight: ((score - least) / (1 - least)) * (1 - (1 - CLIPPED_SAY) * Math.min(1, ends[4 * i + 3] / CLIPPED_SHARE)) });
  });
  arena.release(mark);
  return matches;
}

/** Matches with both positions freed of lens error. */
export function freeMatches(matches: readonly Match[], lens: Lens, width: number, height: number): readonly Match[] {
  if (isBare(lens)) return matches;
  return matches.map((m) => {
    const [x, y] = freeOfLens(lens, width, height, m.x, m.y);
    const [u, v] = freeOfLens(lens, width, height, m.u, m.v);
    return { x, y, u, v, weight: m.weight };
  });
}
