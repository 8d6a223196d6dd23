import { fitHomography, type Match } from '../align/fitHomography';
import { mapPoint } from './homography';
import { freeOfLens, NO_LENS, type Lens } from './lens';

/** k1 that are tried, and the step between them. */
const LEAST = -0.06;
const STEP = 0.01;
const COUNT = 16;
/** Improvement of the summed squared error, in noise variances, that a lens must bring to be believed. */
const EVIDENCE = 12;
/** Largest squared error, in noise variances, that one match may count. */
const CAP = 9;

const freed = (m: Match, lens: Lens, width: number, height: number): Match => {
  const [x, y] = freeOfLens(lens, width, height, m.x, m.y);
  const [u, v] = freeOfLens(lens, width, height, m.u, m.v);
  return { x, y, u, v, weight: m.weight };
};

interface FrameMatches {
  readonly matches: readonly Match[];
  /** Deviation of the matches about their homography without lens, pixels. */
  readonly noise: number;
}

/** Most matches that one frame contributes: more only cost time. */
const ENOUGH = 500;
/** Frames that lie closer to the reference than this (pixels) say nothing about the lens. */
const LEAST_MOVE = 3;

/** The best matches of a frame, or none when it cannot tell. */
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
  return { matches: chosen, noise: Math.max(0.05, fit.noise) };
}

/** Summed squared error in noise variances, each match's capped, of the best homography with this lens. */
function cost({ matches, noise }: FrameMatches, lens: Lens, width: number, height: number): number {
  const list = matches.map((m) => freed(m, lens, width, height));
  const fit = fitHomography(list, width, height, 3);
  if (!fit) return list.length * CAP;
  return list.reduce((sum, m) => {
    const [u, v] = mapPoint(fit.homography, m.x, m.y);
    return sum + Math.min(CAP, ((u - m.u) ** 2 + (v - m.v) ** 2) / noise ** 2);
  }, 0);
}

/**
 * Radial distortion from frames of one view that lie a little apart: only the right k1 turns all their
 * displacements into homographies (the idea of Fitzgibbon, "Simultaneous linear estimation of multiple view
 * geometry and lens distortion", CVPR 2001, here as a one-dimensional search).
 * @param frames matches of each frame, positions as stored, pixels. @returns no lens error where the frames
 * lie too close together to tell: then it does not matter for lining up either.
 */
export function estimateLens(frames: readonly (readonly Match[])[], width: number, height: number): Lens {
  const useful = frames.map((matches) => select(matches, width, height)).filter((frame) => frame !== null);
  if (useful.length === 0) return NO_LENS;
  const costs: number[] = [];
  for (let i = 0; i < COUNT; i++) {
    const lens = { k1: LEAST + i * STEP, k2: 0 };
    costs.push(useful.reduce((sum, frame) => sum + cost(frame, lens, width, height), 0));
  }
  const best = costs.indexOf(Math.min(...costs));
  if (best === 0 || best === COUNT - 1) return NO_LENS;
  const without = costs[Math.round(-LEAST / STEP)];
  if (without - costs[best] < EVIDENCE) return NO_LENS;
  const [a, b, c] = [costs[best - 1], costs[best], costs[best + 1]];
  return { k1: LEAST + (best + (a - c) / (2 * (a - 2 * b + c))) * STEP, k2: 0 };
}
