import { rowDenoiser, type PlacedNoise } from '@zaddle/core/finish/denoise';
import { rowSharpener, type PlacedSharpening, type SharpenedPicture } from '@zaddle/core/finish/sharpen';
import { Arena } from '@zaddle/core/kernels/arena';
import { loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { PlacedMix } from '@zaddle/core/graph/placedMix';
import { RowRenderer } from '@zaddle/core/graph/rowRenderer';
import type { OutputProfile } from '@zaddle/document';

/** Rows that a thread claims at once. */
export const STRIP = 16;

/**
 * What is wanted of a mix: 'encoded', 8 bit in colours of a profile; 'deep', 16 bit, of its lowest passes; 'linear', light before the display curve, linear
 * sRGB as floats, 1.0 being white; 'mask', the mask of one pass before opacity, 16 bit.
 */
export type Wish = { readonly kind: 'encoded'; readonly profile: OutputProfile } | { readonly kind: 'deep'; readonly passes: number; readonly profile: OutputProfile } | { readonly kind: 'linear' } | { readonly kind: 'mask'; readonly pass: number };

/** One thread's part of rendering a picture: plain data and shared memory. */
interface RenderRows {
  readonly work: 'render';
  readonly module: WebAssembly.Module;
  readonly memory: KernelMemory;
  readonly mix: PlacedMix;
  /** Where this thread's row buffers may lie. */
  readonly scratch: readonly [number, number];
  /** Int32 cell that counts claimed strips, shared by all threads. */
  readonly counter: number;
  readonly out: Wish & { readonly at: number };
}

/** What is done to a finished picture. */
export type FinishPlan = { readonly work: 'sharpen'; readonly plan: PlacedSharpening } | { readonly work: 'denoise'; readonly plan: PlacedNoise };

/** One thread's part of that. */
type FinishRows = FinishPlan & {
  readonly module: WebAssembly.Module;
  readonly memory: KernelMemory;
  readonly counter: number;
  readonly picture: SharpenedPicture;
  /** Rows that this thread keeps. */
  readonly ring: number;
};

export type RenderTask = RenderRows | FinishRows;

/** Writes a row of working light as linear sRGB. */
function storeLinear(light: Float32Array, plane: number, matrix: Float32Array, out: Float32Array, width: number): void {
  for (let i = 0; i < width; i++) {
    const r = light[i];
    const g = light[i + plane];
    const b = light[i + 2 * plane];
    for (let c = 0; c < 3; c++) out[i * 3 + c] = matrix[c * 3] * r + matrix[c * 3 + 1] * g + matrix[c * 3 + 2] * b;
  }
}

/** What one row of a picture takes. */
function rowWork(task: RenderRows): (y: number) => void {
  const kernels = loadKernels(task.module, task.memory);
  const { buffer } = task.memory;
  const renderer = new RowRenderer(kernels, new Arena(buffer, ...task.scratch), task.mix);
  const { width } = task.mix;
  const { out } = task;
  if (out.kind === 'encoded') return (y) => renderer.encodeRow(y, out.at + y * width * 3);
  if (out.kind === 'deep') return (y) => renderer.encodeDeepRow(y, out.passes, out.at + y * width * 6);
  if (out.kind === 'mask') {
    return (y) => {
      const mask = new Float32Array(buffer, renderer.maskRow(out.pass, y), width);
      const row = new Uint16Array(buffer, out.at + y * width * 2, width);
      for (let i = 0; i < width; i++) row[i] = 65535 * Math.min(1, Math.max(0, mask[i])) + 0.5;
    };
  }
  const matrix = new Float32Array(buffer, task.mix.display, 9);
  return (y) => {
    const { at, plane } = renderer.renderRow(y);
    storeLinear(new Float32Array(buffer, at, (plane * 3) / 4), plane / 4, matrix, new Float32Array(buffer, out.at + y * width * 12, width * 3), width);
  };
}

/** Rows of what is done to a finished picture, for one thread. */
function finishWork(task: FinishRows): (y: number) => void {
  const kernels = loadKernels(task.module, task.memory);
  return task.work === 'sharpen' ? rowSharpener(kernels, task.plan, task.picture, task.ring, 'picture') : rowDenoiser(kernels, task.plan, task.picture, task.ring);
}

/** Works on strips until none is left. Returns how many this thread did; nothing to do only shows that the thread is there. */
export default function render(task: RenderTask | null): number {
  if (!task) return 0;
  const [height, work] = task.work === 'render' ? [task.mix.height, rowWork(task)] : [task.picture.height, finishWork(task)];
  const counter = new Int32Array(task.memory.buffer, task.counter, 1);
  let done = 0;
  for (let strip = Atomics.add(counter, 0, 1); strip * STRIP < height; strip = Atomics.add(counter, 0, 1), done++) {
    for (let y = strip * STRIP; y < Math.min(height, (strip + 1) * STRIP); y++) work(y);
  }
  return done;
}
