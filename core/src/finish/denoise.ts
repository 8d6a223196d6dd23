import type { NoiseReduction } from '@zaddle/document';
import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';
import type { SharpenedPicture } from './sharpen';

/** Deviation in shares of white below which grain does not show. */
const UNSEEN = 0.0012;
/** Pixels between places that are looked at, at most. */
const WIDEST = 4;

/** A noise reduction laid out for a grid of pixels: plain data, shared by all threads. */
export interface PlacedNoise {
  /** Eight floats: deviations of brightness, then of colour, in bytes. */
  readonly grains: Pointer;
  readonly brightness: number;
  readonly colour: number;
  readonly spacing: number;
}

/** Rows of a picture above and below one that are looked at. */
export const rowsBeside = (spacing: number): number => 4 * spacing;
const spacingAt = (scale: number): number => Math.max(1, Math.min(WIDEST, Math.round(scale)));
// A smaller picture averages grain away: by as many pixels as one stands for.
const grainAt = (grain: number, scale: number): number => grain * Math.min(1, scale);

/** Whether anything of a noise reduction shows. @param scale pixels of the grid to one of the output at full size */
export function denoises(noise: NoiseReduction | null | undefined, scale: number): noise is NoiseReduction {
  if (!noise) return false;
  const seen = (share: number, grains: readonly number[]): boolean => share > 0 && grainAt(Math.max(...grains), scale) >= UNSEEN;
  return seen(noise.brightness, noise.grain.brightness) || seen(noise.colour, noise.grain.colour);
}

/** Lays a noise reduction out for a scale. */
export function placeNoise({ brightness, colour, grain }: NoiseReduction, scale: number, arena: Arena): PlacedNoise {
  const grains = arena.placeFloats([...grain.brightness, ...grain.colour].map((deviation) => 255 * grainAt(deviation, scale)));
  return { grains, brightness, colour, spacing: spacingAt(scale) };
}

const PLANES = 3;
const OWN = 6;
const sideOf = (spacing: number): number => 5 * spacing + 8;
const strideOf = (width: number, spacing: number): number => ((width + 2 * sideOf(spacing) + 4) * 4 + 15) & ~15;
const slotsOf = (spacing: number): number => 2 * rowsBeside(spacing) + 1;

/** Bytes of rows that one thread keeps while it takes noise away. */
export const denoisingBytes = (width: number, spacing: number): number => (slotsOf(spacing) + 3) * 4 + (PLANES * slotsOf(spacing) + OWN) * strideOf(width, spacing) + 64;

/**
 * Takes noise out of rows of a picture. Brightness: the mean of 5 × 5 places, weighed by how alike 3 × 3 pixels about them are
 * (non-local means: Buades, Coll, Morel 2005), with a weight that is nothing beyond three times what grain alone differs by, so that
 * what stands out keeps its height. Colour: a mean of places twice as far apart that are alike in brightness and colour (bilateral:
 * Tomasi, Manduchi 1998), since colour noise comes in larger spots. Rows are independent, but cheapest one after the other.
 * @param ring `denoisingBytes` of this thread's own
 */
export function rowDenoiser(kernels: Kernels, { grains, brightness, colour, spacing }: PlacedNoise, { at, out, width, height, step }: SharpenedPicture, ring: Pointer): (y: number) => void {
  new Int32Array(kernels.memory.buffer, ring, slotsOf(spacing)).fill(-1);
  return (y) => kernels.denoiseRow(at, step, width, height, y, grains, brightness, colour, spacing, ring, strideOf(width, spacing), sideOf(spacing), out + y * width * step);
}
