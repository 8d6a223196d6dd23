import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type FrameId } from '@zaddle/document';
import { displayBlock } from '@zaddle/core/finish/displayBlock';
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
import type { Wish } from './renderThread';

/** Room for tables and guide planes of a mix. */
export const PLANES = 96_000_000;

/** Frames of one shot that room is kept for, when the shots are not known yet. */
export const THREAD_FRAMES = 40;

/** What a rendering may be asked for, by what it takes. */
export type WishKind = Wish['kind'];
const BYTES: Readonly<Record<WishKind, number>> = { encoded: 3, deep: 6, linear: 12, mask: 2 };
export const bytesAPixel = (kind: WishKind): number => BYTES[kind];

/** Scratch that rendering takes on a shelf, for an output of this size made from this many frames. */
export const renderScratch = (width: number, height: number, frames: number, kind: WishKind): number => width * height * bytesAPixel(kind) + PLANES + THREADS * rendererBytes(width, frames);

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
 * @param shelf with all frames that the mix takes. @param size output pixels.
 * @returns rows that lie on the shelf: they are gone when it renders again.
 */
export async function renderOnShelf(prepared: PreparedMix, shelf: FrameShelf, size: { readonly width: number; readonly height: number }, wish: Wish): Promise<Uint8Array> {
  const { arena, memory } = shelf;
  const mark = arena.mark();
  const bytes = size.width * size.height * bytesAPixel(wish.kind);
  const at = arena.take(bytes);
  await renderPlaced(placeMix(prepared, shelf.frames, wholeGrid(prepared.mix, size.width, size.height), arena), memory, arena, { ...wish, at });
  arena.release(mark);
  return new Uint8Array(memory.buffer, at, bytes);
}

/** Renders a placed mix on all threads into kernel memory. */
export async function renderPlaced(mix: PlacedMix, memory: KernelMemory, arena: Arena, out: Wish & { readonly at: Pointer }): Promise<void> {
  const counter = arena.take(4);
  new Int32Array(memory.buffer, counter, 1)[0] = 0;
  const scratchBytes = placedBytes(mix);
  const shown = 'profile' in out && out.profile !== 'srgb' ? { ...mix, display: arena.placeBytes(displayBlock(out.profile)) } : mix;
  await renderOnThreads(Array.from({ length: THREADS }, () => {
    const start = arena.take(scratchBytes);
    return { work: 'render' as const, module: kernelModule(), memory, mix: shown, scratch: [start, start + scratchBytes] as const, counter, out };
  }));
}
