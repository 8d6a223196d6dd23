import sharp from 'sharp';
import type { Pixels } from '@zaddle/core/image/plane';
import { shrunkSize } from '@zaddle/core/image/shrink';
import { makeSmaller } from './makeSmaller';

/** Longer side of the small picture that lists show, pixels. */
const THUMBNAIL = 360;

/** The small picture of a frame, as a JPEG, from its proxy. */
export function makeThumbnail(proxy: Pixels): Promise<Buffer> {
  const size = shrunkSize(proxy.width, proxy.height, THUMBNAIL);
  const { width, height, data } = makeSmaller(proxy, size.width, size.height);
  return sharp(data as Uint8Array, { raw: { width, height, channels: 3 } }).jpeg({ quality: 80 }).toBuffer();
}
