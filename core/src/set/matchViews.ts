import { LOOK_BYTES, type Ray, type ViewFeatures } from './describeView';

/** Features of two pictures that look alike, and no other as much. */
interface Pair {
  readonly a: number;
  readonly b: number;
}

/** The best is nearer than this share of the next best that lies elsewhere. */
const RATIO = 0.85;
/** What lies within this of the best, radians, is the same thing at another scale. */
const SAME = 0.025;
/** Colours of one thing differ by less than this in two pictures, stops of red and blue over green. */
const COLOUR = 0.25;
/** Angles by which the second camera may be turned, degrees, and their step. */
const TURNED = 120;
const STEP = 2;
/** Rays to one thing miss each other by less than this, radians; and what those are parted by that still says where from, at least. */
const NEAR = 0.012;
const PARTED = 0.15;
/** Pairs that a way from camera to camera is made of, at most. */
const TRIED = 40;

/** Squared distances of how features look, a row for each of a. */
function distances(a: ViewFeatures, b: ViewFeatures, n: number, m: number): Float32Array {
  const out = new Float32Array(n * m);
  for (let i = 0; i < n; i++) {
    const p = i * LOOK_BYTES;
    for (let j = 0; j < m; j++) {
      let sum = 0;
      for (let k = 0, q = j * LOOK_BYTES; k < LOOK_BYTES; k++) {
        const off = a.looks[p + k] - b.looks[q + k];
        sum += off * off;
      }
      out[i * m + j] = sum;
    }
  }
  return out;
}

const apart = (rays: Float32Array, i: number, j: number): number => Math.hypot(rays[3 * i] - rays[3 * j], rays[3 * i + 1] - rays[3 * j + 1], rays[3 * i + 2] - rays[3 * j + 2]);
const coloursApart = (a: ViewFeatures, i: number, b: ViewFeatures, j: number): number => Math.hypot(a.colours[2 * i] - b.colours[2 * j], a.colours[2 * i + 1] - b.colours[2 * j + 1]);

/** The one of n that looks most like something, where nothing elsewhere does nearly as much (Lowe 2004); -1: none. @param first, step where distances of the n lie */
function nearest(off: Float32Array, first: number, step: number, n: number, rays: Float32Array): number {
  let best = 0;
  for (let j = 1; j < n; j++) if (off[first + j * step] < off[first + best * step]) best = j;
  const least = off[first + best * step];
  for (let j = 0; j < n; j++) if (least >= RATIO * RATIO * off[first + j * step] && apart(rays, j, best) > SAME) return -1;
  return best;
}

function pairsOf(a: ViewFeatures, b: ViewFeatures): Pair[] {
  const [n, m] = [a.rays.length / 3, b.rays.length / 3];
  if (n === 0 || m === 0) return [];
  const off = distances(a, b, n, m);
  const pairs: Pair[] = [];
  for (let i = 0; i < n; i++) {
    const j = nearest(off, i * m, 1, m, b.rays);
    if (j < 0 || nearest(off, j, m, n, a.rays) !== i || coloursApart(a, i, b, j) > COLOUR) continue;
    // The same thing at two scales is one.
    if (!pairs.some((pair) => apart(a.rays, pair.a, i) < SAME)) pairs.push({ a: i, b: j });
  }
  return pairs;
}

const cross = (a: Ray, b: Ray): Ray => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const dot = (a: Ray, b: Ray): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const rayOf = ({ rays }: ViewFeatures, k: number): Ray => [rays[3 * k], rays[3 * k + 1], rays[3 * k + 2]];

/** Whether two rays meet ahead of both cameras. @param way from the first camera to the second */
function meetAhead(first: Ray, second: Ray, way: Ray): boolean {
  const c = dot(first, second);
  const [p, q] = [dot(first, way), dot(second, way)];
  return 1 - c * c < 1e-6 || (p > c * q && c * p > q);
}

/** A pair seen with the second camera turned: both rays, and the plane that they lie in, by as much of it as says where from. */
interface Seen {
  readonly first: Ray;
  readonly second: Ray;
  readonly plane: Ray;
  readonly near: number;
}

function seenTurned(first: Ray, [x, y, z]: Ray, degrees: number): Seen {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const second: Ray = [c * x + s * z, y, c * z - s * x];
  const plane = cross(first, second);
  return { first, second, plane, near: NEAR * Math.max(PARTED, Math.hypot(...plane)) };
}

/** Pairs that agree with the best way from camera to camera that two of them give, either way along. */
function agreeing(seen: readonly Seen[]): number {
  let most = 0;
  for (let i = 1; i < Math.min(TRIED, seen.length); i++) {
    for (let j = 0; j < i; j++) {
      const along = cross(seen[i].plane, seen[j].plane);
      const length = Math.hypot(...along);
      if (length < 1e-5) continue;
      for (const sign of [1 / length, -1 / length]) {
        const way: Ray = [along[0] * sign, along[1] * sign, along[2] * sign];
        let count = 0;
        for (const { first, second, plane, near } of seen) if (Math.abs(dot(plane, way)) < near && meetAhead(first, second, way)) count++;
        most = Math.max(most, count);
      }
    }
  }
  return most;
}

/**
 * How many things two pictures show of one place: pairs of features that look alike, as far as one way of standing of two level cameras
 * explains them. With the second camera turned about the plumb line as it was, both rays to a thing and the way from camera to camera lie in
 * a plane (Fraundorfer, Tanskanen, Pollefeys 2010); of all angles and ways the one that most pairs agree with counts (Fischler, Bolles 1981).
 */
export function matchViews(a: ViewFeatures, b: ViewFeatures): number {
  const rays = pairsOf(a, b).map((pair) => [rayOf(a, pair.a), rayOf(b, pair.b)] as const);
  let most = 0;
  for (let degrees = -TURNED; degrees <= TURNED; degrees += STEP) most = Math.max(most, agreeing(rays.map(([first, second]) => seenTurned(first, second, degrees))));
  return most;
}
