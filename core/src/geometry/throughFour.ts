import type { Homography } from './homography';

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
