import { SEGMENT } from '../kernels/kernels';
import { compose, type Homography } from './homography';
import { lensFactor, type Lens } from './lens';

/**
 * The one map from an output pixel to a stored pixel: crop and straighten, then the frame's alignment, then
 * its lens, then the size at which the frame is at hand. One interpolation follows, never two.
 */
export interface ComposedMap {
  /** Output pixel to lens-free pixel of the source picture. */
  readonly plane: Homography;
  readonly lens: Lens;
  readonly width: number;
  readonly height: number;
}

/**
 * @param outputToReference output pixel to lens-free reference pixel; @param alignment reference pixel to frame pixel, both
 * at full size; @param toSource full-size frame pixel to pixel of the source at hand (`rescale`); width, height: of that source.
 */
export function composeMap(outputToReference: Homography, alignment: Homography, toSource: Homography, lens: Lens, width: number, height: number): ComposedMap {
  return { plane: compose(toSource, compose(alignment, outputToReference)), lens, width, height };
}

/** Number of f64 values that `writeRowCoords` writes for a row of n pixels. */
export const coordCount = (n: number): number => (Math.ceil(n / SEGMENT) + 1) * 2;

/** Writes exact source positions of pixels x0, x0 + 16, ... of output row y, as kernels expect them. */
export function writeRowCoords(map: ComposedMap, x0: number, y: number, n: number, out: Float64Array): void {
  const h = map.plane;
  const cx = (map.width - 1) / 2;
  const cy = (map.height - 1) / 2;
  const half = (map.width * map.width + map.height * map.height) / 4;
  const bare = map.lens.k1 === 0 && map.lens.k2 === 0;
  const stops = Math.ceil(n / SEGMENT) + 1;
  for (let i = 0; i < stops; i++) {
    const x = x0 + i * SEGMENT;
    const w = h[6] * x + h[7] * y + h[8];
    let u = (h[0] * x + h[1] * y + h[2]) / w;
    let v = (h[3] * x + h[4] * y + h[5]) / w;
    if (!bare) {
      const s = lensFactor(map.lens, ((u - cx) ** 2 + (v - cy) ** 2) / half);
      u = cx + (u - cx) * s;
      v = cy + (v - cy) * s;
    }
    out[2 * i] = u;
    out[2 * i + 1] = v;
  }
}
