import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type FrameId } from '@zaddle/document';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { placedBytes, wholeGrid, type PlacedMix } from '@zaddle/core/graph/placedMix';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import type { Arena } from '@zaddle/core/kernels/arena';
import type { Pointer } from '@zaddle/core/kernels/kernels';
import type { KernelMemory } from '@zaddle/core/kernels/loadKernels';
import { rendererBytes } from '@zaddle/core/kind/rowScratch';
import type { FrameShelf } from './frameShelf';
import { kernelModule } from './kernels';
import { renderOnThreads, THREADS } from './renderPool';
import { sharpenPicture } from './sharpenPicture';

/** Room for tables and guide planes of a mix. */
export const PLANES = 96_000_000;

/** Frames of one shot that room is kept for, when the shots are not known yet. */
export const THREAD_FRAMES = 40;

export type PictureKind = 'encoded' | 'linear';

export const bytesAPixel = (kind: PictureKind): number => (kind === 'encoded' ? 3 : 6);

/** Scratch that rendering takes on a shelf, for an output of this size made from this many frames. */
export const renderScratch = (width: number, height: number, frames: number, kind: PictureKind): number => width * height * bytesAPixel(kind) + PLANES + THREADS * rendererBytes(width, frames);

/** Places may be healed from others that were healed: so many times the room of one each. */
const WITHIN_EACH_OTHER = 2;
/** Pixels beside a piece that it is laid out with, at most. */
const BESIDE = 256;

/** Scratch beside that for healed places: each piece has rows of its own, as wide as it is, on every thread. */
export function healedScratch({ mix, passes }: PreparedMix, width: number, frames: number): number {
  const { width: w, height: h } = mix.frames[mix.reference];
  const scale = (Math.max(w, h) * width) / mix.width;
  const across = passes.flatMap(({ pass }) => (pass.kind === 'heal' ? pass.patches : [])).map(({ to, rings }) => {
    const xs = (rings.length > 0 ? rings.flat() : to).map(([x]) => x * scale);
    return Math.min(width, Math.max(...xs) - Math.min(...xs) + BESIDE);
  });
  return THREADS * WITHIN_EACH_OTHER * across.reduce((sum, each) => sum + rendererBytes(Math.ceil(each), frames), 0);
}

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

/**
 * Renders a mix at its full size, or smaller, on all threads.
 * @param shelf with all frames that the mix takes. @param size output pixels. @param kind 'encoded': 8-bit sRGB; 'linear': 16-bit linear sRGB with 1.0 at 16384.
 * @returns pixels that may lie on the shelf: they are gone when it renders again.
 */
export async function renderPicture(prepared: PreparedMix, shelf: FrameShelf, size: { width: number; height: number }, kind: PictureKind): Promise<Pixels> {
  const { arena, memory } = shelf;
  const mark = arena.mark();
  const outBytes = size.width * size.height * bytesAPixel(kind);
  const out = arena.take(outBytes);
  await renderPlaced(placeMix(prepared, shelf.frames, wholeGrid(prepared.mix, size.width, size.height), arena), memory, arena, { kind, at: out });
  arena.release(mark);
  if (kind === 'linear') return { ...size, data: new Uint16Array(memory.buffer, out, outBytes / 2) };
  return sharpenPicture({ ...size, data: new Uint8Array(memory.buffer, out, outBytes) }, prepared.mix.sharpening, size.width / prepared.mix.width);
}

/** Renders a placed mix on all threads into kernel memory. */
export async function renderPlaced(mix: PlacedMix, memory: KernelMemory, arena: Arena, out: { readonly kind: PictureKind; readonly at: Pointer }): Promise<void> {
  const counter = arena.take(4);
  new Int32Array(memory.buffer, counter, 1)[0] = 0;
  const scratchBytes = placedBytes(mix);
  await renderOnThreads(Array.from({ length: THREADS }, () => {
    const start = arena.take(scratchBytes);
    return { work: 'render' as const, module: kernelModule(), memory, mix, scratch: [start, start + scratchBytes] as const, counter, out };
  }));
}
