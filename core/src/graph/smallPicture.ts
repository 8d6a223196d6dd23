import type { FrameId } from '@zaddle/document';
import { Arena } from '../kernels/arena';
import type { Tools } from '../kernels/tools';
import { placeMix } from './placeMix';
import { placedBytes, wholeGrid, type PlacedSource } from './placedMix';
import type { PreparedMix } from './prepareMix';
import { RowRenderer } from './rowRenderer';

/** The whole picture of a mix, small, as it is delivered: 8-bit RGB, row by row. @param sources pixels of the frames at about that size */
export function smallPicture({ kernels, arena }: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, columns: number, rows: number): Uint8Array {
  const mark = arena.mark();
  const placed = placeMix(prepared, sources, wholeGrid(prepared.mix, columns, rows), arena);
  const bytes = placedBytes(placed);
  const [start, at] = [arena.take(bytes), arena.take(columns * 3 + 64)];
  const renderer = new RowRenderer(kernels, new Arena(arena.buffer, start, start + bytes), placed);
  const out = new Uint8Array(columns * rows * 3);
  for (let y = 0; y < rows; y++) {
    renderer.encodeRow(y, at);
    out.set(new Uint8Array(arena.buffer, at, columns * 3), y * columns * 3);
  }
  arena.release(mark);
  return out;
}
