import type { HuesArea } from '@zaddle/document';
import { workingToCones } from '../colour/oklab';
import type { Pointer } from '../kernels/kernels';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { pixelsKey, pixelsRow, placePixels, type PlacedPixels } from './pixelsRow';

interface PlacedHues {
  readonly pixels: PlacedPixels;
  readonly matrix: Pointer;
  readonly cos: number;
  readonly sin: number;
  /** Radians. */
  readonly width: number;
  readonly softness: number;
  readonly chroma: number;
}

const RADIANS = Math.PI / 180;
const LEAST_SOFTNESS = 0.5;
const LEAST_CHROMA = 0.002;

/** A band of hues in OKLab, whose hue stays what it looks like while lightness and chroma change. */
export const hues: AreaEvaluation<HuesArea, HuesArea, PlacedHues> = {
  prepare: (area) => area,
  key: ({ of }, placing) => pixelsKey(of, placing),
  looksBelow: ({ of }) => of.kind === 'below',
  place: ({ of, hue, width, softness, chroma }, placing) => ({
    pixels: placePixels(of, placing), matrix: placing.once(workingToCones()), cos: Math.cos(hue * RADIANS), sin: Math.sin(hue * RADIANS),
    width: width * RADIANS, softness: Math.max(LEAST_SOFTNESS, softness) * RADIANS, chroma: Math.max(LEAST_CHROMA, chroma),
  }),
  row({ pixels, matrix, cos, sin, width, softness, chroma }, work, y) {
    work.kernels.huesRow(pixelsRow(pixels, work, y), work.s.plane, work.width, matrix, cos, sin, width, softness, chroma, work.s.area);
  },
};
