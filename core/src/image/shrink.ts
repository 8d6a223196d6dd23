import type { Arena } from '../kernels/arena';
import { PADDING, type Kernels, type Pointer } from '../kernels/kernels';
import type { Pixels } from './plane';

/** Longer side of proxies, the pictures that lining up and the screen work on, in pixels. */
export const PROXY_SIDE = 1500;

/** Size of a picture shrunk so that its longer side is at most `side`; never enlarged. */
export function shrunkSize(width: number, height: number, side: number): { width: number; height: number } {
  const factor = Math.max(1, Math.max(width, height) / side);
  return { width: Math.max(1, Math.round(width / factor)), height: Math.max(1, Math.round(height / factor)) };
}

/** Parts that a source row is divided into where two output rows share it, at most; sums stay within 16 bits. */
const PARTS = 16;

/** Rows that are summed at once, where no two output rows share one, at most. */
const BLOCK = 16;

/**
 * Area mean of 8-bit RGB, row by row, down to `width` x `height` (no larger than the source). Means are of encoded
 * values, as screens show them; rows that two output rows share are divided in sixteenths.
 * @param rowsAt where `count` rows from y on lie one behind the other in kernel memory, with PADDING bytes behind them; count is at most BLOCK.
 * @returns interleaved RGB, 8 bit, rounded.
 */
function shrinkRows(kernels: Kernels, arena: Arena, rowsAt: (y: number, count: number) => Pointer, srcWidth: number, srcHeight: number, width: number, height: number): Pixels {
  const bytes = srcWidth * 3;
  const acc = arena.take(bytes * 2 + PADDING);
  const out = arena.take(width * 3 + PADDING);
  const sums = new Uint16Array(arena.buffer, acc, bytes);
  const row = new Uint8Array(arena.buffer, out, width * 3);
  const data = new Uint8Array(width * height * 3);
  const factorY = srcHeight / height;
  const whole = Number.isInteger(factorY) && factorY <= BLOCK;
  const parts = Math.max(1, Math.min(PARTS, Math.floor(256 / (factorY + 2))));
  for (let y = 0; y < height; y++) {
    let weight = 0;
    if (whole) {
      kernels.sumRows8(rowsAt(y * factorY, factorY), bytes, factorY, bytes, acc);
      weight = factorY;
    } else {
      sums.fill(0);
      const from = y * factorY;
      const to = Math.min(from + factorY, srcHeight);
      for (let line = Math.floor(from); line < to; line++) {
        const share = Math.round(parts * (Math.min(line + 1, to) - Math.max(line, from)));
        if (share > 0) kernels.addRow8(rowsAt(line, 1), bytes, share, acc);
        weight += share;
      }
    }
    kernels.shrinkSums(acc, srcWidth, srcWidth / width, weight, width, out);
    data.set(row, y * width * 3);
  }
  return { width, height, data };
}

/** Area mean of 8-bit RGB that lies in kernel memory. */
export function shrinkPixels(kernels: Kernels, arena: Arena, src: Pointer, srcWidth: number, srcHeight: number, width: number, height: number): Pixels {
  if (width === srcWidth && height === srcHeight) return { width, height, data: new Uint8Array(kernels.memory.buffer, src, width * height * 3).slice() };
  const mark = arena.mark();
  const shrunk = shrinkRows(kernels, arena, (y) => src + y * srcWidth * 3, srcWidth, srcHeight, width, height);
  arena.release(mark);
  return shrunk;
}

/** Bytes of kernel memory that `shrinkFrom` takes for a picture of this width. */
export const shrinkScratch = (srcWidth: number): number => srcWidth * 3 * (BLOCK + 3) + 16 * PADDING;

/** Area mean of 8-bit RGB that lies elsewhere: its rows pass through a little kernel memory. */
export function shrinkFrom(kernels: Kernels, arena: Arena, { width: srcWidth, height: srcHeight, data }: Pixels, width: number, height: number): Pixels {
  if (width === srcWidth && height === srcHeight) return { width, height, data: Uint8Array.from(data) };
  const mark = arena.mark();
  const bytes = srcWidth * 3;
  const at = arena.take(bytes * BLOCK + PADDING);
  const block = new Uint8Array(arena.buffer, at, bytes * BLOCK);
  const shrunk = shrinkRows(kernels, arena, (y, count) => {
    block.set((data as Uint8Array).subarray(y * bytes, (y + count) * bytes));
    return at;
  }, srcWidth, srcHeight, width, height);
  arena.release(mark);
  return shrunk;
}
