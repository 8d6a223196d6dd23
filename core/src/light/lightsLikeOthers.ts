import { boxBlur } from '../image/boxBlur';
import { luminance, mapPlane, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import type { Guide } from '../mix/guides';

/** Guide pixels within which a hot spot or a hard shadow lies. */
const AROUND = 26;
/** Stops off its surroundings, and off what other flashes show there, from which a place is one, and at which it surely is. */
const SLIGHT = 0.22;
const SURE = 0.75;
/** Share of its weight that such a place loses. */
const HOT_LOSES = 0.92;
const SHADOW_LOSES = 0.75;
/** Linear light below which nothing is told. */
const DARK = 0.004;

/** How far each place lies above its surroundings, stops. */
function standsOut({ light }: Guide): Plane {
  const log = mapPlane(luminance(light), (v) => Math.log2(Math.max(DARK, v)));
  const around = boxBlur(boxBlur(log, AROUND), AROUND);
  return boxBlur(mapPlane(log, (v, i) => v - around.data[i]), 1);
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
    const others = out.filter((_, j) => j !== k);
    if (others.length === 0) return mapPlane(own, () => 1);
    return boxBlur(mapPlane(own, (v, i) => {
      let [least, most] = [Infinity, -Infinity];
      for (const { data } of others) {
        least = Math.min(least, data[i]);
        most = Math.max(most, data[i]);
      }
      const hot = smoothstep(SLIGHT, SURE, Math.min(v, v - most));
      const shadow = smoothstep(SLIGHT, SURE, Math.min(-v, least - v));
      return (1 - HOT_LOSES * hot) * (1 - SHADOW_LOSES * shadow);
    }), 1);
  });
}
