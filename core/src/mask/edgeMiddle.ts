import type { Point } from '@zaddle/document';
import type { Plane } from '../image/plane';

/** Pixels to either side of a line within which its edge lies, and steps in which light is read there. */
export const EDGE_ABOUT = 3;
const STEP = 0.5;
const READINGS = (2 * EDGE_ABOUT) / STEP + 1;
/** Places along a line, at most, and stretches of it that are bright on one side each. */
const PLACES = 160;
const STRETCHES = 6;
/** Ratio of light across an edge below which a place says nothing, and share of a picture's brightest beyond which it is clipped. */
const LEAST_RATIO = 1.25;
const CLIPPED = 0.95;
/** How far off the line a place may say that its edge lies and still count half, pixels; rounds of asking; share of all places that must say something. */
const ASTRAY = 0.7;
const ROUNDS = 4;
const LEAST_SAYING = 0.12;

/** Light below which nothing of a frame is clipped, however little brighter anything in it is. */
const MAY_CLIP = 0.85;

/** The brightest that a frame can show, linear, by what it shows; without end where nothing of it is clipped. @param log log2 luminance as the frame has it, all of it */
export function whiteOf({ data }: Plane): number {
  const most = 2 ** data.reduce((high, v) => Math.max(high, v), -Infinity);
  return most < MAY_CLIP ? Infinity : most;
}

/** Light between pixels, bilinear, of a picture of its logarithm; its edges repeat. */
function lightAt({ data, width, height }: Plane, x: number, y: number): number {
  const [cx, cy] = [Math.min(width - 1.001, Math.max(0, x)), Math.min(height - 1.001, Math.max(0, y))];
  const [i, j] = [Math.floor(cx), Math.floor(cy)];
  const [u, v, p] = [cx - i, cy - j, j * width + i];
  return (1 - v) * ((1 - u) * 2 ** data[p] + u * 2 ** data[p + 1]) + v * ((1 - u) * 2 ** data[p + width] + u * 2 ** data[p + width + 1]);
}

/** Light at places along a line (rows) and offsets to the left of its way (columns). */
function readAcross(log: Plane, [x0, y0]: Point, [x1, y1]: Point, rows: number): Float32Array {
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const [nx, ny] = [(y0 - y1) / length, (x1 - x0) / length];
  const out = new Float32Array(rows * READINGS);
  for (let i = 0; i < rows; i++) {
    const t = (i + 0.5) / rows;
    const [x, y] = [x0 + t * (x1 - x0), y0 + t * (y1 - y0)];
    for (let k = 0; k < READINGS; k++) out[i * READINGS + k] = lightAt(log, x + (k * STEP - EDGE_ABOUT) * nx, y + (k * STEP - EDGE_ABOUT) * ny);
  }
  return out;
}

/** Of each stretch of a line, whether light rises to the left of its way (1) or falls (-1). */
function signsOf(readings: Float32Array, rows: number): Int8Array {
  const signs = new Int8Array(STRETCHES);
  const [right, left] = [READINGS / 4, (3 * READINGS) / 4].map(Math.floor);
  for (let s = 0; s < STRETCHES; s++) {
    let sum = 0;
    for (let i = Math.floor((s * rows) / STRETCHES); i < Math.floor(((s + 1) * rows) / STRETCHES); i++) {
      const [a, b] = [readings[i * READINGS + right], readings[i * READINGS + left]];
      sum += (b - a) / (a + b || 1);
    }
    signs[s] = Math.sign(sum);
  }
  return signs;
}

/** What places say of a line: how many say something, sums of weights, of weighted places along it (0..1) and of offsets, for a least-squares line. */
interface Sums { said: number; w: number; wt: number; wtt: number; wo: number; wto: number }

/** Adds what the places of one picture say. */
function ask(log: Plane, white: number, from: Point, to: Point, rows: number, sums: Sums): void {
  const readings = readAcross(log, from, to, rows);
  const signs = signsOf(readings, rows);
  for (let i = 0; i < rows; i++) {
    const at = i * READINGS;
    let [low, high] = [readings[at], readings[at]];
    for (let k = 1; k < READINGS; k++) {
      low = Math.min(low, readings[at + k]);
      high = Math.max(high, readings[at + k]);
    }
    if (!(high > LEAST_RATIO * low) || high > CLIPPED * white) continue;
    const sign = signs[Math.min(STRETCHES - 1, Math.floor((i * STRETCHES) / rows))];
    let [sum, total] = [0, 0];
    for (let k = 1; k < READINGS - 1; k++) {
      const rise = Math.max(0, sign * (readings[at + k + 1] - readings[at + k - 1])) ** 2;
      sum += rise * k;
      total += rise;
    }
    if (total === 0) continue;
    const off = (sum / total) * STEP - EDGE_ABOUT;
    const t = (i + 0.5) / rows;
    const w = (1 - low / high) / (1 + (off / ASTRAY) ** 2);
    sums.said++;
    sums.w += w;
    sums.wt += w * t;
    sums.wtt += w * t * t;
    sums.wo += w * off;
    sums.wto += w * t * off;
  }
}

/**
 * A line that lies about on an edge, moved to its middle: where light, as much as it is and not as its logarithm, has gone half
 * of the way. A lens spreads light, so the steepest place of its logarithm lies on the dark side, the further the stronger the
 * edge; where the bright side is clipped it lies there even of light itself, and such places say nothing. A least-squares
 * line through what all places say, those that lie astray counting less (Holland, Welsch 1977: Cauchy's weights). Where few
 * say anything the line stays.
 * @param logs log2 luminance: pictures of the same place in different light. @param whites the brightest each of them can show, linear
 */
export function edgeMiddle(logs: readonly Plane[], whites: readonly number[], from: Point, to: Point): readonly [Point, Point] {
  const [x, y] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(x, y);
  const rows = Math.min(PLACES, Math.round(length / 2));
  if (rows < STRETCHES) return [from, to];
  const [nx, ny] = [-y / length, x / length];
  let [start, end] = [0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const sums: Sums = { said: 0, w: 0, wt: 0, wtt: 0, wo: 0, wto: 0 };
    const [a, b]: [Point, Point] = [[from[0] + start * nx, from[1] + start * ny], [to[0] + end * nx, to[1] + end * ny]];
    logs.forEach((log, k) => ask(log, whites[k], a, b, rows, sums));
    const determinant = sums.w * sums.wtt - sums.wt ** 2;
    if (sums.said < LEAST_SAYING * rows || !(determinant > 1e-3 * sums.w ** 2)) break;
    const [at, rise] = [(sums.wtt * sums.wo - sums.wt * sums.wto) / determinant, (sums.w * sums.wto - sums.wt * sums.wo) / determinant];
    const [nextStart, nextEnd] = [start + at, end + at + rise];
    if (Math.max(Math.abs(nextStart), Math.abs(nextEnd)) > EDGE_ABOUT) break;
    [start, end] = [nextStart, nextEnd];
  }
  return [[from[0] + start * nx, from[1] + start * ny], [to[0] + end * nx, to[1] + end * ny]];
}
