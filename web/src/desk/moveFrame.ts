import { compose, invert, mapPoint, type Homography } from '@zaddle/core/geometry/homography';
import type { Matrix3 } from '@zaddle/document';

/** A movement of a frame's picture over the reference: pixels to the right and down, turn in degrees clockwise, and growth. */
export interface Movement {
  readonly dx: number;
  readonly dy: number;
  readonly degrees: number;
  readonly growth: number;
}

export const STAY: Movement = { dx: 0, dy: 0, degrees: 0, growth: 1 };

/** The alignment after the picture of the frame is moved over the reference, about the middle. @param width, height of the reference. */
export function moved(alignment: Matrix3, { dx, dy, degrees, growth }: Movement, width: number, height: number): Matrix3 {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const angle = (degrees * Math.PI) / 180;
  const [a, b] = [growth * Math.cos(angle), growth * Math.sin(angle)];
  // Where a place of the picture goes; what lands on a reference pixel came from the way back.
  const there: Homography = [a, -b, cx - a * cx + b * cy + dx, b, a, cy - b * cx - a * cy + dy, 0, 0, 1];
  return compose(alignment as Homography, invert(there)) as Matrix3;
}

/** The homography through four pairs of points, by elimination on the eight equations (Hartley, Zisserman 2004, 4.1). Null where three lie on a line. */
export function throughFour(from: readonly (readonly [number, number])[], to: readonly (readonly [number, number])[]): Homography | null {
  const rows = from.flatMap(([x, y], i) => {
    const [u, v] = to[i];
    return [[x, y, 1, 0, 0, 0, -u * x, -u * y, u], [0, 0, 0, x, y, 1, -v * x, -v * y, v]];
  });
  for (let k = 0; k < 8; k++) {
    const best = rows.slice(k).reduce((most, row, i) => (Math.abs(row[k]) > Math.abs(rows[most][k]) ? i + k : most), k);
    [rows[k], rows[best]] = [rows[best], rows[k]];
    if (Math.abs(rows[k][k]) < 1e-9) return null;
    for (let i = 0; i < 8; i++) {
      if (i === k) continue;
      const factor = rows[i][k] / rows[k][k];
      for (let j = k; j < 9; j++) rows[i][j] -= factor * rows[k][j];
    }
  }
  const h = rows.map((row, k) => row[8] / row[k]);
  return [h[0], h[1], h[2], h[3], h[4], h[5], h[6], h[7], 1];
}

/** The alignment after one corner of the frame's picture is dragged over the reference, the other three held. */
export function skewed(alignment: Matrix3, corner: number, dx: number, dy: number, width: number, height: number): Matrix3 | null {
  const corners: [number, number][] = [[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]];
  const targets = corners.map(([x, y], k): [number, number] => (k === corner ? [x + dx, y + dy] : [x, y]));
  const there = throughFour(corners, targets);
  if (!there) return null;
  const next = compose(alignment as Homography, invert(there));
  // Folded over: nobody's wish.
  return mapPoint(next, 0, 0).every(Number.isFinite) ? (next.map((v) => v / next[8]) as unknown as Matrix3) : null;
}
