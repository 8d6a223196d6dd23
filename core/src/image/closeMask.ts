import { createPlane, type Plane } from './plane';
import { spreadMask } from './spreadMask';

/**
 * Morphological closing of a mask by a square of side 2 radius + 1: dilation, then erosion, both separable (Serra, "Image
 * Analysis and Mathematical Morphology", 1982). Beyond the border nothing is assumed.
 * @param plane above 0 is inside. @returns 0 or 1.
 */
export function closeMask({ width, height, data }: Plane, radius: number): Plane {
  const mask = new Uint8Array(data.length);
  let some = false;
  for (let i = 0; i < mask.length; i++) {
    if (!(data[i] > 0)) continue;
    mask[i] = 1;
    some = true;
  }
  const closed = some ? spreadMask(spreadMask(mask, width, height, radius, 1), width, height, radius, 0) : mask;
  return createPlane(width, height, new Float32Array(closed));
}
