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
/** Least noise that matches are trusted to have, pixels. */
const LEAST_NOISE = 0.08;
/** Error of a place on an edge, pixels of the plane that edges were found on, and how many neighbours share it. */
const EDGE_NOISE = 0.12;
const EDGE_RUN = 16;

interface FrameMatches {
  readonly matches: readonly Match[];
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
  return { matches: chosen, start: fit.homography };
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

/** The lenses that are tried. */
const LENSES: readonly Lens[] = Array.from({ length: COUNT }, (_, i) => ({ k1: LEAST + i * STEP, k2: 0 }));

/**
 * Summed squared error of a frame's matches in noise variances, each match's capped and by its weight, about the best
 * homography with each lens that is tried. What is left with the lens that suits them best is their noise.
 */
function matchCosts({ matches, start }: FrameMatches, width: number, height: number): number[] {
  const tries = LENSES.map((lens) => {
    const list = freeMatches(matches, lens, width, height);
    return { list, fit: fitHomography(list, width, height, 3, start) };
  });
  const noise = Math.max(LEAST_NOISE, Math.min(...tries.map(({ fit }) => fit?.noise ?? Infinity)));
  return tries.map(({ list, fit }) => {
    if (!fit) return (list.length * CAP) / MATCH_RUN;
    return list.reduce((sum, m) => {
      const [u, v] = mapPoint(fit.homography, m.x, m.y);
      return sum + (m.weight / MATCH_RUN) * Math.min(CAP, ((u - m.u) ** 2 + (v - m.v) ** 2) / noise ** 2);
    }, 0);
  });
}

/**
 * Summed squared bend of all edges in noise variances, for each lens that is tried. An edge that no lens makes straight is
 * that much less sure of any: what is left at its best is its own noise. Each edge's is capped, so that what is curved by itself counts little.
 */
function edgeCosts(edges: readonly Edge[], width: number, height: number): number[] {
  const costs = LENSES.map(() => 0);
  for (const edge of edges) {
    const bends = LENSES.map((lens) => bend(edge, lens, width, height));
    const noise = Math.max(EDGE_NOISE ** 2, Math.min(...bends));
    bends.forEach((b, i) => (costs[i] += (Math.min(CAP, b / noise) * edge.length) / 2 / EDGE_RUN));
  }
  return costs;
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
  const bent = edgeCosts(edges, edgeWidth, edgeHeight);
  const matched = useful.map((frame) => matchCosts(frame, width, height));
  const costs = LENSES.map((_, i) => bent[i] + matched.reduce((sum, frame) => sum + frame[i], 0));
  const best = costs.indexOf(Math.min(...costs));
  if (best === 0 || best === COUNT - 1) return NO_DISTORTION;
  if (costs[Math.round(-LEAST / STEP)] - costs[best] < EVIDENCE) return NO_DISTORTION;
  const [a, b, c] = [costs[best - 1], costs[best], costs[best + 1]];
  return { k1: LEAST + (best + (a - c) / (2 * (a - 2 * b + c))) * STEP, k2: 0 };
}
