import { compose, mapPoint, type Homography } from '../geometry/homography';
import type { Lens } from '../geometry/lens';
import type { CoarseFit } from './coarseSearch';
import { findCorners, type Corner } from './findCorners';
import { fitHomography, type HomographyFit, type Match } from './fitHomography';
import { bendMesh, fitMesh } from './fitMesh';
import { meshMap, type Mesh } from '../geometry/mesh';
import { jackknifeError } from './jackknifeError';
import { misfitByPart, partsTold, worstMisfit, type PartMisfit } from './misfit';
import { searchEitherSign } from './searchEitherSign';
import type { GreyPyramid } from './structure';
import type { Tools } from '../kernels/tools';
import { freeMatches, trackCorners } from './trackCorners';

/** What the reference offers to line others up with. */
export interface AlignmentReference {
  readonly pyramid: GreyPyramid;
  readonly corners: readonly Corner[];
}

/** How a frame lies on the reference, in proxy pixels, both freed of lens error. */
export interface Alignment {
  /** Reference proxy pixel to frame proxy pixel. */
  readonly homography: Homography;
  /** Expected misalignment, root mean square over the corners, proxy pixels: noise and what the map leaves unexplained. */
  readonly residual: number;
  /** The part of it that comes from noise alone. */
  readonly cornerError: number;
  readonly inliers: number;
  /** Stored positions, lens error and all. */
  readonly matches: readonly Match[];
  readonly parts: readonly PartMisfit[];
  /** What near and far things add to the map, proxy pixels, or null. */
  readonly mesh: Mesh | null;
}

const CELL = 48;
/** A match further off than this, in proxy pixels, is a wrong one. */
const WRONG = 2;
/** Windows that agree with their neighbours count into the misfit of a part up to this far off, proxy pixels. */
const ASTRAY = 6;
/** Share of the picture's parts that must have matches for noise alone to say how well the corners are known. */
const WELL_TOLD = 0.7;
/** Misfit of a part, proxy pixels, from which on near and far things are looked at apart. */
const LOCAL = 0.25;

export function alignmentReference(pyramid: GreyPyramid): AlignmentReference {
  return { pyramid, corners: findCorners(pyramid, CELL, 2) };
}

/** A coarse fit as a map between proxies. */
export function coarseMap({ dx, dy, turn }: CoarseFit, { levels }: GreyPyramid): Homography {
  const scale = 2 ** (levels.length - 1);
  const { width, height } = levels[0];
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  return [cos, -sin, cx - cos * cx + sin * cy + dx * scale, sin, cos, cy - sin * cx - cos * cy + dy * scale, 0, 0, 1];
}

/** Fits the map to matches under a lens, and says how well it is known. @returns null where too few agree. */
export function fitAlignment(matches: readonly Match[], lens: Lens, width: number, height: number, tolerance: number, start?: Homography): Alignment | null {
  const freed = freeMatches(matches, lens, width, height);
  const fit = fitHomography(freed, width, height, tolerance, start);
  if (!fit) return null;
  const parts = misfitByPart(freed, fit.homography, width, height, ASTRAY);
  // Where much of the picture has no say, its corners rest on what the rest says of itself.
  const cornerError = partsTold(parts) < WELL_TOLD * parts.length ? Math.max(fit.cornerError, jackknifeError(freed, fit.homography, width, height, tolerance)) : fit.cornerError;
  return { homography: fit.homography, cornerError, residual: Math.hypot(cornerError, worstMisfit(parts)), inliers: fit.inliers, matches, parts, mesh: null };
}

/**
 * Lines a frame up with the reference: exhaustive search on small structure planes, unless a start is known, then sparse
 * tracking from coarse to fine with a robust homography at each level.
 * @returns null when the frame does not show the same view, or too little of it.
 */
export function lineUp(tools: Tools, reference: AlignmentReference, frame: GreyPyramid, lens: Lens, start?: Homography): Alignment | null {
  const { pyramid, corners } = reference;
  const { width, height } = pyramid.levels[0];
  let h = start ?? coarseMap(searchEitherSign(tools, pyramid.structure, frame.structure), pyramid);
  const top = Math.min(pyramid.levels.length, frame.levels.length) - 1;
  // At small scale fewer corners do.
  const some = corners.filter((_, i) => i % 2 === 0);
  for (let level = Math.min(2, top); level >= 1; level--) {
    const fit: HomographyFit | null = fitHomography(freeMatches(trackCorners(tools, some, pyramid, frame, level, meshMap(h, null, width, height), lens, 9, 0.5), lens, width, height), width, height, 2.5 * 2 ** level);
    if (fit) h = fit.homography;
  }
  let alignment: Alignment | null = null;
  for (let round = 0; round < 2; round++) {
    alignment = fitAlignment(trackCorners(tools, corners, pyramid, frame, 0, meshMap(h, null, width, height), lens, 5, 0.6), lens, width, height, WRONG);
    if (!alignment) return null;
    const moved = cornerDistance(h, alignment.homography, width, height);
    h = alignment.homography;
    if (moved < 0.4) break;
  }
  return alignment;
}

/**
 * Adds a mesh to an alignment where one map demonstrably does not do: a camera that moved among near and far things. Corners
 * are followed anew, from coarse to fine, each time from where the mesh so far puts them, so that near things are found that
 * moved far beyond what the map says.
 */
export function withMesh(tools: Tools, { pyramid, corners }: AlignmentReference, frame: GreyPyramid, alignment: Alignment, lens: Lens): Alignment {
  if (worstMisfit(alignment.parts) < LOCAL) return alignment;
  const { width, height } = pyramid.levels[0];
  const h = alignment.homography;
  const follow = (level: number, reach: number, least: number, start: Mesh | null): readonly Match[] => trackCorners(tools, corners, pyramid, frame, level, meshMap(h, start, width, height), lens, reach, least);
  let start: Mesh | null = null;
  for (const [level, reach] of [[2, 9], [1, 7], [0, 5], [0, 5]] as const) {
    if (level >= Math.min(pyramid.levels.length, frame.levels.length)) continue;
    start = bendMesh(freeMatches(follow(level, reach, 0.5, start), lens, width, height), h, width, height, start, ASTRAY * 2 ** level);
  }
  const matches = follow(0, 5, 0.6, start);
  const freed = freeMatches(matches, lens, width, height);
  const mesh = fitMesh(freed, h, width, height, start, ASTRAY);
  if (!mesh) return alignment;
  const parts = misfitByPart(freed, h, width, height, ASTRAY, mesh);
  return { ...alignment, mesh, matches, parts, residual: Math.hypot(alignment.cornerError, worstMisfit(parts)) };
}

/** Alignment by way of another frame that is already lined up: reference -> via -> frame. */
export function chain(referenceToVia: Alignment, viaToFrame: Alignment): Alignment {
  return {
    homography: compose(viaToFrame.homography, referenceToVia.homography),
    cornerError: Math.hypot(referenceToVia.cornerError, viaToFrame.cornerError),
    residual: Math.hypot(referenceToVia.residual, viaToFrame.residual),
    inliers: Math.min(referenceToVia.inliers, viaToFrame.inliers),
    matches: [],
    parts: viaToFrame.parts,
    mesh: null,
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
