import type { ToneCounts } from './messages';

/** Pixels between those that are counted, each way. */
const STEP = 2;

/** Counts the tones of a picture. @param pixels RGBA */
export function countTones(pixels: Uint8ClampedArray, width: number, height: number): ToneCounts {
  const counts = new Uint32Array(128);
  let [black, white, all] = [0, 0, 0];
  for (let y = 0; y < height; y += STEP) {
    for (let at = y * width * 4, end = at + width * 4; at < end; at += 4 * STEP) {
      const [r, g, b] = [pixels[at], pixels[at + 1], pixels[at + 2]];
      counts[(r * 54 + g * 183 + b * 19) >> 9]++;
      if (Math.max(r, g, b) >= 254) white++;
      else if (Math.max(r, g, b) <= 1) black++;
      all++;
    }
  }
  return { counts, black: black / Math.max(1, all), white: white / Math.max(1, all) };
}
