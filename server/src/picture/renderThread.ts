import { rowSharpener, type PlacedSharpening, type SharpenedPicture } from '@zaddle/core/finish/sharpen';
import { Arena } from '@zaddle/core/kernels/arena';
import { loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { PlacedMix } from '@zaddle/core/graph/placedMix';
import { RowRenderer } from '@zaddle/core/graph/rowRenderer';

/** Rows that a thread claims at once. */
export const STRIP = 16;

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
  readonly out: { readonly kind: 'encoded' | 'linear'; readonly at: number };
}

/** One thread's part of sharpening a finished picture. */
interface SharpenRows {
  readonly work: 'sharpen';
  readonly module: WebAssembly.Module;
  readonly memory: KernelMemory;
  readonly counter: number;
  readonly plan: PlacedSharpening;
  readonly picture: SharpenedPicture;
  /** Rows that this thread keeps. */
  readonly ring: number;
}

export type RenderTask = RenderRows | SharpenRows;

/** Writes a row of working light as linear sRGB, 16 bit, 1.0 at 1/4 of the range so that highlights survive. */
function storeLinear(light: Float32Array, plane: number, matrix: Float32Array, out: Uint16Array, width: number): void {
  for (let i = 0; i < width; i++) {
    const r = light[i];
    const g = light[i + plane];
    const b = light[i + 2 * plane];
    for (let c = 0; c < 3; c++) {
      const v = matrix[c * 3] * r + matrix[c * 3 + 1] * g + matrix[c * 3 + 2] * b;
      out[i * 3 + c] = Math.min(65535, Math.max(0, Math.round(v * 16384)));
    }
  }
}

/** What one row of a picture takes. */
function rowWork(task: RenderRows): (y: number) => void {
  const kernels = loadKernels(task.module, task.memory);
  const { buffer } = task.memory;
  const renderer = new RowRenderer(kernels, new Arena(buffer, ...task.scratch), task.mix);
  const { width } = task.mix;
  const matrix = new Float32Array(buffer, task.mix.outMatrix, 9);
  if (task.out.kind === 'encoded') return (y) => renderer.encodeRow(y, task.out.at + y * width * 3);
  return (y) => {
    const { at, plane } = renderer.renderRow(y);
    storeLinear(new Float32Array(buffer, at, (plane * 3) / 4), plane / 4, matrix, new Uint16Array(buffer, task.out.at + y * width * 6, width * 3), width);
  };
}

/** Works on strips until none is left. Returns how many this thread did; nothing to do only shows that the thread is there. */
export default function render(task: RenderTask | null): number {
  if (!task) return 0;
  const [height, work] = task.work === 'render' ? [task.mix.height, rowWork(task)] : [task.picture.height, rowSharpener(loadKernels(task.module, task.memory), task.plan, task.picture, task.ring, 'picture')];
  const counter = new Int32Array(task.memory.buffer, task.counter, 1);
  let done = 0;
  for (let strip = Atomics.add(counter, 0, 1); strip * STRIP < height; strip = Atomics.add(counter, 0, 1), done++) {
    for (let y = strip * STRIP; y < Math.min(height, (strip + 1) * STRIP); y++) work(y);
  }
  return done;
}
