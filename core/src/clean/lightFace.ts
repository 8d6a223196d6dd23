import { WORKING_TO_SRGB } from '../colour/primaries';
import { encodeTable, FULL_CHROMA, KNEE, WHITE } from '../finish/toneCurve';
import type { Light } from '../image/plane';
import type { Tools } from '../kernels/tools';

const MATRIX = Float32Array.from(WORKING_TO_SRGB);
const TABLE = encodeTable();

/** Working light as it is delivered: 8-bit RGB, row by row. */
export function lightFace({ kernels, arena }: Tools, { width, height, r, g, b }: Light): Uint8Array {
  const mark = arena.mark();
  const plane = width * 4 + 64;
  const [matrix, table, at, encoded] = [arena.placeFloats(MATRIX), arena.placeBytes(TABLE), arena.take(plane * 3), arena.take(width * 3 + 64)];
  const out = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    [r, g, b].forEach((channel, c) => arena.floats(at + c * plane, width).set(channel.subarray(y * width, (y + 1) * width)));
    kernels.encodeRow(at, plane, width, matrix, KNEE, WHITE, FULL_CHROMA, table, encoded);
    out.set(new Uint8Array(arena.buffer, encoded, width * 3), y * width * 3);
  }
  arena.release(mark);
  return out;
}
