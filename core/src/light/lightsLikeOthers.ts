import { boxBlur } from '../image/boxBlur';
import { halve, unhalve } from '../image/halve';
import { createPlane, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import type { Guide } from '../mix/guides';
import { logLuminanceOf } from '../mix/guideTones';

/** Guide pixels within which a hot spot or a hard shadow lies; even, since that is looked at at half the guide's size. */
const AROUND = 26;
/** Stops off its surroundings, and off what other flashes show there, from which a place is one, and at which it surely is. */
const SLIGHT = 0.22;
const SURE = 0.75;
/** Share of its weight that such a place loses. */
const HOT_LOSES = 0.92;
const SHADOW_LOSES = 0.75;
/** log2 of linear light below which nothing is told. */
const DARK = Math.log2(0.004);

/** How far each place lies above its surroundings, stops. */
function standsOut({ light }: Guide): Plane {
  const log = logLuminanceOf(light);
  const own = createPlane(log.width, log.height);
  for (let i = 0; i < own.data.length; i++) own.data[i] = Math.max(DARK, log.data[i]);
  // Surroundings are broad: half the size tells as much.
  const around = unhalve(boxBlur(boxBlur(halve(own), AROUND / 2), AROUND / 2), log.width, log.height).data;
  for (let i = 0; i < around.length; i++) own.data[i] -= around[i];
  return boxBlur(own, 1);
}

/** The least and the most of several planes at each place. */
function extremes(planes: readonly Plane[]): { readonly least: Float32Array; readonly most: Float32Array } {
  const [least, most] = [planes[0].data.slice(), planes[0].data.slice()];
  for (const { data } of planes.slice(1)) {
    for (let i = 0; i < data.length; i++) {
      if (data[i] < least[i]) least[i] = data[i];
      if (data[i] > most[i]) most[i] = data[i];
    }
  }
  return { least, most };
}

/**
 * How far each flash may be trusted place by place, 0..1: what stands out in it and in none of the others is a hot spot or a
 * mirrored flash, what is dark in it alone a hard shadow; what the room itself shows, all of them show. Surroundings are compared, not
 * brightness, so that light may fall off as it likes.
 * @param flashes guides of frames with flash, on one grid. @returns a plane each; all 1 for a single one.
 */
export function lightsLikeOthers(flashes: readonly Guide[]): Plane[] {
  const out = flashes.map(standsOut);
  return out.map((own, k) => {
    const trust = createPlane(own.width, own.height, new Float32Array(own.data.length).fill(1));
    if (out.length === 1) return trust;
    const { least, most } = extremes(out.filter((_, j) => j !== k));
    for (let i = 0; i < least.length; i++) {
      const v = own.data[i];
      if (v > -SLIGHT && v < SLIGHT) continue;
      const hot = smoothstep(SLIGHT, SURE, Math.min(v, v - most[i]));
      const shadow = smoothstep(SLIGHT, SURE, Math.min(-v, least[i] - v));
      trust.data[i] = (1 - HOT_LOSES * hot) * (1 - SHADOW_LOSES * shadow);
    }
    return boxBlur(trust, 1);
  });
}
