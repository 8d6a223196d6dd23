import { solveCholesky } from '../geometry/solveCholesky';
import { responseStops, type Response } from './responseTable';
import { srgbToLinear } from './transfer';

/** Terms of the response, and how far they are expected to lie from none. */
const TERMS = 3;
const TERM_SPREAD = 1;
/** Error of the exposures that files claim, stops: shutters round what they say. */
const CLAIM_ERROR = 0.02;
/** Error of one bin's median, stops. */
const BIN_ERROR = 0.03;
/** Misfit, in stops, beyond which a bin counts nothing. */
const CUT = 0.5;
const ROUNDS = 4;
const BINS = 24;
const FEWEST_IN_BIN = 40;
/** Encoded values that can be trusted: above noise and below where channels begin to clip. */
const LOW = 0.06;
const HIGH = 0.965;
/** Stops by which a response must differ from sRGB's somewhere to be worth having. */
const WORTH = 0.25;

/** Encoded values, 0..1, of one frame at places that all frames of a set share; NaN where it has none. */
export interface ResponseFrame {
  readonly values: Float32Array;
  /** Exposure as the file claims it, stops. */
  readonly stops: number;
}

interface Pair {
  /** Indices of the brighter and the darker frame. */
  readonly bright: number;
  readonly dark: number;
  readonly points: readonly { bright: number; dark: number; share: number }[];
}

/** Steps of value that medians are counted in, a bin and in all: finer than twelve bits, which is what frames are interpolated to. */
const BIN_STEPS = 342;
const STEPS = BINS * BIN_STEPS;
const NONE = 65535;
/** Ratio of encoded values, about a third of a stop, within which those of a bin agree, and the share of them that must: what somebody stands before does not. */
const ABOUT = 1.12;
const AGREE = 0.5;

/** The middle of `count` values counted in steps from `from` on, as a value. */
function countedMedian(counts: Uint32Array, from: number, count: number): number {
  let step = from;
  for (let below = counts[step]; below <= count / 2; below += counts[++step]);
  return (step + 0.5) / STEPS;
}

/** Values in steps; those of no use lie above all others. */
function inSteps({ values }: ResponseFrame): Uint16Array {
  const steps = new Uint16Array(values.length);
  for (let i = 0; i < steps.length; i++) steps[i] = values[i] >= 0 ? Math.min(STEPS - 1, values[i] * STEPS) : NONE;
  return steps;
}

/** How many of the values counted from `from` on lie about their median. */
function agreeing(counts: Uint32Array, from: number, middle: number): number {
  let sum = 0;
  for (let step = Math.floor((middle / ABOUT) * STEPS), end = Math.min(STEPS - 1, middle * ABOUT * STEPS); step <= end; step++) sum += counts[from + step];
  return sum;
}

/** Median value of the darker frame wherever the brighter one has about the same: robust to what moved. */
function comparePair(steps: readonly Uint16Array[], bright: number, dark: number): Pair {
  const [a, b] = [steps[bright], steps[dark]];
  const brights = new Uint32Array(STEPS);
  const darks = new Uint32Array(BINS * STEPS);
  const sizes = new Uint32Array(BINS);
  for (let i = 0; i < a.length; i++) {
    const step = a[i];
    // Chosen by the brighter frame alone: to leave out what is dark in the other would lift its median.
    if (step <= LOW * STEPS || step >= HIGH * STEPS || b[i] === NONE) continue;
    const bin = Math.floor(step / BIN_STEPS);
    sizes[bin]++;
    brights[step]++;
    darks[bin * STEPS + b[i]]++;
  }
  const total = sizes.reduce((sum, size) => sum + size, 0);
  const points: Pair['points'][number][] = [];
  sizes.forEach((size, bin) => {
    if (size < FEWEST_IN_BIN) return;
    const middle = countedMedian(darks.subarray(bin * STEPS, (bin + 1) * STEPS), 0, size);
    if (middle > LOW && middle < HIGH && agreeing(darks, bin * STEPS, middle) > AGREE * size) points.push({ bright: countedMedian(brights, bin * BIN_STEPS, size), dark: middle, share: Math.min(1, (size * BINS) / total) });
  });
  return { bright, dark, points };
}

const term = (v: number, k: number): number => (1 - v) ** (k + 1);
const srgbStops = (v: number): number => Math.log2(srgbToLinear(v));

/** Least squares over response terms and each frame's error of exposure; rows are bins, priors keep both near none. */
function solve(pairs: readonly Pair[], frames: readonly ResponseFrame[], start: Response): Response {
  const n = TERMS + frames.length;
  const a = new Float64Array(n * n);
  const b = new Float64Array(n);
  for (let k = 0; k < n; k++) a[k * n + k] = 1 / (k < TERMS ? TERM_SPREAD : CLAIM_ERROR) ** 2;
  const row = new Float64Array(n);
  for (const { bright, dark, points } of pairs) {
    for (const point of points) {
      row.fill(0);
      for (let k = 0; k < TERMS; k++) row[k] = term(point.bright, k) - term(point.dark, k);
      row[TERMS + bright] = -1;
      row[TERMS + dark] = 1;
      const off = frames[bright].stops - frames[dark].stops - (srgbStops(point.bright) - srgbStops(point.dark));
      // Tukey's biweight about the solution before: a bin full of something that moved does not bend the curve.
      const left = off - row.subarray(0, TERMS).reduce((sum, v, k) => sum + v * (start[k] ?? 0), 0);
      const w = (point.share / BIN_ERROR ** 2) * Math.max(0, 1 - (left / CUT) ** 2) ** 2;
      for (let i = 0; i < n; i++) {
        b[i] += w * row[i] * off;
        for (let j = 0; j < n; j++) a[i * n + j] += w * row[i] * row[j];
      }
    }
  }
  return solveCholesky(a, b, n) ? [...b.subarray(0, TERMS)] : [];
}

const rises = (response: Response): boolean => {
  for (let v = 0.03; v < 1; v += 0.01) if (srgbStops(v + 0.01) + responseStops(response, v + 0.01) <= srgbStops(v) + responseStops(response, v)) return false;
  return true;
};

/**
 * How the camera turned light into values, from frames of one light at different exposures: log exposure as a smooth
 * function of the value that explains all ratios at once (Debevec, Malik, SIGGRAPH 1997; few smooth terms as in
 * Mitsunaga, Nayar, CVPR 1999), as a correction of sRGB's curve, with exposures that may be a little off.
 * @returns empty, that is sRGB, where frames cannot tell or the camera does not differ.
 */
export function estimateResponse(frames: readonly ResponseFrame[]): Response {
  const order = frames.map((_, k) => k).sort((x, y) => frames[y].stops - frames[x].stops);
  const pairs: Pair[] = [];
  const steps = frames.map(inSteps);
  for (let i = 0; i < order.length; i++) {
    for (let j = i + 1; j < order.length; j++) {
      const apart = frames[order[i]].stops - frames[order[j]].stops;
      if (apart > 0.5 && apart < 4.5) pairs.push(comparePair(steps, order[i], order[j]));
    }
  }
  if (pairs.reduce((sum, p) => sum + p.points.length, 0) < 8) return [];
  let response: Response = [];
  for (let round = 0; round < ROUNDS; round++) response = solve(pairs, frames, response);
  if (response.length === 0 || !rises(response)) return [];
  let most = 0;
  for (let v = 0.1; v < 0.95; v += 0.05) most = Math.max(most, Math.abs(responseStops(response, v)));
  return most > WORTH ? response : [];
}
