import { boxBlur } from '../image/boxBlur';
import { createLight, createPlane, luminance, type Light, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';

/** Luminance, of white, from which light glows, and from which all of it does. */
const BEGINS = 0.8;
const WHOLLY = 1.8;
/** Luminance that a bare bulb counts with at most: what clips may be any brighter. */
const MOST = 6;
/** How far light is thrown, standard deviations as shares of the longer side, and the shares of it that go so far: near an inverse square, as of a lens. */
const THROWN = [[0.006, 0.5], [0.022, 0.3], [0.08, 0.2]] as const;
/** Share of bright light that is thrown at full strength: that of a strong diffusing filter. */
const FULL = 0.4;
/** Window means that make a bell of one, each as wide as gives it its variance. */
const MEANS = 3;

/** A Gaussian blur as repeated window means (Wells, "Efficient synthesis of Gaussian filters by cascaded uniform filters", 1986). */
function bell(plane: Plane, deviation: number): Plane {
  const radius = Math.max(1, Math.round((Math.sqrt((12 * deviation * deviation) / MEANS + 1) - 1) / 2));
  let out = plane;
  for (let k = 0; k < MEANS; k++) out = boxBlur(out, radius);
  return out;
}

/**
 * Light that the bright places of a picture throw over what lies around them, as a lens or a diffusing filter does: bright light
 * spread by a sum of bells whose foot falls off slowly (after Spencer et al., "Physically-based glare effects for digital
 * images", 1995). It is added to the picture, so nothing gets darker, and no tone below white changes by itself.
 * @param light working light, 1 = white. @returns the same size, at full strength
 */
export function glowOver(light: Light): Light {
  const { width, height } = light;
  const share = luminance(light).data.map((y) => smoothstep(BEGINS, WHOLLY, y) * Math.min(1, MOST / Math.max(MOST, y)));
  const out = createLight(width, height);
  for (const channel of ['r', 'g', 'b'] as const) {
    const bright = createPlane(width, height, light[channel].map((v, i) => Math.max(0, v) * share[i]));
    for (const [distance, part] of THROWN) {
      const spread = bell(bright, distance * Math.max(width, height)).data;
      for (let i = 0; i < spread.length; i++) out[channel][i] += FULL * part * spread[i];
    }
  }
  return out;
}
