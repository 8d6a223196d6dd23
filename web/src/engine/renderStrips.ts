import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels, Pointer } from '@zaddle/core/kernels/kernels';
import { rowDenoiser, type PlacedNoise } from '@zaddle/core/finish/denoise';
import { rowSharpener, type PlacedSharpening } from '@zaddle/core/finish/sharpen';
import type { PlacedMix } from '@zaddle/core/graph/placedMix';
import { RowRenderer } from '@zaddle/core/graph/rowRenderer';
import type { Marks } from './messages';

/** Rows that a thread claims at once. */
const STRIP = 8;

/** One picture to be rendered by several threads: plain data and places in shared memory. */
export interface StripJob {
  readonly mix: PlacedMix;
  readonly what:
    /** RGBA pixels of the screen, by a buffer of each thread for a row; what is marked, and the pass whose mask that may be. */
    | { readonly kind: 'canvas'; readonly marks: Marks; readonly masked: number; readonly row: readonly Pointer[] }
    /** log2 luminance below a pass, rows `stride` bytes apart, or its light, three planes of so many bytes a row. */
    | { readonly kind: 'log'; readonly passes: number; readonly stride: number }
    | { readonly kind: 'light'; readonly passes: number; readonly stride: number }
    /** A picture of the screen with its noise taken away. */
    | { readonly kind: 'denoise'; readonly from: Pointer; readonly plan: PlacedNoise }
    /** A picture of the screen sharpened, or where its edges count; rows are kept in each thread's scratch. */
    | { readonly kind: 'sharpen'; readonly from: Pointer; readonly plan: PlacedSharpening; readonly shows: 'picture' | 'edges' };
  /** Int32 cell that counts claimed strips, and one that counts threads that are done. */
  readonly counter: Pointer;
  readonly done: Pointer;
  readonly out: Pointer;
  /** Row buffers of each thread. */
  readonly scratch: readonly (readonly [number, number])[];
}

const DARK = 0xff202020;
const LIGHT = 0xffffffff;
/** Share of its brightness that a picture keeps where a mask is nothing. */
const DIMMED = 0.45;

/** Packs a row of RGB as a canvas has it. Marks are patterns, which every eye can tell: white is hatched, black dotted. */
function toCanvas(rgb: Uint8Array, out: Uint32Array, at: number, width: number, clipping: boolean): void {
  const y = at / width;
  for (let i = 0, p = 0; i < width; i++, p += 3) {
    const r = rgb[p];
    const g = rgb[p + 1];
    const b = rgb[p + 2];
    if (clipping && ((i + y) & 7) < 3 && Math.max(r, g, b) >= 254) out[at + i] = DARK;
    else if (clipping && (i & 3) < 2 && (y & 3) < 2 && Math.max(r, g, b) <= 1) out[at + i] = LIGHT;
    else out[at + i] = 0xff000000 | (b << 16) | (g << 8) | r;
  }
}

/** Packs a row of RGB in its colours where a mask is whole, in dimmed grey where it is nothing. */
function inColour(rgb: Uint8Array, mask: Float32Array, out: Uint32Array, at: number, width: number): void {
  for (let i = 0, p = 0; i < width; i++, p += 3) {
    const grey = DIMMED * (0.3 * rgb[p] + 0.6 * rgb[p + 1] + 0.1 * rgb[p + 2]);
    const m = mask[i];
    out[at + i] = 0xff000000 | ((grey + m * (rgb[p + 2] - grey)) << 16) | ((grey + m * (rgb[p + 1] - grey)) << 8) | (grey + m * (rgb[p] - grey));
  }
}

/** Packs a row of a mask as grey. */
function inGrey(mask: Float32Array, out: Uint32Array, at: number, width: number): void {
  for (let i = 0; i < width; i++) out[at + i] = 0xff000000 | (Math.round(255 * mask[i]) * 0x010101);
}

/** Copies a row of light out of a thread's buffers, its planes `stride` bytes apart. */
function copyLight(buffer: ArrayBufferLike, { at, plane }: { readonly at: Pointer; readonly plane: number }, width: number, out: Pointer, stride: number): void {
  for (let c = 0; c < 3; c++) new Float32Array(buffer, out + c * stride, width).set(new Float32Array(buffer, at + c * plane, width));
}

/** What one row of a job takes, for one thread. */
function rowWork(kernels: Kernels, { mix, what, out, scratch }: StripJob, thread: number): (y: number) => void {
  const { buffer } = kernels.memory;
  if (what.kind === 'denoise') return rowDenoiser(kernels, what.plan, { at: what.from, out, width: mix.width, height: mix.height, step: 4 }, scratch[thread][0]);
  if (what.kind === 'sharpen') return rowSharpener(kernels, what.plan, { at: what.from, out, width: mix.width, height: mix.height, step: 4 }, scratch[thread][0], what.shows);
  const renderer = new RowRenderer(kernels, new Arena(buffer, ...scratch[thread]), mix);
  if (what.kind === 'light') return (y) => copyLight(buffer, renderer.renderRow(y, what.passes), mix.width, out + 3 * y * what.stride, what.stride);
  if (what.kind === 'log') return (y) => renderer.logRow(y, what.passes, out + y * what.stride);
  const row = new Uint8Array(buffer, what.row[thread], mix.width * 3);
  const pixels = new Uint32Array(buffer, out, mix.width * mix.height);
  return (y) => {
    if (what.marks !== 'mask') renderer.encodeRow(y, what.row[thread]);
    if (what.marks === 'none' || what.marks === 'clipping') return toCanvas(row, pixels, y * mix.width, mix.width, what.marks === 'clipping');
    const mask = new Float32Array(buffer, renderer.maskRow(what.masked, y), mix.width);
    if (what.marks === 'mask') inGrey(mask, pixels, y * mix.width, mix.width);
    else inColour(row, mask, pixels, y * mix.width, mix.width);
  };
}

/** Renders strips until none is left; then counts itself as done. */
export function renderStrips(kernels: Kernels, job: StripJob, thread: number): void {
  const { buffer } = kernels.memory;
  const { height } = job.mix;
  const counter = new Int32Array(buffer, job.counter, 1);
  const render = rowWork(kernels, job, thread);
  for (let strip = Atomics.add(counter, 0, 1); strip * STRIP < height; strip = Atomics.add(counter, 0, 1)) {
    for (let y = strip * STRIP; y < Math.min(height, (strip + 1) * STRIP); y++) render(y);
  }
  const done = new Int32Array(buffer, job.done, 1);
  Atomics.add(done, 0, 1);
  Atomics.notify(done, 0);
}
