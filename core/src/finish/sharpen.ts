import type { Sharpening } from '@zaddle/document';
import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';

/** What a picture is proposed with: what joining, turning and toning frames takes of their sharpness is given back. */
export const USUAL_SHARPENING: Sharpening = { amount: 0.8, radius: 0.9, edges: 0.01, halo: 0.02 };

/** Radius in pixels of the grid below which nothing of it shows. */
const LEAST_RADIUS = 0.25;
/** Deviations out to which a Gaussian counts, and pixels at most. */
const REACH = 2.2;
const FARTHEST = 8;
/** Share of white over which an edge comes to count whole. */
const SOFT = 0.03;

/** A sharpening laid out for a grid of pixels: plain data, shared by all threads. */
export interface PlacedSharpening {
  readonly weights: Pointer;
  readonly radius: number;
  readonly amount: number;
  /** In bytes of brightness. */
  readonly least: number;
  readonly soft: number;
  readonly halo: number;
}

/** Weights of a Gaussian, each pixel's share of it, from the middle outwards; their sum, both sides, is 1. */
export function gaussianWeights(sigma: number): Float32Array {
  const reach = Math.min(FARTHEST, Math.max(1, Math.ceil(REACH * sigma)));
  const weights = Float32Array.from({ length: reach + 1 }, (_, k) => Math.exp(-0.5 * (k / sigma) ** 2));
  const sum = 2 * weights.reduce((all, w) => all + w, 0) - weights[0];
  return weights.map((w) => w / sum);
}

/** Whether anything of a sharpening shows. @param scale pixels of the grid to one of the output at full size */
export const sharpens = (sharpening: Sharpening | null | undefined, scale: number): sharpening is Sharpening => Boolean(sharpening) && sharpening!.amount > 0 && sharpening!.radius * scale >= LEAST_RADIUS;

/** Lays a sharpening out for a scale. */
export function placeSharpening(sharpening: Sharpening, scale: number, arena: Arena): PlacedSharpening {
  const weights = gaussianWeights(sharpening.radius * scale);
  return { weights: arena.placeFloats(weights), radius: weights.length - 1, amount: sharpening.amount, least: 255 * sharpening.edges, soft: 255 * SOFT, halo: 255 * sharpening.halo };
}

/** Floats to either side of a row that the kernel keeps: as many as it looks aside, and a vector more. */
const SIDE = 12;
const strideOf = (width: number): number => ((width + 2 * SIDE + 4) * 4 + 15) & ~15;

/** Bytes of rows that one thread keeps while it sharpens. */
export const sharpeningBytes = (width: number, radius: number): number => (2 * radius + 3) * 4 + (2 * radius + 4) * strideOf(width) + 64;

/** A finished picture in memory, and where it goes to: another place of the same size. */
export interface SharpenedPicture {
  readonly at: Pointer;
  readonly out: Pointer;
  readonly width: number;
  readonly height: number;
  /** Bytes a pixel: 3, or 4 with one more that is set to 255. */
  readonly step: 3 | 4;
}

/**
 * Sharpens rows of a picture (unsharp masking of brightness, limited to edges and to the span of what lies around:
 * overshoot control after Ramponi, Polesel 1998). Rows are independent, but cheapest one after the other.
 * @param ring `sharpeningBytes` of this thread's own. @param shows the picture, or in grey where edges count
 */
export function rowSharpener(kernels: Kernels, { weights, radius, amount, least, soft, halo }: PlacedSharpening, { at, out, width, height, step }: SharpenedPicture, ring: Pointer, shows: 'picture' | 'edges'): (y: number) => void {
  new Int32Array(kernels.memory.buffer, ring, 2 * radius + 3).fill(-1);
  return (y) => kernels.sharpenRow(at, step, width, height, y, weights, radius, amount, least, soft, halo, ring, strideOf(width), shows === 'edges' ? 1 : 0, out + y * width * step);
}
