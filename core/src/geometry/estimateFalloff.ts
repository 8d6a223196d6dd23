import { quantile } from '../image/plane';

/** The same place in two frames of one light: log2 of its light in the second over the first, and how far from the middle each stored it. */
export interface FalloffPair {
  readonly ratio: number;
  /** Squared distances from the centre over half the diagonal. */
  readonly first: number;
  readonly second: number;
}

/** Fall-offs that are tried, and the step between them. */
const MOST = 0.7;
const STEP = 0.02;
/** Largest difference, stops, that one place may count. */
const CAP = 0.2;
const FEWEST = 2000;
/** Spread of the difference of squared distances below which frames lie too close to tell. */
const LEAST_MOVE = 0.02;
/** Fall-off that is worth correcting, and how far two halves of the places may disagree about it. */
const WORTH = 0.06;
const AGREE = 0.1;

const gained = (f: number, r2: number): number => Math.log2(Math.max(0.1, 1 - f * r2));

/** Capped squared difference that a fall-off leaves, exposures aside. */
function cost(pairs: readonly FalloffPair[], f: number): number {
  const left = pairs.map((p) => p.ratio - gained(f, p.second) + gained(f, p.first));
  const middle = quantile(left, 0.5);
  return left.reduce((sum, v) => sum + Math.min(CAP, Math.abs(v - middle)) ** 2, 0);
}

function best(pairs: readonly FalloffPair[]): number {
  const costs: number[] = [];
  for (let f = 0; f <= MOST + STEP / 2; f += STEP) costs.push(cost(pairs, f));
  const k = costs.indexOf(Math.min(...costs));
  if (k === 0 || k === costs.length - 1) return k * STEP;
  const [a, b, c] = [costs[k - 1], costs[k], costs[k + 1]];
  return (k + (a - c) / (2 * (a - 2 * b + c))) * STEP;
}

/**
 * The fall-off of light towards the corners from frames of one light that lie apart: the same place was stored nearer to the
 * middle in one than in the other (the idea of Goldman, Chen, "Vignette and exposure calibration and compensation",
 * ICCV 2005).
 * @returns the f of 1 - f r², or 0 where frames lie too close together or halves of the places disagree.
 */
export function estimateFalloff(pairs: readonly FalloffPair[]): number {
  if (pairs.length < FEWEST) return 0;
  const moves = pairs.map((p) => p.second - p.first);
  if (quantile(moves, 0.9) - quantile(moves, 0.1) < LEAST_MOVE) return 0;
  // Blocks of neighbours, not single places: neighbours err together.
  const block = Math.ceil(pairs.length / 40);
  const [one, two] = [0, 1].map((half) => best(pairs.filter((_, i) => Math.floor(i / block) % 2 === half)));
  const f = best(pairs);
  return f > WORTH && f < MOST - STEP && Math.abs(one - two) < AGREE ? f : 0;
}
