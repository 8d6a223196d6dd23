import sharp from 'sharp';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import type { Room } from '../scene/room';
import type { Layers } from '../trace/renderRoom';
import { frameSize } from './house';

/** Where the middle of the tones is put, and light that comes out as white. */
const MIDDLE = 0.2;
const WHITE = 2.2;

/** Brings light into 0..1 with a long shoulder (extended Reinhard, SIGGRAPH 2002). */
const shoulder = (v: number): number => Math.min(1, (v * (1 + v / WHITE ** 2)) / (1 + v));

/**
 * A client's rendering: the room as it was drawn before it was built, from where the camera stands, every light as strong as
 * the drawing has it. Nothing of a camera is in it: no lens, no grain.
 * @returns a PNG file of the frames' size
 * @throws Error where nobody drew the room
 */
export async function clientsRendering(room: Room, pictures: Layers): Promise<Buffer> {
  if (!room.drawn) throw new Error(`There is no rendering of the room ${room.name}.`);
  const { width, height } = frameSize(pictures);
  const [left, top] = [(pictures.width - width) >> 1, (pictures.height - height) >> 1];
  const sum = new Float32Array(width * height * 3);
  for (const [name, strength] of Object.entries(room.drawn)) {
    const light = pictures.layers.get(name);
    if (!light) throw new Error(`The room ${room.name} has no light ${name}.`);
    for (let y = 0; y < height; y++) {
      const from = ((top + y) * pictures.width + left) * 3;
      for (let i = 0; i < width * 3; i++) sum[y * width * 3 + i] += strength * light[from + i];
    }
  }
  const some = Float32Array.from({ length: width * height }, (_, i) => sum[i * 3 + 1]).sort();
  const gain = MIDDLE / Math.max(1e-6, some[some.length >> 1]);
  const out = new Uint8Array(sum.length);
  for (let i = 0; i < sum.length; i++) out[i] = Math.round(255 * linearToSrgb(shoulder(sum[i] * gain)));
  return sharp(out, { raw: { width, height, channels: 3 } }).png().toBuffer();
}
