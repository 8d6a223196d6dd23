import type { Point } from '@zaddle/document';
import { mapPoint, type Homography } from '../geometry/homography';
import { createPlane, type Plane } from '../image/plane';
import { EDGE_ABOUT, edgeMiddle } from './edgeMiddle';

/** Rows of a strip to either side of its segment: what an edge is asked for, and a little more. */
const HALF = EDGE_ABOUT + 2;
export const STRIP_ROWS = 2 * HALF + 1;
/** Pixels that the box about a piece of an inclined strip may have, more or less: all of it is loaded to see the strip. */
const PIECE = 256 ** 2;

/** A piece of a strip: so many of its columns, and how their pixels lie in the reference. */
export interface StripPiece {
  readonly first: number;
  readonly columns: number;
  readonly toReference: Homography;
}

/** A narrow picture along a segment that lies in its middle row. */
export interface EdgeStrip {
  readonly columns: number;
  /** How its pixels lie in the reference. */
  readonly toReference: Homography;
  /** What is looked at one after the other. */
  readonly pieces: readonly StripPiece[];
}

/** A strip along a segment of the reference. @param pixel reference pixels to a pixel of it */
export function edgeStrip([x0, y0]: Point, [x1, y1]: Point, pixel: number): EdgeStrip {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = Math.hypot(dx, dy);
  const columns = Math.max(2, Math.round(length / pixel) + 1);
  const [tx, ty] = length > 0 ? [(pixel * dx) / length, (pixel * dy) / length] : [pixel, 0];
  const at = (column: number): Homography => [tx, -ty, x0 + column * tx + HALF * ty, ty, tx, y0 + column * ty - HALF * tx, 0, 0, 1];
  const count = Math.max(1, Math.ceil(Math.sqrt(Math.abs(dx * dy) / pixel ** 2 / PIECE)));
  const pieces = Array.from({ length: count }, (_, k): StripPiece => {
    const [first, end] = [Math.round((k * columns) / count), Math.round(((k + 1) * columns) / count)];
    return { first, columns: end - first, toReference: at(first) };
  });
  return { columns, toReference: at(0), pieces };
}

/** A strip put together from its pieces. */
export function stripOf({ columns, pieces }: EdgeStrip, planes: readonly Plane[]): Plane {
  const strip = createPlane(columns, STRIP_ROWS);
  pieces.forEach(({ first, columns: own }, k) => {
    for (let y = 0; y < STRIP_ROWS; y++) strip.data.set(planes[k].data.subarray(y * own, (y + 1) * own), y * columns + first);
  });
  return strip;
}

/**
 * The segment of a strip moved to the middle of the edge that it lies about on, in the reference.
 * @param logs log2 luminance: the strip in different light. @param whites the brightest that each of these shows anywhere, linear
 */
export function settledOn({ columns, toReference }: EdgeStrip, logs: readonly Plane[], whites: readonly number[]): readonly [Point, Point] {
  const [from, to] = edgeMiddle(logs, whites, [0, HALF], [columns - 1, HALF]);
  return [mapPoint(toReference, ...from), mapPoint(toReference, ...to)];
}
