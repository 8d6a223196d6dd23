import type { PixelsOf } from '@zaddle/document';
import type { Pointer } from '../kernels/kernels';
import type { Placing } from '../kind/placing';
import type { RowWork } from '../kind/rowWork';

/** Whose pixels an area looks at, laid out for a grid: a frame with its matrix, or what lies below. */
export type PlacedPixels = { readonly frame: number; readonly matrix: Pointer } | null;

export function placePixels(of: PixelsOf, placing: Placing): PlacedPixels {
  if (of.kind === 'below') return null;
  const frame = placing.frame(of.frame);
  return { frame, matrix: placing.frameMatrix(frame) };
}

/** Names those pixels. */
export function pixelsKey(of: PixelsOf, placing: Placing): string {
  if (of.kind === 'below') return placing.below;
  const { frames, response } = placing.mix;
  return `${placing.frameKey(placing.frame(of.frame))} ${frames[of.frame].balance.join()} ${response.join()}`;
}

/** Brings row y of those pixels, working light, and says where its three planes lie. */
export function pixelsRow(placed: PlacedPixels, work: RowWork, y: number): Pointer {
  if (!placed) return work.underRow();
  work.light(placed.frame, y, placed.matrix, work.all);
  return work.s.source;
}
