import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { Tools } from '../kernels/tools';
import { coarseSearch, likenessOf, type CoarseFit } from './coarseSearch';

/** Likeness above which two frames show the same view: in rooms of all kinds frames of one view have 1.6 and more, however differently lit. */
export const SAME = 1.4;
/** Radius, structure pixels, of the neighbourhood that strength of structure is told from. */
const RADIUS = 4;

/** How much structure there is at each place, whether bright on dark or dark on bright; 0 where nothing is known. */
function strengthOf({ width, height, data }: Plane): Plane {
  const strength = createPlane(width, height);
  for (let i = 0; i < data.length; i++) strength.data[i] = Math.abs(data[i]);
  const mean = boxBlur(strength, RADIUS);
  for (let i = 0; i < data.length; i++) strength.data[i] = data[i] === 0 ? 0 : strength.data[i] - mean.data[i];
  return strength;
}

/**
 * As `coarseSearch`; where no likeness is found, structure is compared without its sign: things that hang before a wall are
 * bright in the light of a flash beside the camera, dark in the light of a window behind them (as multi-modal registration
 * compares gradient magnitudes, Irani and Anandan, ICCV 1998).
 */
export function searchEitherSign({ kernels, arena }: Tools, a: Plane, b: Plane, reach?: number): CoarseFit {
  const signed = coarseSearch(kernels, arena, a, b, reach);
  if (likenessOf(signed) >= SAME) return signed;
  // Without its sign structure is half as wide: no shift is left out.
  const unsigned = coarseSearch(kernels, arena, strengthOf(a), strengthOf(b), reach, 1);
  return likenessOf(unsigned) > likenessOf(signed) ? unsigned : signed;
}
