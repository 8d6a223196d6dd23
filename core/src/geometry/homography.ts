import type { Matrix3 } from '@zaddle/document';

/** A plane-to-plane map of pixel positions, 3x3 row-major, normalised to h[8] = 1. Integers are pixel centres. */
export type Homography = Matrix3;

export const IDENTITY: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** Maps a point. */
export function mapPoint(h: Homography, x: number, y: number): [number, number] {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

/** Scales so that h[8] = 1. */
export function normalise(h: readonly number[]): Homography {
  return h.map((v) => v / h[8]) as unknown as Homography;
}

/** The map that applies `first`, then `second`. */
export function compose(second: Homography, first: Homography): Homography {
  const out: number[] = [];
  for (let r = 0; r < 3; r++) {
    for (let c = 0; c < 3; c++) out.push(second[r * 3] * first[c] + second[r * 3 + 1] * first[3 + c] + second[r * 3 + 2] * first[6 + c]);
  }
  return normalise(out);
}

/** The inverse map. @throws Error for a map that cannot be inverted. */
export function invert(h: Homography): Homography {
  const [a, b, c, d, e, f, g, i, j] = h;
  const out = [e * j - f * i, c * i - b * j, b * f - c * e, f * g - d * j, a * j - c * g, c * d - a * f, d * i - e * g, b * g - a * i, a * e - b * d];
  const determinant = a * out[0] + b * out[3] + c * out[6];
  if (!(Math.abs(determinant) > 1e-12)) throw new Error('This alignment cannot be inverted: its four corners do not span a picture.');
  return normalise(out);
}

/** Pixel positions of one size of a picture to those of another size of the same picture (pixel areas, not centres, coincide). */
export function rescale(fromWidth: number, fromHeight: number, toWidth: number, toHeight: number): Homography {
  const sx = toWidth / fromWidth;
  const sy = toHeight / fromHeight;
  return [sx, 0, (sx - 1) / 2, 0, sy, (sy - 1) / 2, 0, 0, 1];
}
