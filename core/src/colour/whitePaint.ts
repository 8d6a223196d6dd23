import { bilinear, type Light, type Plane } from '../image/plane';
import { castField, likelyPaint, usualPaint } from './castField';
import type { Triple } from './primaries';

/** Stops of red over blue within which paint is of the room's light paint. */
const OF_PAINT = 0.2;
/** Share of light paint that may be cooler than white, and stops about that which it is taken from. */
const COOLER = 0.2;
const ABOUT = 0.05;

/** Value that a share of the weight lies below. */
function weightedQuantile(values: readonly number[], weights: readonly number[], share: number): number {
  const order = values.map((_, k) => k).sort((a, b) => values[a] - values[b]);
  const wanted = share * weights.reduce((sum, w) => sum + w, 0);
  let sum = 0;
  return values[order.find((k) => (sum += weights[k]) >= wanted) ?? order[order.length - 1]];
}

/**
 * What a room's light paint reflects where no flash tells what is white: with the colour of light evened out, the coolest
 * part of it. Walls and ceilings are white or warm, hardly ever bluer than white; the usual paint would take warm walls for white, and blue ceilings with them.
 * @param light working light on the guide, roughly balanced. @param weight where the room is, 0..1
 * @returns gains that make it neutral, green 1
 */
export function whitePaint(light: Light, weight: Plane): Triple {
  const field = castField(light, weight);
  const paint = likelyPaint(light, weight);
  const [toX, toY] = [field.red.width / light.width, field.red.height / light.height];
  for (let i = 0; i < paint.weight.length; i++) {
    if (paint.weight[i] === 0) continue;
    const [x, y] = [((i % light.width) + 0.5) * toX - 0.5, (Math.floor(i / light.width) + 0.5) * toY - 0.5];
    paint.red[i] -= bilinear(field.red, x, y);
    paint.blue[i] -= bilinear(field.blue, x, y);
  }
  const usual = usualPaint(paint);
  const of: number[] = [];
  for (let i = 0; i < paint.weight.length; i += 3) if (paint.weight[i] > 0.2 && Math.hypot(paint.red[i] - usual[0], paint.blue[i] - usual[1]) < OF_PAINT) of.push(i);
  if (of.length === 0) return [1, 1, 1];
  const warmth = of.map((i) => paint.red[i] - paint.blue[i]);
  const cool = weightedQuantile(warmth, of.map((i) => paint.weight[i]), COOLER);
  let [sum, red, blue] = [1e-9, 0, 0];
  of.forEach((i, k) => {
    if (Math.abs(warmth[k] - cool) > ABOUT) return;
    sum += paint.weight[i];
    red += paint.weight[i] * paint.red[i];
    blue += paint.weight[i] * paint.blue[i];
  });
  return [2 ** (-red / sum), 1, 2 ** (-blue / sum)];
}
