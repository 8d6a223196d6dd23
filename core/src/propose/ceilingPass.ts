import type { AdjustPass } from '@zaddle/document';
import { castField } from '../colour/castField';
import { WHITE_OF_PAINT } from '../colour/whiteOfPaint';
import { log2Of } from '../image/log2Of';
import { bilinear, quantile, type Light, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import { levelled, type Analysis } from './analyseShot';
import { adjusting, newPass } from './newPass';

/** Id of the pass. */
const CEILING_PASS = 'ceiling';
/** Shares of the picture between which a ceiling is more and more believed: a sliver between beams would be a patch of another white than what is beyond them; how well they are lit there, 0..1; and linear light below which they tell nothing. */
const SLIVER = 0.005;
const ENOUGH = 0.03;
const LIT = 0.3;
const DARK = 0.01;
/** Stops off white below which there is nothing to take away, and above which the ceiling itself is coloured. */
const SLIGHT = 0.03;
const COLOURED = 0.45;
/** Share of its places that may have less of a cast than is taken away: by flash hardly any; by lamps and daylight, of which each part has its own, a part may turn out as warm as another is cool. */
const HAVE_LESS = { byFlash: 0.1, byOwnLight: 0.4 };
/** How much of it is taken away: a ceiling without any colour of its room looks painted on. */
const TAKEN = 0.9;

/** Light on paint, and how far its colour is evened out before. */
export interface LightOnPaint {
  readonly light: Light;
  /** Where it is what colours the picture, 0..1. */
  readonly weight: Plane;
  readonly evenness: number;
  readonly byFlash: boolean;
}

/** How far a ceiling is off white, stops of red and blue over green, and how sure that is, 0..1. */
interface Cast {
  readonly red: number;
  readonly blue: number;
  readonly sure: number;
}

/** Stops of a channel over green at some places, less what is evened out before. */
function over({ light: { g, width, height }, evenness }: LightOnPaint, channel: Float32Array, evened: Plane | undefined, places: readonly number[]): Float32Array {
  const [toX, toY] = evened ? [evened.width / width, evened.height / height] : [0, 0];
  return Float32Array.from(places, (i) => {
    const light = evened ? evenness * bilinear(evened, ((i % width) + 0.5) * toX - 0.5, (Math.floor(i / width) + 0.5) * toY - 0.5) : 0;
    return log2Of(channel[i]) - log2Of(g[i]) - light;
  });
}

/** What a ceiling has of a cast nearly all over, by places that are lit well enough; null where hardly any is, or it has none. */
function castOfCeiling(lit: LightOnPaint, ceiling: Plane): Cast | null {
  const { light, weight, evenness, byFlash } = lit;
  const { r, g, b } = light;
  const places: number[] = [];
  for (let i = 0; i < g.length; i++) if (ceiling.data[i] > 0 && weight.data[i] >= LIT && Math.min(r[i], g[i], b[i]) >= DARK) places.push(i);
  const sure = smoothstep(SLIVER, ENOUGH, places.length / g.length);
  if (sure === 0) return null;
  const field = evenness > 0 ? castField(light, null) : null;
  const [reds, blues] = [over(lit, r, field?.red, places), over(lit, b, field?.blue, places)];
  const middle = [quantile(reds, 0.5) - WHITE_OF_PAINT.red, quantile(blues, 0.5) - WHITE_OF_PAINT.blue];
  const much = Math.hypot(middle[0], middle[1]);
  if (much < SLIGHT || much > COLOURED) return null;
  // So much of it as nearly all, or most, places have: where a part has less than the middle, more would turn that part blue.
  const along = reds.map((red, k) => ((red - WHITE_OF_PAINT.red) * middle[0] + (blues[k] - WHITE_OF_PAINT.blue) * middle[1]) / much);
  const all = Math.min(much, quantile(along, byFlash ? HAVE_LESS.byFlash : HAVE_LESS.byOwnLight));
  return all < SLIGHT ? null : { sure, red: (all / much) * middle[0], blue: (all / much) * middle[1] };
}

/**
 * What floors and furniture throw up onto a ceiling, taken away: ceilings are white, or of a colour that no light could give them. Its shading stays, and so
 * does what of its colour changes from place to place, which is for the evening of light.
 * @param lit what colours the picture, white being white
 * @returns null where no ceiling is found, or it is white, or coloured by itself
 */
export function ceilingPass({ findings, mix }: Pick<Analysis, 'findings' | 'mix'>, lit: LightOnPaint): AdjustPass | null {
  const cast = castOfCeiling(lit, findings.ceiling());
  if (!cast) return null;
  const taken = TAKEN * cast.sure;
  const why = `${lit.byFlash ? 'floor and furniture throw their colours up' : 'light from floor, lamps and windows colours it'}: ${Math.hypot(cast.red, cast.blue).toFixed(2)} stops off white, ${Math.round(100 * taken)} % of it taken away. A ceiling that is painted keeps its colour without this`;
  return { ...newPass(CEILING_PASS), ...adjusting, name: 'Ceiling', why, opacity: taken, balance: levelled([2 ** -cast.red, 1, 2 ** -cast.blue]), mask: [{ id: 'ceiling-found', kind: 'found', what: 'ceiling', join: 'add', inverted: false, edge: mix.reference }] };
}
