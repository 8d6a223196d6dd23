import { boxBlur } from '../image/boxBlur';
import { luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';

/** Part of the picture, from above, that sky is looked for in, and the share of it that is sky outside. */
const UPPER = 1 / 3;
const MUCH = 0.08;
/** Stops of blue over red that no paint of a room has, hardly; and stops of texture that sky does not have. */
const BLUE = 1;
const CALM = 0.06;

/**
 * Whether a picture is taken outside: much of its upper part is calm, bright and far bluer than paint.
 * @param light working light on the guide, roughly balanced @param glass where something is seen through windows, 0..1, which does not count
 */
export function seesSky(light: Light, glass: Plane): boolean {
  const { width, height, r, b } = light;
  const log = mapPlane(luminance(light), (v) => Math.log2(Math.max(1e-4, v)));
  const calm = boxBlur(log, 2).data;
  const middle = quantile(log.data, 0.5);
  const size = width * Math.round(height * UPPER);
  let sky = 0;
  for (let i = 0; i < size; i++) {
    if (glass.data[i] < 0.5 && log.data[i] > middle && Math.abs(log.data[i] - calm[i]) < CALM && Math.log2(Math.max(1e-5, b[i]) / Math.max(1e-5, r[i])) > BLUE) sky++;
  }
  return sky > MUCH * size;
}
