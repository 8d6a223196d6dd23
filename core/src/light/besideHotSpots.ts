import { distanceFrom } from '../image/distance';
import { createPlane, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import type { Guide } from '../mix/guides';
import { luminanceOf } from '../mix/guideTones';
import { labelRegions } from '../window/labelRegions';

/** Encoded value from which on a flash clips, and share of that light that the room may give itself. */
const CLIPPED = 0.97;
const OWN_SHARE = 0.5;
/** Radius of a spot, guide pixels, from which on it has a halo worth the name, and how many of the largest are looked at. */
const SMALLEST = 5;
const MOST = 4;
/** Radii beyond a spot's rim over which a flash comes to be trusted again. */
const FROM = 0.1;
const TO = 2.5;
/** How well another flash must light such a place to have it for itself, 0..1. */
const ENOUGH = 0.3;

/** Where a flash burns out what neither the room nor the view outside would. @param room luminance of the room's own light @param share of that in the frame's exposure @returns 1, else 0 */
export function burntOut({ light, top }: Guide, room: Plane, share: number, glass: Plane): Plane {
  const y = luminanceOf(light).data;
  const out = createPlane(room.width, room.height);
  for (let i = 0; i < y.length; i++) if (top.data[i] > CLIPPED && glass.data[i] < 0.5 && share * room.data[i] < OWN_SHARE * y[i]) out.data[i] = 1;
  return out;
}

/**
 * How far what lies beside a flash's burnt-out spots is beyond their gloss, 0..1: a glossy wall mirrors a flash as a spot whose foot
 * is as broad as itself (the lobe of a rough surface: Cook and Torrance, 1982), and grain and joints show in it as clouds.
 * @param burnt 1 where the flash clips, and nothing else does
 */
export function besideHotSpots(burnt: Plane): Float32Array {
  const out = new Float32Array(burnt.data.length).fill(1);
  const spots = labelRegions(burnt).map(({ pixels }) => ({ pixels, radius: Math.sqrt(pixels.length / Math.PI) })).filter(({ radius }) => radius >= SMALLEST);
  for (const { pixels, radius } of spots.sort((a, b) => b.radius - a.radius).slice(0, MOST)) {
    const spot = createPlane(burnt.width, burnt.height);
    for (const i of pixels) spot.data[i] = 1;
    const { data } = distanceFrom(spot);
    for (let i = 0; i < out.length; i++) if (data[i] < TO * radius) out[i] = Math.min(out[i], smoothstep(FROM * radius, TO * radius, data[i]));
  }
  return out;
}

/**
 * Leaves places beside a flash's hot spots to other flashes, as far as these light them and have none there themselves: alone, it is better than none.
 * @param trust how far each flash is trusted, 0..1; changed in its place @param beside from `besideHotSpots`, @param lit how well each lights, 0..1; all in the same order
 */
export function leaveToOthers(trust: readonly Plane[], beside: readonly Float32Array[], lit: readonly Plane[]): void {
  trust.forEach(({ data }, k) => {
    for (let i = 0; i < data.length; i++) {
      if (beside[k][i] === 1) continue;
      let others = 0;
      for (let j = 0; j < lit.length; j++) if (j !== k) others = Math.max(others, lit[j].data[i] * beside[j][i]);
      data[i] *= 1 - (1 - beside[k][i]) * Math.min(1, others / ENOUGH);
    }
  });
}
