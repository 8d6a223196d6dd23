import { displayBlock } from '../finish/displayBlock';
import type { Light } from '../image/plane';
import type { Tools } from '../kernels/tools';

/** Working light as it is delivered: 8-bit RGB, row by row. */
export function lightFace({ kernels, arena }: Tools, { width, height, r, g, b }: Light): Uint8Array {
  const mark = arena.mark();
  const plane = width * 4 + 64;
  const [display, at, encoded] = [arena.placeBytes(displayBlock('srgb')), arena.take(plane * 3), arena.take(width * 3 + 64)];
  const out = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    [r, g, b].forEach((channel, c) => arena.floats(at + c * plane, width).set(channel.subarray(y * width, (y + 1) * width)));
    kernels.encodeRow(at, plane, width, display, encoded);
    out.set(new Uint8Array(arena.buffer, encoded, width * 3), y * width * 3);
  }
  arena.release(mark);
  return out;
}
