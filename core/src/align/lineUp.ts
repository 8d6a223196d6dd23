import { compose, mapPoint, type Homography } from '../geometry/homography';
import { freeOfLens, lensFactor, type Lens } from '../geometry/lens';
import { coarseSearch } from './coarseSearch';
import { findCorners, type Corner } from './findCorners';
import { fitHomography, type HomographyFit, type Match } from './fitHomography';
import type { GreyPyramid } from './structure';
import { trackPoint, type Track } from './trackPoint';

/** What the reference offers to line others up with. */
export interface AlignmentReference {
  readonly pyramid: GreyPyramid;
  readonly corners: readonly Corner[];
}

/** How a frame lies on the reference, in proxy pixels, both freed of lens error. */
export interface Alignment {
  /** Reference proxy pixel to frame proxy pixel. */
  readonly homography: Homography;
  /** Expected misalignment, root mean square over the corners, proxy pixels. */
  readonly residual: number;
  readonly inliers: number;
  readonly matches: readonly Match[];
}

const CELL = 48;

export function alignmentReference(pyramid: GreyPyramid): AlignmentReference {
  return { pyramid, corners: findCorners(pyramid.levels[0], CELL, 2) };
}

/** The coarse fit as a map between proxies. */
function startFrom(reference: GreyPyramid, frame: GreyPyramid): Homography {
  const fit = coarseSearch(reference.structure, frame.structure);
  const scale = 2 ** (reference.levels.length - 1);
  const { width, height } = reference.levels[0];
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const cos = Math.cos(fit.turn);
  const sin = Math.sin(fit.turn);
  return [cos, -sin, cx - cos * cx + sin * cy + fit.dx * scale, sin, cos, cy - sin * cx - cos * cy + fit.dy * scale, 0, 0, 1];
}

/** Predicts where a stored reference pixel lies in the stored frame. */
function predict(h: Homography, lens: Lens, width: number, height: number, x: number, y: number): [number, number] {
  const [ux, uy] = freeOfLens(lens, width, height, x, y);
  const [vx, vy] = mapPoint(h, ux, uy);
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const s = lensFactor(lens, ((vx - cx) ** 2 + (vy - cy) ** 2) / ((width * width + height * height) / 4));
  return [cx + (vx - cx) * s, cy + (vy - cy) * s];
}

/** Follows all corners at one level from where `h` expects them. Positions stay in full proxy pixels. */
function trackLevel(reference: AlignmentReference, frame: GreyPyramid, level: number, h: Homography, lens: Lens, reach: number, least: number): Match[] {
  const from = reference.pyramid.levels[level];
  const to = frame.levels[level];
  const { width, height } = reference.pyramid.levels[0];
  const scale = 2 ** level;
  const offset = (scale - 1) / 2;
  const track: Track = { x: 0, y: 0, score: 0 };
  const matches: Match[] = [];
  for (const corner of reference.corners) {
    const [px, py] = predict(h, lens, width, height, corner.x, corner.y);
    track.x = (px - offset) / scale;
    track.y = (py - offset) / scale;
    if (!trackPoint(from, to, (corner.x - offset) / scale, (corner.y - offset) / scale, track, reach)) continue;
    if (track.score < least) continue;
    const [x, y] = freeOfLens(lens, width, height, corner.x, corner.y);
    const [u, v] = freeOfLens(lens, width, height, track.x * scale + offset, track.y * scale + offset);
    matches.push({ x, y, u, v, weight: (track.score - least) / (1 - least) });
  }
  return matches;
}

/**
 * Lines a frame up with the reference: exhaustive search on small structure planes, then sparse tracking
 * from coarse to fine with a robust homography at each level.
 * @returns null when the frame does not show the same view, or too little of it.
 */
export function lineUp(reference: AlignmentReference, frame: GreyPyramid, lens: Lens, start?: Homography): Alignment | null {
  const { width, height } = reference.pyramid.levels[0];
  let h = start ?? startFrom(reference.pyramid, frame);
  const top = Math.min(reference.pyramid.levels.length, frame.levels.length) - 1;
  for (let level = Math.min(2, top); level >= 1; level--) {
    const matches = trackLevel(reference, frame, level, h, lens, 9, 0.5);
    const fit = fitHomography(matches, width, height, 2.5 * 2 ** level);
    if (fit) h = fit.homography;
  }
  let fit: HomographyFit | null = null;
  let matches: Match[] = [];
  for (let round = 0; round < 2; round++) {
    matches = trackLevel(reference, frame, 0, h, lens, 5, 0.6);
    fit = fitHomography(matches, width, height, 2);
    if (!fit) return null;
    const moved = cornerDistance(h, fit.homography, width, height);
    h = fit.homography;
    if (moved < 0.4) break;
  }
  if (!fit) return null;
  return { homography: fit.homography, residual: fit.cornerError, inliers: fit.inliers, matches };
}

/** Alignment by way of another frame that is already lined up: reference -> via -> frame. */
export function chain(referenceToVia: Alignment, viaToFrame: Alignment): Alignment {
  return {
    homography: compose(viaToFrame.homography, referenceToVia.homography),
    residual: Math.hypot(referenceToVia.residual, viaToFrame.residual),
    inliers: Math.min(referenceToVia.inliers, viaToFrame.inliers),
    matches: [],
  };
}

/** The largest distance, over the picture's corners, between two maps; pixels of the frame. */
export function cornerDistance(a: Homography, b: Homography, width: number, height: number): number {
  let worst = 0;
  for (const x of [0, width - 1]) {
    for (const y of [0, height - 1]) {
      const [ax, ay] = mapPoint(a, x, y);
      const [bx, by] = mapPoint(b, x, y);
      worst = Math.max(worst, Math.hypot(ax - bx, ay - by));
    }
  }
  return worst;
}

