import { fitHomography, type Match } from './fitHomography';
import { freeMatches } from './trackCorners';
import type { Edge } from '../geometry/findStraightEdges';
import { mapPoint, type Homography } from '../geometry/homography';
import { NO_DISTORTION, type Lens } from '../geometry/lens';

/** k1 that are tried, and the step between them. */
const LEAST = -0.12;
const STEP = 0.015;
const COUNT = 17;
/** Improvement of the summed squared error, in noise variances, that a lens must bring to be believed. */
const EVIDENCE = 12;
/** Largest squared error, in noise variances, that one match may count. */
const CAP = 9;
/** Most matches that one frame contributes: more only cost time. */
const ENOUGH = 300;
/** Neighbouring matches that share what misleads them: shadows, clipped rims. */
const MATCH_RUN = 4;
/** Frames that lie closer to the reference than this (pixels) say nothing about the lens. */
const LEAST_MOVE = 3;
/** Error of a place on an edge, pixels of the plane that edges were found on, and how many neighbours share it. */
const EDGE_NOISE = 0.12;
const EDGE_RUN = 16;

interface FrameMatches {
  readonly matches: readonly Match[];
  /** Deviation of the matches about their homography without lens, pixels. */
  readonly noise: number;
  readonly start: Homography;
}

/** The best matches of a frame, or null when it cannot tell. */
function select(matches: readonly Match[], width: number, height: number): FrameMatches | null {
  const fit = fitHomography(matches, width, height, 3);
  if (!fit) return null;
  const near = matches.filter((m) => {
    const [u, v] = mapPoint(fit.homography, m.x, m.y);
    return m.weight > 0.4 && Math.hypot(u - m.u, v - m.v) < 2;
  });
  const move = near.reduce((sum, m) => sum + Math.hypot(m.u - m.x, m.v - m.y), 0) / Math.max(1, near.length);
  if (near.length < 80 || move < LEAST_MOVE) return null;
  const stride = Math.max(1, near.length / ENOUGH);
  const chosen = Array.from({ length: Math.floor(near.length / stride) }, (_, i) => near[Math.floor(i * stride)]);
  return { matches: chosen, noise: Math.max(0.08, fit.noise), start: fit.homography };
}

/** Summed squared error in noise variances, each match's capped and by its weight, of the best homography with this lens. */
function matchCost({ matches, noise, start }: FrameMatches, lens: Lens, width: number, height: number): number {
  const list = freeMatches(matches, lens, width, height);
  const fit = fitHomography(list, width, height, 3, start);
  if (!fit) return (list.length * CAP) / MATCH_RUN;
  return list.reduce((sum, m) => {
    const [u, v] = mapPoint(fit.homography, m.x, m.y);
    return sum + (m.weight / MATCH_RUN) * Math.min(CAP, ((u - m.u) ** 2 + (v - m.v) ** 2) / noise ** 2);
  }, 0);
}

/** Deviation of an edge's points from a straight line once freed of the lens, stored pixels squared. */
function bend(edge: Edge, lens: Lens, width: number, height: number): number {
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const half = (width * width + height * height) / 4;
  const n = edge.length / 2;
  let [sx, sy, sxx, sxy, syy, stretch] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < edge.length; i += 2) {
    const [dx, dy] = [edge[i] - cx, edge[i + 1] - cy];
    const r2 = (dx * dx + dy * dy) / half;
    const s = 1 + lens.k1 * r2;
    stretch += s;
    const [x, y] = [dx * s, dy * s];
    sx += x;
    sy += y;
    sxx += x * x;
    sxy += x * y;
    syy += y * y;
  }
  const [a, b, c] = [sxx / n - (sx / n) ** 2, sxy / n - (sx * sy) / n ** 2, syy / n - (sy / n) ** 2];
  // The smaller eigenvalue of the scatter, as it would be without the lens's magnification.
  return ((a + c) / 2 - Math.hypot((a - c) / 2, b)) / (stretch / n) ** 2;
}

/** Summed squared bend of all edges in noise variances, each edge's capped: what is curved by itself counts little. */
function edgeCost(edges: readonly Edge[], lens: Lens, width: number, height: number): number {
  return edges.reduce((sum, edge) => sum + (Math.min(CAP, bend(edge, lens, width, height) / EDGE_NOISE ** 2) * edge.length) / 2 / EDGE_RUN, 0);
}

/** Everything that tells of a lens. */
export interface LensEvidence {
  /** Matches of each frame, positions as stored. */
  readonly frames: readonly (readonly Match[])[];
  /** Size that positions of matches belong to, pixels. */
  readonly width: number;
  readonly height: number;
  /** Long edges of the reference, as stored, and the size of the plane that they were found on. */
  readonly edges: readonly Edge[];
  readonly edgeWidth: number;
  readonly edgeHeight: number;
}

/**
 * Radial distortion from what should be straight (Brown 1971, Devernay, Faugeras 2001) and from frames of one view that
 * lie a little apart, whose displacements only the right lens turns into homographies (the idea of Fitzgibbon, CVPR
 * 2001), as one search over k1.
 * @returns no lens error where neither can tell.
 */
export function estimateLens({ frames, width, height, edges, edgeWidth, edgeHeight }: LensEvidence): Lens {
  const useful = frames.map((matches) => select(matches, width, height)).filter((frame) => frame !== null);
  const costs = Array.from({ length: COUNT }, (_, i) => {
    const lens = { k1: LEAST + i * STEP, k2: 0 };
    return edgeCost(edges, lens, edgeWidth, edgeHeight) + useful.reduce((sum, frame) => sum + matchCost(frame, lens, width, height), 0);
  });
  const best = costs.indexOf(Math.min(...costs));
  if (best === 0 || best === COUNT - 1) return NO_DISTORTION;
  if (costs[Math.round(-LEAST / STEP)] - costs[best] < EVIDENCE) return NO_DISTORTION;
  const [a, b, c] = [costs[best - 1], costs[best], costs[best + 1]];
  return { k1: LEAST + (best + (a - c) / (2 * (a - 2 * b + c))) * STEP, k2: 0 };
}
