import type { Pixels } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import { createKernelMemory } from '@zaddle/core/kernels/loadKernels';
import { framesOfPass, type FrameId } from '@zaddle/core/mix/mix';
import { placeMix, wholeGrid, type PlacedSource } from '@zaddle/core/mix/placeMix';
import type { PreparedMix } from '@zaddle/core/mix/prepareMix';
import { rendererBytes } from '@zaddle/core/mix/renderRows';
import { kernelModule } from './kernels';
import { renderOnThreads, THREADS } from './renderPool';

/** Room for tables and guide planes of a mix. */
const PLANES = 160_000_000;

/** Frames whose pixels a prepared mix takes at full size. */
export function framesToRender(prepared: PreparedMix): FrameId[] {
  const needed = new Set<FrameId>();
  for (const { pass } of prepared.passes) framesOfPass(prepared.mix, pass).forEach((id) => needed.add(id));
  return [...needed];
}

/**
 * Renders a mix at its full size, or smaller, on all threads.
 * @param open gives a frame's decoded pixels; each is asked for once and not kept.
 * @param size output pixels. @param kind 'encoded': 8-bit sRGB; 'linear': 16-bit linear sRGB with 1.0 at 16384.
 * @throws RangeError when the frames do not fit into kernel memory.
 */
export async function renderPicture(prepared: PreparedMix, open: (id: FrameId) => Promise<Pixels>, size: { width: number; height: number }, kind: 'encoded' | 'linear'): Promise<Pixels> {
  const ids = framesToRender(prepared);
  const bytes = ids.reduce((sum, id) => sum + prepared.mix.frames[id].width * prepared.mix.frames[id].height * 3 + 4096, 0);
  const outBytes = size.width * size.height * (kind === 'encoded' ? 3 : 6);
  const scratchBytes = rendererBytes(size.width, ids.length);
  const memory = createKernelMemory(bytes + outBytes + PLANES + THREADS * scratchBytes);
  const arena = new Arena(memory.buffer);
  const sources = new Map<FrameId, PlacedSource>();
  // Two decodes at a time: one decoder does not keep two cores busy.
  for (let i = 0; i < ids.length; i += 2) {
    const pair = await Promise.all(ids.slice(i, i + 2).map(async (id) => ({ id, pixels: await open(id) })));
    for (const { id, pixels } of pair) {
      const depth = pixels.data instanceof Uint16Array ? 16 : 8;
      const view = new Uint8Array(pixels.data.buffer, pixels.data.byteOffset, pixels.data.byteLength);
      sources.set(id, { at: arena.placeBytes(view), width: pixels.width, height: pixels.height, depth });
    }
  }
  const counter = arena.take(4);
  const out = arena.take(outBytes);
  const mix = placeMix(prepared, sources, wholeGrid(prepared.mix, size.width, size.height), arena);
  const tasks = Array.from({ length: THREADS }, () => {
    const start = arena.take(scratchBytes);
    return { module: kernelModule(), memory, mix, scratch: [start, start + scratchBytes] as const, counter, out: { kind, at: out } };
  });
  await renderOnThreads(tasks);
  const data = kind === 'encoded' ? new Uint8Array(memory.buffer, out, outBytes) : new Uint16Array(memory.buffer, out, outBytes / 2);
  return { ...size, data };
}
