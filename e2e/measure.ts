import { converter, differenceCiede2000 } from 'culori';
import type { Raster } from './canvas';

/** A disc of a picture, pixels. */
export interface Disc { readonly x: number; readonly y: number; readonly r: number }

const toLab = converter('lab65');
const difference = differenceCiede2000();
const linear = (v: number): number => (v <= 10.31475 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);

function* pixelsIn({ width, height, data }: Raster, { x, y, r }: Disc): Generator<[number, number, number]> {
  for (let py = Math.max(0, Math.ceil(y - r)); py <= Math.min(height - 1, y + r); py++) {
    for (let px = Math.max(0, Math.ceil(x - r)); px <= Math.min(width - 1, x + r); px++) {
      if ((px - x) ** 2 + (py - y) ** 2 > r * r) continue;
      const at = (py * width + px) * 3;
      yield [data[at], data[at + 1], data[at + 2]];
    }
  }
}

/** Mean colour of a disc, encoded 0..255. */
export function meanColour(picture: Raster, disc: Disc): [number, number, number] {
  const sum = [0, 0, 0];
  let count = 0;
  for (const pixel of pixelsIn(picture, disc)) {
    pixel.forEach((v, c) => (sum[c] += v));
    count++;
  }
  return sum.map((v) => v / count) as [number, number, number];
}

const rgb = ([r, g, b]: readonly number[]) => ({ mode: 'rgb' as const, r: r / 255, g: g / 255, b: b / 255 });

/** Lightness, a* and b* (D65) of a disc's mean. */
export function labOf(picture: Raster, disc: Disc): { l: number; a: number; b: number } {
  const { l, a, b } = toLab(rgb(meanColour(picture, disc)));
  return { l, a, b };
}

/** Difference of colour, CIEDE2000, of the means of discs of 6 pixels within a larger one: the mean of all. */
export function differenceIn(one: Raster, other: Raster, { x, y, r }: Disc): number {
  const found: number[] = [];
  for (let dy = -r; dy <= r; dy += 12) for (let dx = -r; dx <= r; dx += 12) if (dx * dx + dy * dy <= r * r) found.push(difference(rgb(meanColour(one, { x: x + dx, y: y + dy, r: 6 })), rgb(meanColour(other, { x: x + dx, y: y + dy, r: 6 }))));
  return found.reduce((sum, v) => sum + v, 0) / found.length;
}

/** log2 of the mean luminance of a disc, 0 being white. */
export function lightOf(picture: Raster, disc: Disc): number {
  let [sum, count] = [0, 0];
  for (const [r, g, b] of pixelsIn(picture, disc)) {
    sum += 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
    count++;
  }
  return Math.log2(Math.max(1e-4, sum / count));
}

/** Mean of log2 luminance of one picture against another, in a disc. */
export const logRatio = (one: Raster, other: Raster, disc: Disc): number => lightOf(one, disc) - lightOf(other, disc);

/** Share of a disc that is white without any shape. */
export function clippedIn(picture: Raster, disc: Disc): number {
  let [white, count] = [0, 0];
  for (const pixel of pixelsIn(picture, disc)) {
    white += Math.min(...pixel) >= 254 ? 1 : 0;
    count++;
  }
  return white / count;
}
