import { placeSharpening, sharpeningBytes, sharpens } from '@zaddle/core/finish/sharpen';
import type { Pixels } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import { createKernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Sharpening } from '@zaddle/document';
import { kernelModule } from './kernels';
import { renderOnThreads, THREADS } from './renderPool';

/** Bytes of a picture that are worked on together. */
const TOGETHER = 48_000_000;
/** Rows beyond those of a part that it looks at, at most. */
const BESIDE = 10;
const ROOM = 1_000_000;

/**
 * A finished 8-bit picture sharpened, on all threads, part by part in bounded memory; the same picture where nothing of it
 * would show. @param scale its pixels to one of the output at full size. @param together bytes that are worked on at once, 64 rows at least
 */
export async function sharpenPicture(picture: Pixels, sharpening: Sharpening | null | undefined, scale: number, together = TOGETHER): Promise<Pixels> {
  if (!sharpens(sharpening, scale)) return picture;
  const { width, height } = picture;
  const from = picture.data as Uint8Array;
  const rowBytes = width * 3;
  const rows = Math.min(height, Math.max(64, Math.floor(together / rowBytes)));
  const partBytes = (rows + 2 * BESIDE) * rowBytes;
  const memory = createKernelMemory(2 * partBytes + THREADS * sharpeningBytes(width, BESIDE - 2) + ROOM);
  const arena = new Arena(memory.buffer);
  const plan = placeSharpening(sharpening, scale, arena);
  const [at, out, counter] = [arena.take(partBytes), arena.take(partBytes), arena.take(4)];
  const rings = Array.from({ length: THREADS }, () => arena.take(sharpeningBytes(width, plan.radius)));
  const data = new Uint8Array(from.length);
  for (let top = 0; top < height; top += rows) {
    const [first, last] = [Math.max(0, top - BESIDE), Math.min(height, top + rows + BESIDE)];
    new Uint8Array(memory.buffer, at, (last - first) * rowBytes).set(from.subarray(first * rowBytes, last * rowBytes));
    new Int32Array(memory.buffer, counter, 1)[0] = 0;
    await renderOnThreads(rings.map((ring) => ({ work: 'sharpen', module: kernelModule(), memory, counter, plan, picture: { at, out, width, height: last - first, step: 3 }, ring })));
    const end = Math.min(height, top + rows);
    data.set(new Uint8Array(memory.buffer, out + (top - first) * rowBytes, (end - top) * rowBytes), top * rowBytes);
  }
  return { width, height, data };
}
