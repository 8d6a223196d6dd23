import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type FrameId } from '@zaddle/core/mix/mix';
import { placeMix, wholeGrid } from '@zaddle/core/mix/placeMix';
import type { PreparedMix } from '@zaddle/core/mix/prepareMix';
import { rendererBytes } from '@zaddle/core/mix/rowScratch';
import { FrameShelf, shelfBytes } from './frameShelf';
import { kernelModule } from './kernels';
import { renderOnThreads, THREADS } from './renderPool';

/** Room for tables and guide planes of a mix. */
const PLANES = 96_000_000;

/** Frames of one shot that room is kept for, when the shots are not known yet. */
export const THREAD_FRAMES = 40;

export type PictureKind = 'encoded' | 'linear';

const bytesAPixel = (kind: PictureKind): number => (kind === 'encoded' ? 3 : 6);

/** Scratch that rendering takes on a shelf, for an output of this size made from this many frames. */
export const renderScratch = (width: number, height: number, frames: number, kind: PictureKind): number => width * height * bytesAPixel(kind) + PLANES + THREADS * rendererBytes(width, frames);

/** Frames whose pixels a prepared mix takes at full size. */
export function framesToRender(prepared: PreparedMix): FrameId[] {
  const needed = new Set<FrameId>();
  for (const { pass } of prepared.passes) framesOfPass(prepared.mix, pass).forEach((id) => needed.add(id));
  return [...needed];
}

/** A frame that can be opened. */
export interface Openable {
  readonly deep: boolean;
  readonly open: () => Promise<Pixels>;
}

/** A shelf with the frames that a mix takes, each opened once. @throws RangeError when they do not fit into kernel memory. */
export async function shelveFrames(prepared: PreparedMix, frameOf: (id: FrameId) => Openable, size: { width: number; height: number }, kind: PictureKind): Promise<FrameShelf> {
  const ids = framesToRender(prepared);
  const frames = new Map(ids.map((id) => [id, frameOf(id)]));
  const bytes = ids.reduce((sum, id) => sum + shelfBytes(prepared.mix.frames[id].width, prepared.mix.frames[id].height, frames.get(id)!.deep), 0);
  const shelf = new FrameShelf(bytes, renderScratch(size.width, size.height, ids.length, kind));
  // Two decodes at a time: one decoder does not keep two cores busy.
  for (let i = 0; i < ids.length; i += 2) {
    const pair = await Promise.all(ids.slice(i, i + 2).map(async (id) => ({ id, pixels: await frames.get(id)!.open() })));
    for (const { id, pixels } of pair) shelf.place(id, pixels);
  }
  return shelf;
}

/**
 * Renders a mix at its full size, or smaller, on all threads.
 * @param shelf with all frames that the mix takes. @param size output pixels. @param kind 'encoded': 8-bit sRGB; 'linear': 16-bit linear sRGB with 1.0 at 16384.
 * @returns pixels that lie on the shelf: they are gone when it renders again.
 */
export async function renderPicture(prepared: PreparedMix, shelf: FrameShelf, size: { width: number; height: number }, kind: PictureKind): Promise<Pixels> {
  const { arena, memory } = shelf;
  const mark = arena.mark();
  const counter = arena.take(4);
  new Int32Array(memory.buffer, counter, 1)[0] = 0;
  const outBytes = size.width * size.height * bytesAPixel(kind);
  const out = arena.take(outBytes);
  const mix = placeMix(prepared, shelf.frames, wholeGrid(prepared.mix, size.width, size.height), arena);
  const scratchBytes = rendererBytes(size.width, mix.frames.length);
  const tasks = Array.from({ length: THREADS }, () => {
    const start = arena.take(scratchBytes);
    return { module: kernelModule(), memory, mix, scratch: [start, start + scratchBytes] as const, counter, out: { kind, at: out } };
  });
  await renderOnThreads(tasks);
  arena.release(mark);
  const data = kind === 'encoded' ? new Uint8Array(memory.buffer, out, outBytes) : new Uint16Array(memory.buffer, out, outBytes / 2);
  return { ...size, data };
}
