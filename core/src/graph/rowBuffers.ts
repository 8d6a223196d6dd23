import { DEEPEST_BUNDLE, LONGEST_CHAIN } from '@zaddle/document';
import { coordCount } from '../geometry/composedMap';
import type { Arena } from '../kernels/arena';
import { CHUNK, type Pointer } from '../kernels/kernels';
import { codePlane, rowPlane, type FrameRow, type Scratch } from '../kind/rowScratch';

/** Row buffers of one thread for rows of this many pixels. */
export function newScratch(arena: Arena, width: number): Scratch {
  const plane = rowPlane(width);
  const coords = arena.take(coordCount(width) * 8);
  const take = (planes: number): Pointer => arena.take(plane * planes);
  return {
    plane, coords,
    below: take(3), source: take(3), merge: take(4), rest: take(1), plain: take(3), under: take(3), tied: take(3), hostMask: take(1),
    layers: Array.from({ length: DEEPEST_BUNDLE }, () => take(4)), pieces: take(4), held: Array.from({ length: LONGEST_CHAIN + 1 }, () => take(1)), mask: take(1), area: take(1), a: take(1), b: take(1),
    logY: take(1), ones: take(1), zeros: take(1), flags: arena.take(Math.ceil(width / CHUNK)), stroke: take(1), fringe: take(3), fringeCoords: arena.take(coordCount(width) * 8),
  };
}

/** Buffers of one frame for the row at hand. */
export function newFrameRow(arena: Arena, width: number): FrameRow {
  const coords = arena.take(coordCount(width) * 8);
  const gains = arena.take(coordCount(width) * 2);
  const [codes, cover] = [arena.take(codePlane(width) * 3), arena.take(rowPlane(width))];
  return {
    coords, coordView: new Float64Array(arena.buffer, coords, coordCount(width)), gains, gainView: arena.floats(gains, coordCount(width) / 2),
    ownCodes: codes, ownCover: cover, codes, cover, made: false, warped: new Uint8Array(Math.ceil(width / CHUNK)), located: false,
  };
}
