import { compose, type Homography } from '@zaddle/core/geometry/homography';
import { Arena } from '@zaddle/core/kernels/arena';
import { rendererBytes } from '@zaddle/core/kind/rowScratch';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { wholeGrid, type OutputGrid, type PlacedSource } from '@zaddle/core/graph/placedMix';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import { regionBox } from '@zaddle/core/mix/regionBox';
import type { FrameId } from '@zaddle/document';
import type { FrameSpool } from './frameSpool';
import { giveBack, lendMemory } from './lentMemory';
import { PlainError } from './limits';
import { bytesAPixel, healedScratch, PLANES, renderPlaced } from './renderPicture';
import { THREADS } from './renderPool';
import type { Wish } from './renderThread';

/** Rows of a frame that a band of the output needs. */
interface Rows {
  readonly id: FrameId;
  readonly top: number;
  readonly count: number;
  readonly bytes: number;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Rows of the output from `top` on as a grid of its own. */
function bandGrid(prepared: PreparedMix, size: Size, top: number, rows: number): OutputGrid {
  const whole = wholeGrid(prepared.mix, size.width, size.height);
  const down: Homography = [1, 0, 0, 0, 1, top, 0, 0, 1];
  return { width: size.width, height: rows, toOutput: compose(whole.toOutput, down) };
}

function rowsNeeded({ mix }: PreparedMix, spool: FrameSpool, ids: readonly FrameId[], size: Size, top: number, rows: number): Rows[] {
  const [sx, sy] = [mix.width / size.width, mix.height / size.height];
  return ids.map((id) => {
    const { width, depth } = spool.sizeOf(id);
    const { box } = regionBox(mix, id, { x: -0.5 * sx, y: (top - 0.5) * sy, width: (size.width + 1) * sx, height: (rows + 1) * sy, level: 0 }, 'all');
    return { id, top: box.y, count: box.h, bytes: box.h * width * 3 * (depth / 8) + 4096 };
  });
}

/** Bands of the output, each as high as memory allows. @throws PlainError where not even a few rows fit. */
function bandsOf(prepared: PreparedMix, spool: FrameSpool, ids: readonly FrameId[], size: Size, bytes: number, room: number): { top: number; rows: number; needed: Rows[] }[] {
  const bands: { top: number; rows: number; needed: Rows[] }[] = [];
  for (let top = 0; top < size.height; ) {
    let rows = size.height - top;
    let needed = rowsNeeded(prepared, spool, ids, size, top, rows);
    while (needed.reduce((sum, r) => sum + r.bytes, 0) + rows * size.width * bytes > room) {
      if (rows <= 16) throw new PlainError('The frames of this shot lie so askew that not even a few rows of the picture fit into memory. Line them up again, or take out those that are turned.');
      rows = rows >> 1;
      needed = rowsNeeded(prepared, spool, ids, size, top, rows);
    }
    bands.push({ top, rows, needed });
    top += rows;
  }
  return bands;
}

/**
 * Renders a mix whose frames do not fit into memory together: band by band, from the rows that each band needs.
 * @param ids frames that it takes, all of them spooled. @param budget bytes of kernel memory.
 */
export async function renderBands(prepared: PreparedMix, spool: FrameSpool, ids: readonly FrameId[], size: Size, wish: Wish, budget: number): Promise<Uint8Array> {
  const threads = THREADS * rendererBytes(size.width, ids.length + prepared.passes.length) + healedScratch(prepared, size.width, ids.length);
  const bands = bandsOf(prepared, spool, ids, size, bytesAPixel(wish.kind), budget - PLANES - threads);
  const memory = lendMemory(budget);
  const picture = new Uint8Array(size.width * size.height * bytesAPixel(wish.kind));
  try {
    for (const { top, rows, needed } of bands) {
      const arena = new Arena(memory.buffer);
      const sources = new Map<FrameId, PlacedSource>();
      for (const { id, top: first, count, bytes } of needed) {
        const { width, height, depth } = spool.sizeOf(id);
        const at = arena.take(bytes);
        await spool.readRows(id, first, count, new Uint8Array(memory.buffer, at, bytes));
        sources.set(id, { at, width, height: count, depth, whole: { width, height, x: 0, y: first } });
      }
      const out = arena.take(rows * size.width * bytesAPixel(wish.kind));
      await renderPlaced(placeMix(prepared, sources, bandGrid(prepared, size, top, rows), arena), memory, arena, { ...wish, at: out });
      picture.set(new Uint8Array(memory.buffer, out, rows * size.width * bytesAPixel(wish.kind)), top * size.width * bytesAPixel(wish.kind));
    }
  } finally {
    giveBack(memory);
  }
  return picture;
}
