import { PROXY_SIDE, shrunkSize } from '@zaddle/core/image/shrink';
import type { Pixels } from '@zaddle/core/image/plane';
import { rounded } from './decodeFrame';
import { makeSmaller } from './makeSmaller';

/** The proxy of a decoded frame: the same on every path, so that what is found on it is, too. */
export function makeProxy(pixels: Pixels): Pixels {
  const { width, height } = shrunkSize(pixels.width, pixels.height, PROXY_SIDE);
  return makeSmaller(pixels.data instanceof Uint16Array ? rounded(pixels) : pixels, width, height);
}

/** A proxy at half its size, by area means: enough for most screens, and a quarter to load. */
export const halved = (proxy: Pixels): Pixels => makeSmaller(proxy, Math.ceil(proxy.width / 2), Math.ceil(proxy.height / 2));
