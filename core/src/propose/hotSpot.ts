import type { Area } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { createPlane, mapPlane, type Plane } from '../image/plane';
import type { Guide, GuideSet } from '../mix/guides';
import { luminanceOf } from '../mix/guideTones';
import { labelRegions } from '../window/labelRegions';
import { CLIPPED, DARK } from '../window/ownRadiance';
import { outlineArea } from './outlineArea';

/** Encoded value from which on a flash clips, or soon will, and how well it then lights at most, 0..1. */
const BRIGHT = 0.85;
const LIT = 0.5;
/** How well other flashes light a place that this one is not needed for, 0..1. */
const LIT_OTHERWISE = 0.25;
/** Shares of the picture that a spot has at least, and all of them at most: beyond, the frame is overexposed as a whole. */
const SMALLEST = 0.001;
const LARGEST = 0.15;
/** Share of a spot that the ambient must tell. */
const TOLD = 0.8;
/** Guide pixels that the flash is left out beyond what is clipped, and how soft the outline is, in longer sides. */
const BEYOND = 7;
const SOFT = 0.012;

/**
 * Where a flash stood so near that it clips, and no other one lights the place: nothing is known of its light there but that
 * it is white, and the ambient shows what the place looks like.
 * @param lit where the flash lights well, 0..1. @param others how well other flashes light, 0..1 each. @param glass the view outside, 0..1
 * @returns null where there is nothing of that kind.
 */
export function hotSpot(id: string, guides: GuideSet, flash: Guide, lit: Plane, others: readonly Plane[], glass: Plane): Area | null {
  const own = luminanceOf(guides.merge).data;
  const alone = createPlane(glass.width, glass.height);
  let some = false;
  for (let i = 0; i < own.length; i++) {
    if (!(flash.top.data[i] > BRIGHT && lit.data[i] < LIT && flash.cover.data[i] === 1 && glass.data[i] < 0.2 && others.every(({ data }) => data[i] < LIT_OTHERWISE))) continue;
    alone.data[i] = 1;
    some = true;
  }
  if (!some) return null;
  const hot = mapPlane(boxBlur(alone, 1), (v) => (v > 0.5 ? 1 : 0));
  const spots = createPlane(hot.width, hot.height);
  let all = 0;
  for (const { pixels } of labelRegions(hot)) {
    if (pixels.length < SMALLEST * own.length) continue;
    // What shines by itself clips in the ambient, too.
    const told = pixels.reduce((sum, i) => sum + (own[i] > DARK && own[i] < CLIPPED ? 1 : 0), 0);
    if (told < TOLD * pixels.length) continue;
    for (const i of pixels) spots.data[i] = 1;
    all += pixels.length;
  }
  return all === 0 || all > LARGEST * own.length ? null : outlineArea(id, 'add', spots, BEYOND, SOFT);
}
