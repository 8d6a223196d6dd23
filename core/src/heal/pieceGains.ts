import type { Triple } from '@zaddle/document';
import { solveCholesky } from '../geometry/solveCholesky';
import type { HealFeatures } from './healLook';
import type { Offset } from './refineLabels';

/** Stops by which two pixels may differ and still tell of light, not of things. */
const MOST = 1;
/** What the rim tells against seams between pieces: that is made to fit anyway. */
const RIM = 0.3;
/** What keeps a gain near 1 where nothing tells. */
const CALM = 2;

/**
 * Gains that bring the pieces of a place to one light: so that they differ least on the seams between them, and from what lies around, by least squares
 * in log light.
 * @param labels which offset each pixel of the hole is taken by, -1 outside; @param offsets pixels of this grid
 */
export function pieceGains({ width, height, logs }: HealFeatures, labels: Int16Array, open: Uint8Array, offsets: readonly Offset[]): Triple[] {
  const n = offsets.length;
  const shifts = offsets.map(({ dx, dy }) => ({ dx: Math.round(dx), dy: Math.round(dy) }));
  const sourceOf = (i: number, label: number): number => {
    const [x, y] = [(i % width) + shifts[label].dx, Math.floor(i / width) + shifts[label].dy];
    return x < 0 || y < 0 || x >= width || y >= height || !open[y * width + x] ? -1 : y * width + x;
  };
  const matrix = new Float64Array(n * n);
  for (let a = 0; a < n; a++) matrix[a * n + a] = CALM;
  const sides = logs.map(() => new Float64Array(n));
  /** Piece a, as it is at pixel i, is to be what is at `other` of piece b, or of the picture (b < 0). */
  const meet = (a: number, own: number, b: number, other: number, weight: number): void => {
    if (own < 0 || other < 0) return;
    matrix[a * n + a] += weight;
    if (b >= 0) {
      matrix[b * n + b] += weight;
      matrix[a * n + b] -= weight;
      matrix[b * n + a] -= weight;
    }
    logs.forEach((log, c) => {
      const d = weight * Math.max(-MOST, Math.min(MOST, log[other] - log[own]));
      sides[c][a] += d;
      if (b >= 0) sides[c][b] -= d;
    });
  };
  for (let i = 0; i < labels.length; i++) {
    const a = labels[i];
    if (a < 0) continue;
    const x = i % width;
    for (const q of [x + 1 < width ? i + 1 : -1, i + width < labels.length ? i + width : -1, x > 0 ? i - 1 : -1, i - width]) {
      if (q < 0 || labels[q] === a) continue;
      const b = labels[q];
      if (b < 0 && open[q]) meet(a, sourceOf(q, a), -1, q, RIM);
      else if (b >= 0) meet(a, sourceOf(i, a), b, sourceOf(i, b), 1);
    }
  }
  const solved = sides.map((side) => {
    const values = Float64Array.from(side);
    return solveCholesky(Float64Array.from(matrix), values, n) ? values : new Float64Array(n);
  });
  return offsets.map((_, a) => solved.map((values) => Math.round(2 ** values[a] * 1e4) / 1e4) as unknown as Triple);
}
