import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';
import type { Pixels, Plane } from './plane';
import { createPlane } from './plane';

/** Longer side of proxies, the pictures that lining up and the screen work on, in pixels. */
export const PROXY_SIDE = 1500;

/** Size of a picture shrunk so that its longer side is at most `side`; never enlarged. */
export function shrunkSize(width: number, height: number, side: number): { width: number; height: number } {
  const factor = Math.max(1, Math.max(width, height) / side);
  return { width: Math.max(1, Math.round(width / factor)), height: Math.max(1, Math.round(height / factor)) };
}

/**
 * Area mean of 8-bit RGB that lies in kernel memory, down to `width` x `height` (no larger than the source).
 * Means are of encoded values, as screens show them.
 * @returns interleaved RGB, 8 bit, rounded.
 */
export function shrinkPixels(kernels: Kernels, arena: Arena, src: Pointer, srcWidth: number, srcHeight: number, width: number, height: number): Pixels {
  if (width === srcWidth && height === srcHeight) {
    return { width, height, data: new Uint8Array(kernels.memory.buffer, src, width * height * 3).slice() };
  }
  const mark = arena.mark();
  const bytes = srcWidth * 3;
  const acc = arena.take(bytes * 4);
  const out = arena.take(width * 3);
  const sums = arena.floats(acc, bytes);
  const row = new Uint8Array(arena.buffer, out, width * 3);
  const data = new Uint8Array(width * height * 3);
  const factorY = srcHeight / height;
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    const from = y * factorY;
    const to = Math.min(from + factorY, srcHeight);
    for (let line = Math.floor(from); line < to; line++) {
      const share = (Math.min(line + 1, to) - Math.max(line, from)) / factorY;
      if (share > 1e-9) kernels.addRow8(src + line * bytes, bytes, share, acc);
    }
    kernels.shrinkSums(acc, srcWidth, srcWidth / width, width, out);
    data.set(row, y * width * 3);
  }
  arena.release(mark);
  return { width, height, data };
}

/** Half-size mean of 2x2 pixels; odd last rows and columns are left out. */
export function halve(plane: Plane): Plane {
  const w = plane.width >> 1;
  const h = plane.height >> 1;
  const out = createPlane(w, h);
  for (let y = 0; y < h; y++) {
    const upper = 2 * y * plane.width;
    const lower = upper + plane.width;
    for (let x = 0; x < w; x++) {
      out.data[y * w + x] = (plane.data[upper + 2 * x] + plane.data[upper + 2 * x + 1] + plane.data[lower + 2 * x] + plane.data[lower + 2 * x + 1]) / 4;
    }
  }
  return out;
}
