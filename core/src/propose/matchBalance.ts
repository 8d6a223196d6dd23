import type { Triple } from '../colour/primaries';
import { quantile, type Light } from '../image/plane';

/** Guide pixels from one that is compared to the next. */
const STRIDE = 7;

/**
 * Gains that bring one light to another where both see the same things: medians of the ratio per channel.
 * @param use tells which guide pixels may be compared. @returns null when fewer than 200 can.
 */
export function matchBalance(from: Light, to: Light, use: (i: number) => boolean): Triple | null {
  const ratios = [0, 1, 2].map(() => new Float32Array(Math.ceil(from.r.length / STRIDE)));
  let n = 0;
  for (let i = 0; i < from.r.length; i += STRIDE) {
    if (!use(i) || Math.min(from.r[i], from.g[i], from.b[i], to.r[i], to.g[i], to.b[i]) < 0.004) continue;
    ratios[0][n] = to.r[i] / from.r[i];
    ratios[1][n] = to.g[i] / from.g[i];
    ratios[2][n++] = to.b[i] / from.b[i];
  }
  if (n < 200) return null;
  return ratios.map((list) => quantile(list.subarray(0, n), 0.5)) as unknown as Triple;
}
