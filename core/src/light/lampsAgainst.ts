import { LUMA, quantile } from '../image/plane';
import type { Guide } from '../mix/guides';

/** Which lamps burn in a frame, against another: the same, more, or fewer. */
export type Lamps = 'same' | 'more' | 'fewer';

/** Guide pixels from one that is compared to the next. */
const STRIDE = 3;
/** Encoded values of the brightest channel that can be compared, and linear light below which nothing is told. */
const DARK = 0.1;
const BRIGHT = 0.94;
const LEAST = 0.004;
/** Share of the picture that must be comparable. */
const ENOUGH = 0.1;
/** Share of places at which light may have become less: somebody moved, an edge lies a little off. */
const STRAY = 0.03;
/** Stops by which light may be less everywhere else: exposures are rounded. */
const ROUNDED = 0.2;
/** Stops by which lamps lift the places that they lift most above those that they lift least. */
const LIFTS = 0.45;
/** Stops of added light from which on a place tells its colour, and whether its surface is the same. */
const TELLS = 0.25;
/** Guide pixels across which structure is compared, and its correlation that another light leaves: somebody who stands there has another. */
const ACROSS = 2;
const SAME = 0.6;
/** Stops by which red grew over blue, against the light that was there, from which on what was added is lamplight: a flash beside a blue sky comes to .6. */
const WARM = 0.8;
/** The same where the exposure is the other's, as seldom with a flash, and how many stops it may be off then. */
const WARM_ALIKE = 0.5;
const ALIKE = 0.15;

/** Light at places of one frame that another has less of, as far as both can be compared. */
interface Compared {
  /** Stops by which each place has more. */
  readonly more: Float32Array;
  /** Stops of red over blue of the light that was added against that which was there, where enough was. */
  readonly warmer: number[];
  /** Correlation of structure there, -1..1. */
  readonly alike: number;
}

function compare(without: Guide, having: Guide, stops: number): Compared | null {
  const usable = ({ top, cover }: Guide, i: number): boolean => cover.data[i] === 1 && top.data[i] > DARK && top.data[i] < BRIGHT;
  const scale = 2 ** -stops;
  const { width, data: { length } } = without.top;
  const [a, b] = [without, having].map(({ light: { r, g, b: blue } }) => (i: number): number => LUMA[0] * r[i] + LUMA[1] * g[i] + LUMA[2] * blue[i]);
  const more = new Float32Array(Math.ceil(length / STRIDE));
  const warmer: number[] = [];
  let [ab, aa, bb, n] = [0, 0, 0, 0];
  for (let i = 0; i < length; i += STRIDE) {
    if (!usable(without, i) || !usable(having, i)) continue;
    const [there, here] = [a(i), b(i)];
    if (there < LEAST || here < LEAST) continue;
    const by = Math.log2((here * scale) / there);
    more[n++] = by;
    if (by < TELLS) continue;
    const red = having.light.r[i] * scale - without.light.r[i];
    const blue = having.light.b[i] * scale - without.light.b[i];
    for (const step of [ACROSS, ACROSS * width]) {
      const [low, high] = [i - step, i + step];
      if (low < 0 || high >= length || !usable(without, low) || !usable(without, high) || !usable(having, low) || !usable(having, high)) continue;
      const [da, db] = [Math.log2(Math.max(LEAST, a(high)) / Math.max(LEAST, a(low))), Math.log2(Math.max(LEAST, b(high)) / Math.max(LEAST, b(low)))];
      ab += da * db;
      aa += da * da;
      bb += db * db;
    }
    if (red > 0 && without.light.r[i] > 0 && without.light.b[i] > 0) warmer.push(Math.log2((red / Math.max(blue, 0.02 * red)) * (without.light.b[i] / without.light.r[i])));
  }
  return n < (ENOUGH * length) / STRIDE ? null : { more: more.subarray(0, n), warmer, alike: ab / Math.max(1e-9, Math.sqrt(aa * bb)) };
}

/** Whether one frame is the other and lamplight: surfaces are the same, no place has less, some have clearly more than others, and what they have is warmer than what was there. */
function isLamplight({ more, warmer, alike }: Compared, stops: number): boolean {
  const [least, most] = [quantile(more, STRAY), quantile(more, 1 - STRAY)];
  return alike > SAME && least > -ROUNDED && most - Math.max(0, least) > LIFTS && quantile(warmer, 0.5) > (Math.abs(stops) < ALIKE ? WARM_ALIKE : WARM);
}

/**
 * Whether lamps were switched between two frames by the room's own light: light adds, so where lamps were switched on each place has
 * as much as before and more, by far more near them, and warmer than day. A flash adds light too, but white; a cloud takes the same
 * share everywhere. @param stops exposure of `other` against `home`, as the camera says it
 */
export function lampsAgainst(home: Guide, other: Guide, stops: number): Lamps {
  const more = compare(home, other, stops);
  if (!more) return 'same';
  if (isLamplight(more, stops)) return 'more';
  const fewer = compare(other, home, -stops);
  return fewer && isLamplight(fewer, stops) ? 'fewer' : 'same';
}
