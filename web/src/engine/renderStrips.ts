import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels, Pointer } from '@zaddle/core/kernels/kernels';
import type { PlacedMix } from '@zaddle/core/graph/placedMix';
import { RowRenderer } from '@zaddle/core/graph/rowRenderer';

/** Rows that a thread claims at once. */
const STRIP = 8;

/** One picture to be rendered by several threads: plain data and places in shared memory. */
export interface StripJob {
  readonly mix: PlacedMix;
  /** White and black are marked. */
  readonly clipping: boolean;
  /** Int32 cell that counts claimed strips, and one that counts threads that are done. */
  readonly counter: Pointer;
  readonly done: Pointer;
  /** RGBA pixels. */
  readonly out: Pointer;
  /** Row buffers of each thread. */
  readonly scratch: readonly (readonly [number, number])[];
  readonly row: readonly Pointer[];
}

const WHITE_MARK = 0xff2020e0;
const BLACK_MARK = 0xffe06020;

/** Packs a row of RGB as a canvas has it. */
function toCanvas(rgb: Uint8Array, out: Uint32Array, at: number, width: number, clipping: boolean): void {
  for (let i = 0, p = 0; i < width; i++, p += 3) {
    const r = rgb[p];
    const g = rgb[p + 1];
    const b = rgb[p + 2];
    if (clipping && Math.max(r, g, b) >= 254) out[at + i] = WHITE_MARK;
    else if (clipping && Math.max(r, g, b) <= 1) out[at + i] = BLACK_MARK;
    else out[at + i] = 0xff000000 | (b << 16) | (g << 8) | r;
  }
}

/** Renders strips until none is left; then counts itself as done. */
export function renderStrips(kernels: Kernels, job: StripJob, thread: number): void {
  const { buffer } = kernels.memory;
  const { width, height } = job.mix;
  const counter = new Int32Array(buffer, job.counter, 1);
  const renderer = new RowRenderer(kernels, new Arena(buffer, ...job.scratch[thread]), job.mix);
  const row = new Uint8Array(buffer, job.row[thread], width * 3);
  const out = new Uint32Array(buffer, job.out, width * height);
  for (let strip = Atomics.add(counter, 0, 1); strip * STRIP < height; strip = Atomics.add(counter, 0, 1)) {
    for (let y = strip * STRIP; y < Math.min(height, (strip + 1) * STRIP); y++) {
      renderer.encodeRow(y, job.row[thread]);
      toCanvas(row, out, y * width, width, job.clipping);
    }
  }
  const done = new Int32Array(buffer, job.done, 1);
  Atomics.add(done, 0, 1);
  Atomics.notify(done, 0);
}
