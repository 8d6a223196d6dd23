import type { Triple } from './primaries';
import { smoothstep } from '../image/smoothstep';
import { WHITE_OF_PAINT } from './whiteOfPaint';

/** Shares of what remains that are believed to be the flash: of warmth, in which flashes and cameras' balances differ, and of tint, in which they hardly do while paint does. */
const OF_WARMTH = 0.75;
const OF_TINT = 0.3;
/** Stops of blue over all between which it is more and more the camera, set for lamps: hardly any surface of a room is blue all over. */
const BLUE = 0.1;
const SURELY_BLUE = 0.3;
/** Stops off the camera's white, towards warmth or a tint, beyond which it is rather paint that is coloured. */
const PAINT = 0.3;

/**
 * What is to be believed of gains that would make the likely whites of flash-lit surfaces neutral. A camera knows the white of a
 * flash: its balance wanders a little, along the line from warm to cool as all light does; what lies beside that line, green or magenta, is paint, and so is
 * strong warmth; strong blue is a camera set for lamps. White paint itself is a little warm. (Bayes' rule with normal errors, a share for each axis; Forsyth, "A novel algorithm for color constancy",
 * 1990, for constraining lights to those that there are.)
 * @param gains on red, green, blue, as from `estimateNeutral`. @returns gains, green 1.
 */
export function believedOfFlash(gains: Triple): Triple {
  const [red, blue] = [Math.log2(gains[0] / gains[1]), Math.log2(gains[2] / gains[1])];
  const [warmth, tint] = [(blue + WHITE_OF_PAINT.blue - red - WHITE_OF_PAINT.red) / 2, (blue + WHITE_OF_PAINT.blue + red + WHITE_OF_PAINT.red) / 2];
  const believed = 1 / (1 + (Math.hypot(Math.max(0, warmth), tint) / PAINT) ** 2);
  const share = OF_WARMTH + (1 - OF_WARMTH) * smoothstep(BLUE, SURELY_BLUE, -warmth);
  const [light, off] = [share * believed * warmth, OF_TINT * believed * tint];
  return [2 ** (off - light), 1, 2 ** (off + light)];
}
