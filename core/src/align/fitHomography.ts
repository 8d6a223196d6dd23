import { IDENTITY, normalise, type Homography } from '../geometry/homography';
import { solveCholesky } from '../geometry/solveCholesky';

/** A place in the reference and where it is in the frame, in one scale of pixels; weight 0..1. */
export interface Match {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly weight: number;
}

export interface HomographyFit {
  readonly homography: Homography;
  /** Matches within three times the noise. */
  readonly inliers: number;
  /** Robust standard deviation of the matches about the fit, pixels a coordinate. */
  readonly noise: number;
  /** Expected error of the map, root mean square over the four corners, pixels: noise carried through the covariance. */
  readonly cornerError: number;
}

/** Deterministic generator of numbers in 0..1 (Park, Miller 1988). */
function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

/** The similarity through two matches, as a homography. */
function similarityThrough(p: Match, q: Match): Homography | null {
  const dx = q.x - p.x;
  const dy = q.y - p.y;
  const n = dx * dx + dy * dy;
  if (n < 400) return null;
  const a = (dx * (q.u - p.u) + dy * (q.v - p.v)) / n;
  const b = (dx * (q.v - p.v) - dy * (q.u - p.u)) / n;
  if (Math.abs(Math.hypot(a, b) - 1) > 0.08) return null;
  return [a, -b, p.u - a * p.x + b * p.y, b, a, p.v - b * p.x - a * p.y, 0, 0, 1];
}

/** Samples that are drawn at most and at least, matches that are counted for each, and the share that is support enough. */
const TRIALS = 300;
const FEWEST_TRIALS = 60;
const COUNTED = 300;
const ENOUGH = 0.75;

/** Random sample consensus (Fischler, Bolles 1981) on two-point similarities: a start that outliers cannot move. */
function consensus(matches: readonly Match[], tolerance: number): { start: Homography; support: number } {
  const random = seeded(20261);
  let start: Homography = IDENTITY;
  let support = -1;
  // A few hundred matches tell how many agree.
  const stride = Math.max(1, Math.floor(matches.length / COUNTED));
  const some = matches.filter((_, i) => i % stride === 0);
  const all = some.reduce((sum, m) => sum + m.weight, 0);
  for (let trial = 0; trial < TRIALS && (trial < FEWEST_TRIALS || support < ENOUGH * all); trial++) {
    const p = matches[Math.floor(random() * matches.length) % matches.length];
    const q = matches[Math.floor(random() * matches.length) % matches.length];
    const h = similarityThrough(p, q);
    if (!h) continue;
    let count = 0;
    for (const m of some) {
      const du = h[0] * m.x + h[1] * m.y + h[2] - m.u;
      const dv = h[3] * m.x + h[4] * m.y + h[5] - m.v;
      if (du * du + dv * dv < tolerance * tolerance) count += m.weight;
    }
    if (count > support) {
      support = count;
      start = h;
    }
  }
  return { start, support: support * stride };
}

/** Row of the Jacobian of (u, v) by the 8 parameters of h, in coordinates divided by `scale`. */
function jacobian(h: Homography, x: number, y: number, ju: Float64Array, jv: Float64Array): [number, number] {
  const w = 1 / (h[6] * x + h[7] * y + 1);
  const u = (h[0] * x + h[1] * y + h[2]) * w;
  const v = (h[3] * x + h[4] * y + h[5]) * w;
  ju[0] = x * w; ju[1] = y * w; ju[2] = w; ju[3] = 0; ju[4] = 0; ju[5] = 0; ju[6] = -u * x * w; ju[7] = -u * y * w;
  jv[0] = 0; jv[1] = 0; jv[2] = 0; jv[3] = x * w; jv[4] = y * w; jv[5] = w; jv[6] = -v * x * w; jv[7] = -v * y * w;
  return [u, v];
}

/** Expected shear and perspective of a camera that was nudged, as movement of the corners in units of the half-width. */
const PRIOR = 0.006;

/** Adds the expectation that the map is nearly a similarity: it decides only where matches say nothing. */
function addPrior(a: Float64Array, b: Float64Array, h: Homography, strength: number): void {
  const add = (pairs: ReadonlyArray<readonly [number, number]>): void => {
    const value = pairs.reduce((sum, [k, s]) => sum + s * h[k], 0);
    for (const [k, s] of pairs) {
      b[k] -= strength * s * value;
      for (const [l, t] of pairs) a[k * 8 + l] += strength * s * t;
    }
  };
  add([[0, 1], [4, -1]]);
  add([[1, 1], [3, 1]]);
  add([[6, 1]]);
  add([[7, 1]]);
}

/** Sums of the normal equations: see `fill` for which is what. */
const SUMS = 29;

/** The weighted normal equations of one Gauss-Newton step, accumulated in place. */
class NormalEquations {
  readonly a = new Float64Array(64);
  readonly b = new Float64Array(8);
  inliers = 0;
  private readonly sums = new Float64Array(SUMS);

  /**
   * Fills a and b for the map h with errors beyond `limit` left out (Tukey's biweight); writes each match's error. With
   * p = (x, y, 1) / w, the rows of the Jacobian are (p, 0, -u x/w, -u y/w) and (0, p, -v x/w, -v y/w): its zeros are left out.
   */
  fill(h: Homography, at: Float64Array, limit: number, errors: Float64Array): void {
    const s = this.sums.fill(0);
    const [h0, h1, h2, h3, h4, h5, h6, h7] = h;
    const inverse = 1 / (limit * limit);
    let inliers = 0;
    for (let m = 0, p = 0; m < errors.length; m++, p += 5) {
      const [x, y] = [at[p], at[p + 1]];
      const w = 1 / (h6 * x + h7 * y + 1);
      const u = (h0 * x + h1 * y + h2) * w;
      const v = (h3 * x + h4 * y + h5) * w;
      const eu = at[p + 2] - u;
      const ev = at[p + 3] - v;
      const squared = eu * eu + ev * ev;
      errors[m] = Math.sqrt(squared);
      const t = squared * inverse;
      if (t >= 1) continue;
      inliers++;
      const weight = at[p + 4] * (1 - t) * (1 - t);
      const [px, py] = [x * w, y * w];
      const [wx, wy, wz] = [weight * px, weight * py, weight * w];
      s[0] += wx * px; s[1] += wx * py; s[2] += wy * py; s[3] += wx * w; s[4] += wy * w; s[5] += wz * w;
      const [ux, uy, vx, vy] = [-u * px, -u * py, -v * px, -v * py];
      s[6] += wx * ux; s[7] += wy * ux; s[8] += wz * ux; s[9] += wx * uy; s[10] += wy * uy; s[11] += wz * uy;
      s[12] += wx * vx; s[13] += wy * vx; s[14] += wz * vx; s[15] += wx * vy; s[16] += wy * vy; s[17] += wz * vy;
      s[18] += weight * (ux * ux + vx * vx); s[19] += weight * (ux * uy + vx * vy); s[20] += weight * (uy * uy + vy * vy);
      s[21] += wx * eu; s[22] += wy * eu; s[23] += wz * eu; s[24] += wx * ev; s[25] += wy * ev; s[26] += wz * ev;
      s[27] += weight * (ux * eu + vx * ev); s[28] += weight * (uy * eu + vy * ev);
    }
    this.inliers = inliers;
    this.lay();
  }

  /** Lays the sums out as a symmetric matrix and a vector. */
  private lay(): void {
    const { a, b, sums: s } = this;
    a.fill(0);
    for (const o of [0, 3]) {
      a[o * 8 + o] = s[0]; a[(o + 1) * 8 + o] = s[1]; a[(o + 1) * 8 + o + 1] = s[2];
      a[(o + 2) * 8 + o] = s[3]; a[(o + 2) * 8 + o + 1] = s[4]; a[(o + 2) * 8 + o + 2] = s[5];
    }
    for (let k = 0; k < 3; k++) {
      a[48 + k] = s[6 + k]; a[56 + k] = s[9 + k];
      a[51 + k] = s[12 + k]; a[59 + k] = s[15 + k];
    }
    a[54] = s[18]; a[62] = s[19]; a[63] = s[20];
    for (let i = 0; i < 8; i++) for (let j = 0; j < i; j++) a[j * 8 + i] = a[i * 8 + j];
    for (let k = 0; k < 8; k++) b[k] = s[21 + k];
  }
}

const ROUNDS = 16;
/** A step that moves no corner by more than this, pixels, ends the iteration. */
const SETTLED = 1e-3;

/**
 * The homography through many matches, some of them wrong: consensus on similarities first, then iteratively
 * reweighted Gauss-Newton with Tukey's biweight (Huber, "Robust Statistics", 1981) on the transfer error.
 * @param width, height of the reference in the pixels of the matches; @param tolerance pixels within which a similarity explains a match at first;
 * @param known a map that is nearly right already: no consensus is looked for then.
 * @returns null when fewer than 12 matches agree.
 */
export function fitHomography(matches: readonly Match[], width: number, height: number, tolerance: number, known?: Homography): HomographyFit | null {
  if (matches.length < 12) return null;
  const { start, support } = known ? { start: known, support: matches.length } : consensus(matches, tolerance);
  if (support < 6) return null;
  // Centred and scaled coordinates keep the normal equations well conditioned (Hartley 1997).
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const scale = Math.max(width, height) / 2;
  const toCentre: Homography = [1 / scale, 0, -cx / scale, 0, 1 / scale, -cy / scale, 0, 0, 1];
  const fromCentre: Homography = [scale, 0, cx, 0, scale, cy, 0, 0, 1];
  const at = new Float64Array(matches.length * 5);
  matches.forEach((m, i) => at.set([(m.x - cx) / scale, (m.y - cy) / scale, (m.u - cx) / scale, (m.v - cy) / scale, m.weight], 5 * i));
  const errors = new Float64Array(matches.length);
  const normal = new NormalEquations();
  let h = centred(start, toCentre, fromCentre);
  let noise = tolerance / 2.5;
  const prepare = (): void => {
    normal.fill(h, at, Math.max(4.7 * noise, 0.25) / scale, errors);
    addPrior(normal.a, normal.b, h, (noise / scale / PRIOR) ** 2);
  };
  prepare();
  for (let round = 0; round < ROUNDS; round++) {
    if (normal.inliers < 8) return null;
    const covariance = Float64Array.from(normal.a);
    const step = Float64Array.from(normal.b);
    if (!solveCholesky(covariance, step, 8)) return null;
    h = h.map((value, i) => (i < 8 ? value + step[i] : 1)) as unknown as Homography;
    const before = noise;
    prepare();
    noise = Math.max(0.03, Math.min(noise, robustNoise(errors, noise / scale, 0.5 / scale) * scale));
    if (step.reduce((sum, v) => sum + Math.abs(v), 0) * scale < SETTLED && before - noise < 0.01 * noise) break;
  }
  prepare();
  if (normal.inliers < 12) return null;
  return { homography: centred(h, fromCentre, toCentre), inliers: normal.inliers, noise, cornerError: expectedCornerError(h, normal.a, noise, scale, width, height) };
}

/** h in another coordinate frame: back * h * to, where `to` enters the frame of h. */
function centred(h: Homography, leave: Homography, enter: Homography): Homography {
  const multiply = (p: Homography, q: Homography): number[] => {
    const out: number[] = [];
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) out.push(p[r * 3] * q[c] + p[r * 3 + 1] * q[3 + c] + p[r * 3 + 2] * q[6 + c]);
    return out;
  };
  return normalise(multiply(multiply(leave, h) as unknown as Homography, enter));
}

/** Median-based deviation a coordinate among errors that are not hopeless. */
function robustNoise(errors: Float64Array, before: number, least: number): number {
  const near = errors.filter((e) => e < Math.max(6 * before, least)).sort();
  if (near.length === 0) return before;
  // The median of a two-dimensional Gaussian error is 1.177 deviations.
  return near[near.length >> 1] / 1.177;
}

function expectedCornerError(h: Homography, a: Float64Array, noise: number, scale: number, width: number, height: number): number {
  const ju = new Float64Array(8);
  const jv = new Float64Array(8);
  let sum = 0;
  for (const x of [-1, 1]) {
    for (const y of [-1, 1]) {
      jacobian(h, (x * width) / 2 / scale, (y * height) / 2 / scale, ju, jv);
      for (const j of [ju, jv]) {
        const z = Float64Array.from(j);
        if (!solveCholesky(Float64Array.from(a), z, 8)) return Infinity;
        sum += z.reduce((total, value, i) => total + value * j[i], 0);
      }
    }
  }
  return noise * Math.sqrt(sum / 4);
}
