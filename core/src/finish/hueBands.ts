import type { HueBand } from '@zaddle/document';
import { smoothstep } from '../image/smoothstep';

/** Steps of a quarter turn that the table tells apart. */
export const BAND_STEPS = 128;

const RADIANS = Math.PI / 180;

/** The hue, radians, at a place of the square |a| + |b| = 1: quarter turns from 0 to 4. */
function hueAt(quarters: number): number {
  if (quarters < 1) return Math.atan2(quarters, 1 - quarters);
  if (quarters < 2) return Math.atan2(2 - quarters, 1 - quarters);
  if (quarters < 3) return Math.atan2(2 - quarters, quarters - 3);
  return Math.atan2(quarters - 4, quarters - 3);
}

/** How much of a band a hue is, 0..1. @param hue degrees */
export function withinBand({ hue: middle, width, softness }: Pick<HueBand, 'hue' | 'width' | 'softness'>, hue: number): number {
  const off = Math.abs(((hue - middle + 540) % 360) - 180);
  return smoothstep(0, 1, 0.5 + (width - off) / softness);
}

/** Whether bands change anything. */
export const changesHues = (bands: readonly HueBand[]): boolean => bands.some(({ shift, chroma, lightness }) => shift !== 0 || chroma !== 1 || lightness !== 0);

/**
 * What becomes of every hue under all bands, as the kernel reads it: (4 BAND_STEPS + 1) entries of the cosine and the sine of its turn times
 * the factor of its chroma, and the factor of its lightness less 1. Where bands overlap, turns and lightness add, and factors of chroma multiply.
 */
export function hueTable(bands: readonly HueBand[]): Float32Array {
  const table = new Float32Array(3 * (4 * BAND_STEPS + 1));
  for (let k = 0; k <= 4 * BAND_STEPS; k++) {
    const hue = hueAt((k % (4 * BAND_STEPS)) / BAND_STEPS) / RADIANS;
    let [turn, chroma, lightness] = [0, 1, 0];
    for (const band of bands) {
      const share = withinBand(band, hue);
      turn += share * band.shift;
      chroma *= 1 + share * (band.chroma - 1);
      lightness += share * band.lightness;
    }
    table.set([chroma * Math.cos(turn * RADIANS), chroma * Math.sin(turn * RADIANS), Math.max(-0.9, lightness)], 3 * k);
  }
  return table;
}
