import type { AdjustPass, Area, FrameId, TonePoint } from '@zaddle/document';
import { createPlane, mapPlane, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { labelRegions } from '../window/labelRegions';
import { CLIPPED } from '../window/ownRadiance';
import { newPass } from './newPass';
import { outlineArea } from './outlineArea';

/** Share of the picture that is clipped in one piece from which on it is no lamp and no glint, but a place. */
const PLACE = 0.012;
/** How well a flash lights, 0..1, where it shows what the ambient does not, and share of the place that it must. */
const LIT = 0.3;
const SHOWN = 0.5;
/** Guide pixels beyond the place over which the ambient rises to its limit, and how soft the outline is, longer sides. */
const BEYOND = 14;
const SOFT = 0.05;
/** Tone that the ambient comes to at most, stops about middle grey, and the stops over which it bends. */
const LIMIT = 2;
const BEND = 0.5;

/** Tones that bend towards a limit and stay below it, in order. */
const towardsLimit = (): TonePoint[] => [-1, 0, 0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6].map((tone) => {
  const held = LIMIT - BEND * Math.log2(1 + 2 ** ((LIMIT - tone) / BEND));
  return [tone, Math.round((held - tone) * 1000) / 1000];
});

/**
 * Where the room's own light is clipped over a whole place, and a flash shows it: the fall of light has no more to tell there than that
 * it is bright, and would wash out what the flash has.
 * @param lit where each flash lights well, 0..1. @param glass the view outside, 0..1 @returns null where there is no such place
 */
export function clippedPlaces(guides: GuideSet, merge: readonly FrameId[], lit: readonly Plane[], glass: Plane): Area | null {
  const frames = merge.map((id) => guides.frames.get(id)!);
  const clipped = mapPlane(glass, (v, i) => (v < 0.2 && frames.every(({ top, cover }) => top.data[i] > CLIPPED && cover.data[i] === 1) ? 1 : 0));
  const places = createPlane(glass.width, glass.height);
  for (const { pixels } of labelRegions(clipped)) {
    if (pixels.length < PLACE * clipped.data.length || pixels.filter((i) => lit.some(({ data }) => data[i] > LIT)).length < SHOWN * pixels.length) continue;
    for (const i of pixels) places.data[i] = 1;
  }
  return places.data.some((v) => v > 0) ? outlineArea('clipped', 'add', places, BEYOND, SOFT) : null;
}

/** Keeps the fall of light within what a picture shows, in such places. */
export const heldFall = (places: Area): AdjustPass => ({
  ...newPass('held'), kind: 'adjust', contrast: 1, highlights: 0, shadows: 0, saturation: 1, tied: true, curve: towardsLimit(), mask: [places],
  name: 'Held fall of light', why: 'the room’s own light is clipped here: held, so that what the flash shows of the place is seen',
});
