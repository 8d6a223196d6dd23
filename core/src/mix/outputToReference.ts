import { mapPoint } from '../geometry/homography';
import { freeOfLens } from '../geometry/lens';
import type { Mix } from '@zaddle/document';

/** Where an output pixel lies in the reference, freed of lens error; both at full size. */
export function outputToReference({ geometry, corrects, lens, frames, reference }: Mix, x: number, y: number): [number, number] {
  const [u, v] = mapPoint(geometry, x, y);
  return corrects.distortion ? [u, v] : freeOfLens(lens, frames[reference].width, frames[reference].height, u, v);
}
