import type { Triple } from '../colour/primaries';
import { quantile, type Light } from '../image/plane';

/**
 * Gains that bring one light to another where both see the same things: medians of the ratio per channel.
 * @param use tells which guide pixels may be compared. @returns null when fewer than 200 can.
 */
export function matchBalance(from: Light, to: Light, use: (i: number) => boolean): Triple | null {
  const ratios: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < from.r.length; i += 3) {
    if (!use(i) || Math.min(from.r[i], from.g[i], from.b[i], to.r[i], to.g[i], to.b[i]) < 0.004) continue;
    ratios[0].push(Math.log2(to.r[i] / from.r[i]));
    ratios[1].push(Math.log2(to.g[i] / from.g[i]));
    ratios[2].push(Math.log2(to.b[i] / from.b[i]));
  }
  if (ratios[0].length < 200) return null;
  return ratios.map((list) => 2 ** quantile(list, 0.5)) as unknown as Triple;
}
