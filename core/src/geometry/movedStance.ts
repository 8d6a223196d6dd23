import type { Homography } from './homography';
import { dot, rayOf, type Vector } from './stanceLines';
import { stanceRotation, type Size, type Stance } from './straightenMap';

const degrees = (radians: number): number => (radians * 180) / Math.PI;

/** Where a direction seen by one camera is seen by another of the same focal length. */
function carried(ray: Vector, between: Homography, from: Size, to: Size, focal: number): Vector {
  const [f, g] = [focal * Math.max(from.width, from.height), focal * Math.max(to.width, to.height)];
  const [x, y, z] = [f * ray[0] + ((from.width - 1) / 2) * ray[2], f * ray[1] + ((from.height - 1) / 2) * ray[2], ray[2]];
  const h = between;
  const [u, v, w] = [h[0] * x + h[1] * y + h[2] * z, h[3] * x + h[4] * y + h[5] * z, h[6] * x + h[7] * y + h[8] * z];
  const [p, q] = [(u - ((to.width - 1) / 2) * w) / g, (v - ((to.height - 1) / 2) * w) / g];
  const length = Math.hypot(p, q, w);
  return [p / length, q / length, w / length];
}

/** How a camera stood whose picture lies on that of another under a map: what is plumb, and the faced wall, are the same for both. */
export function movedStance(stance: Stance, between: Homography, from: Size, to: Size, focal: number): Stance {
  const down = carried(rayOf('down', stance), between, from, to, focal);
  const roll = degrees(Math.atan2(down[0], down[1]));
  const pitch = degrees(Math.asin(Math.max(-1, Math.min(1, -down[2]))));
  const along = carried(rayOf('along', stance), between, from, to, focal);
  const r = stanceRotation({ roll, pitch, yaw: 0 });
  return { roll, pitch, yaw: degrees(Math.atan2(dot(along, [r[6], r[7], r[8]]), dot(along, [r[0], r[1], r[2]]))) };
}
