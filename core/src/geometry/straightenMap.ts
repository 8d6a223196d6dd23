import type { Framing } from '@zaddle/document';
import { compose, mapPoint, type Homography } from './homography';

/** Size of a picture, pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** How a camera stood against one that stands level before the room, degrees: hung to the right, looked up, looked to the right of the wall that it faced. */
export type Stance = Pick<Framing, 'roll' | 'pitch' | 'yaw'>;

const radians = (degrees: number): number => (degrees * Math.PI) / 180;
const times = (a: readonly number[], b: readonly number[]): number[] => [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c]));

/** Turns a ray of the camera (x right, y down, z ahead) into the room as a level camera sees it; row-major. */
export function stanceRotation({ roll, pitch, yaw }: Stance): number[] {
  const [r, p, y] = [radians(roll), radians(pitch), radians(yaw)];
  const hang = [Math.cos(r), -Math.sin(r), 0, Math.sin(r), Math.cos(r), 0, 0, 0, 1];
  const up = [1, 0, 0, 0, Math.cos(p), -Math.sin(p), 0, Math.sin(p), Math.cos(p)];
  const aside = [Math.cos(y), 0, Math.sin(y), 0, 1, 0, -Math.sin(y), 0, Math.cos(y)];
  return times(aside, times(up, hang));
}

/** Growth of area under a map at a point: the determinant of its Jacobian. */
function growthAt(h: Homography, x: number, y: number): number {
  const w = h[6] * x + h[7] * y + h[8];
  const determinant = h[0] * (h[4] * h[8] - h[5] * h[7]) - h[1] * (h[3] * h[8] - h[5] * h[6]) + h[2] * (h[3] * h[7] - h[4] * h[6]);
  return determinant / w ** 3;
}

/**
 * Reference pixel to pixel of the straightened picture: what the same camera would have taken from the same place standing
 * level (the homography K R K⁻¹ of a camera that turns about its centre: Hartley, Zisserman 2004, 8.4), so that
 * proportions stay natural; then turned and stretched by hand. The reference's middle stays where it is, and so does
 * the size of things there.
 */
export function straightenMap({ roll, pitch, yaw, focal, strength, turn, stretch }: Pick<Framing, 'roll' | 'pitch' | 'yaw' | 'focal' | 'strength' | 'turn' | 'stretch'>, { width, height }: Size): Homography {
  const [cx, cy, f] = [(width - 1) / 2, (height - 1) / 2, focal * Math.max(width, height)];
  const rotation = stanceRotation({ roll, pitch: pitch * strength, yaw: yaw * strength });
  const toRay: Homography = [1 / f, 0, -cx / f, 0, 1 / f, -cy / f, 0, 0, 1];
  const seen = compose(rotation as unknown as Homography, toRay);
  const [mx, my] = mapPoint(seen, cx, cy);
  const size = 1 / Math.sqrt(growthAt(seen, cx, cy) * stretch);
  const [cos, sin] = [Math.cos(radians(turn)) * size, Math.sin(radians(turn)) * size];
  const onto: Homography = [cos, -sin * stretch, cx, sin, cos * stretch, cy, 0, 0, 1];
  return compose(onto, compose([1, 0, -mx, 0, 1, -my, 0, 0, 1], seen));
}
