import { compose, invert, mapPoint, normalise, type Homography } from '../geometry/homography';
import { throughFour } from '../geometry/throughFour';

/** A movement of a frame's picture over the reference: pixels to the right and down, turn in degrees clockwise, and growth. */
export interface Movement {
  readonly dx: number;
  readonly dy: number;
  readonly degrees: number;
  readonly growth: number;
}

export const STAY: Movement = { dx: 0, dy: 0, degrees: 0, growth: 1 };

/** The alignment after the picture of the frame is moved over the reference, about the middle. @param width, height of the reference. */
export function moved(alignment: Homography, { dx, dy, degrees, growth }: Movement, width: number, height: number): Homography {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const angle = (degrees * Math.PI) / 180;
  const [a, b] = [growth * Math.cos(angle), growth * Math.sin(angle)];
  // Where a place of the picture goes; what lands on a reference pixel came from the way back.
  const there: Homography = [a, -b, cx - a * cx + b * cy + dx, b, a, cy - b * cx - a * cy + dy, 0, 0, 1];
  return compose(alignment, invert(there));
}

/** The alignment after one corner of the frame's picture is dragged over the reference, the other three held; null where that would fold the picture over. */
export function skewed(alignment: Homography, corner: number, dx: number, dy: number, width: number, height: number): Homography | null {
  const corners: [number, number][] = [[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]];
  const targets = corners.map(([x, y], k): [number, number] => (k === corner ? [x + dx, y + dy] : [x, y]));
  const there = throughFour(corners, targets);
  if (!there) return null;
  const next = compose(alignment, invert(there));
  return corners.every(([x, y]) => mapPoint(next, x, y).every(Number.isFinite)) ? normalise(next) : null;
}
