import type { Triple } from '../colour/primaries';
import { quantile, type Light } from '../image/plane';

/** Guide pixels from one that is compared to the next. */
const STRIDE = 7;
/** Linear light below which a ratio says nothing. */
const LEAST = 0.004;

/**
 * Gains that bring one light to another where both see the same things: medians of the ratio per channel.
 * @param use tells which guide pixels may be compared. @returns null when fewer than 200 can.
 */
export function matchBalance(from: Light, to: Light, use: (i: number) => boolean): Triple | null {
  const room = Math.ceil(from.r.length / STRIDE);
  const [red, green, blue] = [new Float32Array(room), new Float32Array(room), new Float32Array(room)];
  let n = 0;
  for (let i = 0; i < from.r.length; i += STRIDE) {
    if (from.r[i] < LEAST || from.g[i] < LEAST || from.b[i] < LEAST || to.r[i] < LEAST || to.g[i] < LEAST || to.b[i] < LEAST || !use(i)) continue;
    red[n] = to.r[i] / from.r[i];
    green[n] = to.g[i] / from.g[i];
    blue[n++] = to.b[i] / from.b[i];
  }
  if (n < 200) return null;
  return [quantile(red.subarray(0, n), 0.5), quantile(green.subarray(0, n), 0.5), quantile(blue.subarray(0, n), 0.5)];
}
