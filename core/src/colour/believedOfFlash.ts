import type { Triple } from './primaries';

/** Warmth of what seems white, stops of red over blue, from which it is rather paint than flash that is warm. */
const PAINT = 0.4;

/**
 * What is to be believed of gains that would make the likely whites of flash-lit surfaces neutral. A camera knows the white of a
 * flash: a little warmth is its balance wandering, much of it warm paint or wood, which would be pulled to grey. Towards blue, gains
 * are believed as they are: hardly any surface of a room is blue all over.
 * @param gains on red, green, blue, as from `estimateNeutral`. @returns gains, green 1.
 */
export function believedOfFlash(gains: Triple): Triple {
  const [red, blue] = [Math.log2(gains[0] / gains[1]), Math.log2(gains[2] / gains[1])];
  const believed = blue > red ? 1 / (1 + ((blue - red) / PAINT) ** 2) : 1;
  return [2 ** (believed * red), 1, 2 ** (believed * blue)];
}
