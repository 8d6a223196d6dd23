import type { FrameId } from '@zaddle/document';
import { Arena } from '../kernels/arena';
import type { Tools } from '../kernels/tools';
import { placeMix } from './placeMix';
import { placedBytes, wholeGrid, type PlacedSource } from './placedMix';
import type { PreparedMix } from './prepareMix';
import { RowRenderer } from './rowRenderer';

/** The masks of all passes that have one, small, before opacity: coverage 0..255, by the pass's id. @param sources pixels of the frames at about that size */
export function maskFaces({ kernels, arena }: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, columns: number, rows: number): Map<string, Uint8Array> {
  const mark = arena.mark();
  const placed = placeMix(prepared, sources, wholeGrid(prepared.mix, columns, rows), arena);
  const bytes = placedBytes(placed);
  const start = arena.take(bytes);
  const renderer = new RowRenderer(kernels, new Arena(arena.buffer, start, start + bytes), placed);
  const faces = new Map<string, Uint8Array>();
  prepared.passes.forEach(({ pass }, index) => {
    if (pass.mask.length === 0) return;
    const face = new Uint8Array(columns * rows);
    for (let y = 0; y < rows; y++) arena.floats(renderer.maskRow(index, y), columns).forEach((v, x) => (face[y * columns + x] = Math.round(255 * v)));
    faces.set(pass.id, face);
  });
  arena.release(mark);
  return faces;
}
