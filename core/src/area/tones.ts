import type { TonesArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { pixelsKey, pixelsRow, placePixels, type PlacedPixels } from './pixelsRow';

interface PlacedTones {
  readonly pixels: PlacedPixels;
  /** log2 luminance. */
  readonly from: number;
  readonly to: number;
  readonly width: number;
}

const MIDDLE = Math.log2(0.18);
/** Stops over which a range comes and goes at least: a harder edge would be grain. */
const LEAST_WIDTH = 0.05;

/** A tonal range, at every pixel by its own luminance. */
export const tones: AreaEvaluation<TonesArea, TonesArea, PlacedTones> = {
  prepare: (area) => area,
  key: ({ of }, placing) => pixelsKey(of, placing),
  looksBelow: ({ of }) => of.kind === 'below',
  place: ({ of, from, to, softness }, placing) => ({ pixels: placePixels(of, placing), from: from + MIDDLE, to: to + MIDDLE, width: Math.max(LEAST_WIDTH, softness) }),
  row({ pixels, from, to, width }, work, y) {
    const { s, kernels } = work;
    kernels.logLuminanceRow(pixelsRow(pixels, work, y), s.plane, work.width, s.logY);
    kernels.tonesRow(s.logY, work.width, from, to, width, s.area);
  },
};
