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
  /** Size of the source at hand: the whole picture or a part of it. */
  readonly width: number;
  readonly height: number;
  /** Optical centre in pixels of the source at hand, and half the diagonal squared. */
  readonly centre: readonly [number, number];
  readonly half: number;
}

/** A part of a picture that is at hand: the whole has this size, the part starts here. */
export interface Extent {
  readonly width: number;
  readonly height: number;
  readonly x: number;
  readonly y: number;
}

/**
 * @param outputToReference output pixel to lens-free reference pixel; @param alignment reference pixel to frame pixel, both
 * at full size; @param toSource full-size frame pixel to pixel of the whole picture at the size at hand (`rescale`); width, height: of the source at hand; whole: where that lies, if it is a part.
 */
export function composeMap(outputToReference: Homography, alignment: Homography, toSource: Homography, lens: Lens, width: number, height: number, whole: Extent = { width, height, x: 0, y: 0 }): ComposedMap {
  const shift: Homography = [1, 0, -whole.x, 0, 1, -whole.y, 0, 0, 1];
  return {
    plane: compose(shift, compose(toSource, compose(alignment, outputToReference))),
    lens, width, height,
    centre: [(whole.width - 1) / 2 - whole.x, (whole.height - 1) / 2 - whole.y],
    half: (whole.width ** 2 + whole.height ** 2) / 4,
  };
}

/** Number of f64 values that `writeRowCoords` writes for a row of n pixels. */
export const coordCount = (n: number): number => (Math.ceil(n / SEGMENT) + 1) * 2;

/** Writes exact source positions of pixels x0, x0 + 16, ... of output row y, as kernels expect them. */
export function writeRowCoords(map: ComposedMap, x0: number, y: number, n: number, out: Float64Array): void {
  const h = map.plane;
  const [cx, cy] = map.centre;
  const { half } = map;
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
