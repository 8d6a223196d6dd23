import { LUMA, luminance, mapPlane, type Light, type Plane } from '../image/plane';
import { estimateNeutral } from './estimateNeutral';
import type { Triple } from './primaries';

/** Stops of red or blue against green beyond which something is coloured by itself, not by the light, and over which it ceases to count. */
const COLOURED = 0.5;
/** Luminance, against the mean, below which chroma is noise. */
const DARK = 0.05;
/** Pixels of the guide that an area has at least. */
const LEAST = 12;
const ROUNDS = 4;

/** Gains scaled so that a grey keeps its luminance. */
function levelled(gains: Triple): Triple {
  const y = gains.reduce((sum, g, c) => sum + g * LUMA[c], 0);
  return gains.map((g) => g / y) as unknown as Triple;
}

/** Mean chroma of an area as gains: what is coloured more than light colours things counts less, about the mean found so far. */
function meanOf({ r, g, b }: Light, weight: Plane): Triple | null {
  const y = weight.data.map((w, i) => w * (LUMA[0] * r[i] + LUMA[1] * g[i] + LUMA[2] * b[i]));
  const area = weight.data.reduce((sum, w) => sum + w, 0);
  if (area < LEAST) return null;
  const dark = (DARK * y.reduce((sum, v) => sum + v, 0)) / area;
  let [red, blue] = [0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    let [sum, a, c] = [0, 0, 0];
    for (let i = 0; i < weight.data.length; i++) {
      if (weight.data[i] <= 0 || y[i] < dark * weight.data[i] || Math.min(r[i], g[i], b[i]) <= 1e-5) continue;
      const [p, q] = [Math.log2(r[i] / g[i]), Math.log2(b[i] / g[i])];
      // At first everything counts alike: a wall may be strongly lit by lamps.
      const off = round === 0 ? 0 : Math.hypot(p - red, q - blue) / COLOURED;
      const w = weight.data[i] * Math.exp(-off * off);
      sum += w;
      a += w * p;
      c += w * q;
    }
    if (sum === 0) return null;
    [red, blue] = [a / sum, c / sum];
  }
  return [2 ** -red, 1, 2 ** -blue];
}

/**
 * Gains that take a cast away: of an area, by its mean chroma, large things of a strong colour of their own counting little (grey world, Buchsbaum 1980,
 * with weights of a robust mean); of the whole picture, by its likely whites (`estimateNeutral`). A grey keeps its luminance.
 * @param light working light on the guide. @param mask the area, 0..1, or null: all of the picture. @param view where the outside is seen, 0..1: it is lit by something else
 * @returns null where there is too little light to tell
 */
export function castOf(light: Light, mask: Plane | null, view: Plane | null): Triple | null {
  const inside = mapPlane(luminance(light), (_, i) => (mask ? mask.data[i] : 1) * (view ? 1 - view.data[i] : 1));
  if (mask) {
    const gains = meanOf(light, inside);
    return gains && levelled(gains);
  }
  return levelled(estimateNeutral(light, inside));
}
