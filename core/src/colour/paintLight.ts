import { LUMA, type Light, type Plane } from '../image/plane';
import { likelyPaint, usualPaint } from './castField';
import type { Triple } from './primaries';

/** Stops of chroma about the usual within which a place is of it, and the share of a picture that it takes at least. */
const WITHIN = 0.3;
const LEAST = 0.02;

/**
 * Light that most of the light, calm paint of a picture gives off, luminance 1; null where there is hardly any.
 * @param light working light on the guide @param room where it is looked for, 0..1
 */
export function paintLight(light: Light, room: Plane): Triple | null {
  const paint = likelyPaint(light, room);
  const [red, blue] = usualPaint(paint);
  let share = 0;
  for (let i = 0; i < paint.weight.length; i++) if (Math.hypot(paint.red[i] - red, paint.blue[i] - blue) < WITHIN) share += paint.weight[i];
  if (share < LEAST * paint.weight.length) return null;
  const colour = [2 ** red, 1, 2 ** blue] as const;
  const y = colour[0] * LUMA[0] + LUMA[1] + colour[2] * LUMA[2];
  return [colour[0] / y, 1 / y, colour[2] / y];
}
