import { denoises, denoisingBytes, placeNoise, rowsBeside } from '@zaddle/core/finish/denoise';
import { placeSharpening, sharpeningBytes, sharpens } from '@zaddle/core/finish/sharpen';
import type { Pixels } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Mix, NoiseReduction, Sharpening } from '@zaddle/document';
import { kernelModule } from './kernels';
import { giveBack, lendMemory } from './lentMemory';
import { renderOnThreads, THREADS } from './renderPool';
import type { FinishPlan } from './renderThread';

/** Bytes of a picture that are worked on together. */
const TOGETHER = 48_000_000;
/** Rows beyond those of a part that sharpening looks at, at most. */
const BESIDE = 10;
const ROOM = 1_000_000;

/** What is done to a finished picture, row by row. */
interface RowWork {
  /** Rows beyond a part that it looks at. */
  readonly beside: number;
  /** Bytes that each thread keeps. */
  readonly ringBytes: number;
  readonly place: (arena: Arena) => FinishPlan;
}

/** A finished 8-bit picture worked on by all threads, part by part in bounded memory. @param together bytes that are worked on at once, 64 rows at least */
async function overParts({ width, height, data: from }: Pixels, { beside, ringBytes, place }: RowWork, together: number): Promise<Pixels> {
  const rowBytes = width * 3;
  const rows = Math.min(height, Math.max(64, Math.floor(together / rowBytes)));
  const partBytes = (rows + 2 * beside) * rowBytes;
  const memory = lendMemory(2 * partBytes + THREADS * ringBytes + ROOM);
  const arena = new Arena(memory.buffer);
  const plan = place(arena);
  const [at, out, counter] = [arena.take(partBytes), arena.take(partBytes), arena.take(4)];
  const rings = Array.from({ length: THREADS }, () => arena.take(ringBytes));
  const data = new Uint8Array(from.length);
  try {
    for (let top = 0; top < height; top += rows) {
      const [first, last] = [Math.max(0, top - beside), Math.min(height, top + rows + beside)];
      new Uint8Array(memory.buffer, at, (last - first) * rowBytes).set((from as Uint8Array).subarray(first * rowBytes, last * rowBytes));
      new Int32Array(memory.buffer, counter, 1)[0] = 0;
      await renderOnThreads(rings.map((ring) => ({ ...plan, module: kernelModule(), memory, counter, picture: { at, out, width, height: last - first, step: 3 }, ring })));
      const end = Math.min(height, top + rows);
      data.set(new Uint8Array(memory.buffer, out + (top - first) * rowBytes, (end - top) * rowBytes), top * rowBytes);
    }
  } finally {
    giveBack(memory);
  }
  return { width, height, data };
}

/** A finished 8-bit picture sharpened; the same picture where nothing of it would show. @param scale its pixels to one of the output at full size */
export async function sharpenPicture(picture: Pixels, sharpening: Sharpening | null | undefined, scale: number, together = TOGETHER): Promise<Pixels> {
  if (!sharpens(sharpening, scale)) return picture;
  return overParts(picture, { beside: BESIDE, ringBytes: sharpeningBytes(picture.width, BESIDE - 2), place: (arena) => ({ work: 'sharpen', plan: placeSharpening(sharpening, scale, arena) }) }, together);
}

/** A finished 8-bit picture with its noise taken away; the same picture where nothing of it would show. @param scale its pixels to one of the output at full size */
export async function denoisePicture(picture: Pixels, noise: NoiseReduction | null | undefined, scale: number, together = TOGETHER): Promise<Pixels> {
  if (!denoises(noise, scale)) return picture;
  // Deliveries are never larger than full size: places are looked at pixel by pixel.
  return overParts(picture, { beside: rowsBeside(1), ringBytes: denoisingBytes(picture.width, 1), place: (arena) => ({ work: 'denoise', plan: placeNoise(noise, Math.min(1, scale), arena) }) }, together);
}

/** All that is done to a picture once it is one: noise first, which sharpening would make more of. */
export async function finishPicture(picture: Pixels, { noise, sharpening }: Pick<Mix, 'noise' | 'sharpening'>, scale: number): Promise<Pixels> {
  return sharpenPicture(await denoisePicture(picture, noise, scale), sharpening, scale);
}
