import { freeOfLens, type Lens } from './lens';
import type { Edge } from './findStraightEdges';
import { solveCholesky } from './solveCholesky';
import { stanceRotation, type Size, type Stance } from './straightenMap';

/** A straight edge as a camera with known focal length sees it. */
export interface SeenLine {
  /** Normal of the plane through the camera's centre and the edge, length 1. */
  readonly normal: readonly [number, number, number];
  /** Its middle as a ray, length 1, and how sure its direction is, radians. */
  readonly middle: readonly [number, number, number];
  readonly spread: number;
  /** Its length as seen, radians. */
  readonly length: number;
  /** Share of a voice that it has: lines beside each other, of one board or one stack of oars, have one together. */
  readonly voice: number;
}

export type Vector = readonly [number, number, number];

const DEGREE = Math.PI / 180;
/** Error of a place on an edge, pixels, and how many neighbours share it. */
const EDGE_NOISE = 0.15;
const EDGE_RUN = 16;
/** Least error that the direction of an edge is trusted to have: things that are built plumb are so within this, radians. */
const BUILT = 0.12 * DEGREE;

export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const unit = (v: Vector): Vector => {
  const n = Math.hypot(...v);
  return [v[0] / n, v[1] / n, v[2] / n];
};

/** An edge freed of the lens, as rays: the line through its points by total least squares. */
export function seenLine(edge: Edge, plane: Size, lens: Lens, focal: number): SeenLine {
  const f = focal * Math.max(plane.width, plane.height);
  const [cx, cy] = [(plane.width - 1) / 2, (plane.height - 1) / 2];
  const n = edge.length / 2;
  const free = Array.from({ length: n }, (_, i) => freeOfLens(lens, plane.width, plane.height, edge[2 * i], edge[2 * i + 1]));
  let [mx, my, xx, xy, yy] = [0, 0, 0, 0, 0];
  for (const [x, y] of free) {
    mx += x / n;
    my += y / n;
  }
  for (const [x, y] of free) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
  const along = (xx + yy) / 2 + Math.hypot((xx - yy) / 2, xy);
  const across = Math.max(0, (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy));
  const noise = Math.max(EDGE_NOISE, Math.sqrt(across / n));
  const half = Math.sqrt((3 * along) / n);
  const ray = (x: number, y: number): Vector => unit([(x - cx) / f, (y - cy) / f, 1]);
  const [a, b] = [ray(mx - half * ux, my - half * uy), ray(mx + half * ux, my + half * uy)];
  return { normal: unit(cross(a, b)), middle: ray(mx, my), spread: Math.hypot(BUILT, noise * Math.sqrt(EDGE_RUN / along)), length: Math.acos(Math.min(1, dot(a, b))), voice: 1 };
}

/** Angle, radians, by which a line misses a direction of the room: seen at its middle, between it and where that direction leads. */
export function missBy({ normal, middle }: SeenLine, direction: Vector): number {
  const along = dot(direction, middle);
  return Math.asin(Math.max(-1, Math.min(1, dot(normal, direction) / Math.sqrt(Math.max(1e-9, 1 - along * along)))));
}

/** Directions of a room: down along what is plumb, and along the faced wall. */
export type Way = 'down' | 'along';

/** Where a direction of the room leads, as a ray of the camera: a row of its rotation. */
export function rayOf(way: Way, stance: Stance): Vector {
  const r = stanceRotation(stance);
  return way === 'down' ? [r[3], r[4], r[5]] : [r[0], r[1], r[2]];
}

/** A line, and what it follows in the room. */
export interface Followed {
  readonly line: SeenLine;
  readonly way: Way;
}

/** Degrees by which an angle is moved to see what that does. */
const NUDGE = 1e-3;
const ROUNDS = 12;
/** What keeps an angle where it is that no line tells of, against what one line tells, shares. */
const HELD = 1e-9;

/**
 * The stance that lines agree best with, from a start, by robust least squares on some of its angles (Gauss-Newton with the
 * weights of Geman, McClure 1985). @param lenient residual, in a line's own error, at which it counts a quarter.
 * @returns also the variances of these angles, degrees squared.
 */
export function fitStance(followed: readonly Followed[], start: Stance, angles: readonly (keyof Stance)[], lenient: number): { stance: Stance; variances: readonly number[] } {
  const n = angles.length;
  const normal = new Float64Array(n * n);
  const gradient = new Float64Array(n);
  let stance = start;
  for (let round = 0; ; round++) {
    normal.fill(0);
    gradient.fill(0);
    const moved = angles.map((angle) => ({ ...stance, [angle]: stance[angle] + NUDGE }));
    for (const way of ['down', 'along'] as const) {
      const [here, there] = [rayOf(way, stance), moved.map((m) => rayOf(way, m))];
      for (const { line } of followed.filter((f) => f.way === way)) {
        const r = missBy(line, here);
        const j = there.map((ray) => (missBy(line, ray) - r) / NUDGE);
        const w = line.voice / ((1 + (r / (lenient * line.spread)) ** 2) * line.spread) ** 2;
        for (let a = 0; a < n; a++) {
          gradient[a] += w * j[a] * r;
          for (let b = 0; b < n; b++) normal[a * n + b] += w * j[a] * j[b];
        }
      }
    }
    const largest = Math.max(...angles.map((_, a) => normal[a * n + a]), 1e-6);
    for (let a = 0; a < n; a++) normal[a * n + a] += HELD * largest;
    if (round === ROUNDS) return { stance, variances: variancesOf(normal, n) };
    if (!solveCholesky(normal, gradient, n)) return { stance, variances: angles.map(() => Infinity) };
    stance = { ...stance, ...Object.fromEntries(angles.map((angle, a) => [angle, stance[angle] - gradient[a]])) };
  }
}

/** The diagonal of a normal matrix's inverse. */
function variancesOf(normal: Float64Array, n: number): number[] {
  return Array.from({ length: n }, (_, k) => {
    const column = new Float64Array(n);
    column[k] = 1;
    return solveCholesky(normal.slice(), column, n) ? column[k] : Infinity;
  });
}
