import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type FrameId } from '@zaddle/document';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { wholeGrid } from '@zaddle/core/graph/placedMix';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import { rendererBytes } from '@zaddle/core/kind/rowScratch';
import { FrameShelf, shelfBytes } from './frameShelf';
import { PlainError } from './limits';
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
  /** @param deep whether 16 bits are wanted, where the file has them. */
  readonly open: (deep: boolean) => Promise<Pixels>;
}

/** Most bytes of kernel memory: addresses of kernels are 31 bit. */
const KERNEL_BYTES = 2 ** 31 - (1 << 16);
const gigabytes = (bytes: number): string => (bytes / 1e9).toFixed(1);

interface FrameSize {
  readonly width: number;
  readonly height: number;
  readonly deep: boolean;
}

/**
 * Whether frames that are rendered together can keep their 16 bits; where those do not fit, they are worked with at 8.
 * @throws PlainError when they do not fit at 8 bits either.
 */
export function depthThatFits(frames: readonly FrameSize[], size: { width: number; height: number }, kind: PictureKind): { readonly deep: boolean; readonly bytes: number } {
  const scratch = renderScratch(size.width, size.height, frames.length, kind);
  const bytes = (deep: boolean): number => frames.reduce((sum, f) => sum + shelfBytes(f.width, f.height, deep && f.deep), 0);
  if (bytes(true) + scratch <= KERNEL_BYTES) return { deep: true, bytes: bytes(true) };
  if (bytes(false) + scratch <= KERNEL_BYTES) return { deep: false, bytes: bytes(false) };
  const largest = Math.max(...frames.map((f) => f.width * f.height));
  throw new PlainError(`These ${frames.length} frames of up to ${Math.round(largest / 1e6)} megapixels need ${gigabytes(bytes(false) + scratch)} GB at once, and ${gigabytes(KERNEL_BYTES)} GB can be had. Take out frames that are not needed, or split the shot.`);
}

/** A shelf with the frames that a mix takes, each opened once, as deep as they fit. @throws PlainError when they do not fit into kernel memory. */
export async function shelveFrames(prepared: PreparedMix, frameOf: (id: FrameId) => Openable, size: { width: number; height: number }, kind: PictureKind): Promise<FrameShelf> {
  const ids = framesToRender(prepared);
  const frames = new Map(ids.map((id) => [id, frameOf(id)]));
  const { deep, bytes } = depthThatFits(ids.map((id) => ({ ...prepared.mix.frames[id], deep: frames.get(id)!.deep })), size, kind);
  const shelf = new FrameShelf(bytes, renderScratch(size.width, size.height, ids.length, kind));
  // Two decodes at a time: one decoder does not keep two cores busy.
  for (let i = 0; i < ids.length; i += 2) {
    const pair = await Promise.all(ids.slice(i, i + 2).map(async (id) => ({ id, pixels: await frames.get(id)!.open(deep) })));
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
