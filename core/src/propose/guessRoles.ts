import { quantile, type Plane } from '../image/plane';
import { exposureStops, type FrameFacts, type Role } from '../intake/frameFacts';
import type { Guide } from '../mix/guides';
import { luminanceOf } from '../mix/guideTones';
import { sameSurfaces } from '../light/sameSurfaces';
import type { AddedLight } from './addedLight';

/** Added light above which a flash fired: median in stops, or share of the picture that is one patch with more than a stop. */
export const FLASH_MEDIAN = 0.55;
const FLASH_PATCH = 0.012;
/** Added light, median in stops, below which a patch may also be somebody who moved. */
const FEW = 0.2;
/** The correlation of structure that a flash leaves. */
const SAME = 0.3;
/** Share of the patch of added light that must be more light than the reference has, too. */
const SEEN = 0.3;
/** Below this the flash lit a corner of the room, usually about the window, not the room. */
const ROOM_MEDIAN = 1;
const ROOM_SHARE = 0.5;

/** Whether a flash fired, by EXIF where that says yes, else by measure; a bracket's frames are ambient. */
export function flashFired(facts: FrameFacts, added: AddedLight | undefined): boolean {
  if (facts.flash === true) return true;
  if (facts.bracketed || !added) return false;
  return added.median > FLASH_MEDIAN || added.patch > FLASH_PATCH;
}

/** Median exposure of `frame` over `reference`, stops, where both are usable; by green, which white balance leaves alone. */
function measuredStops(reference: Guide, frame: Guide): number {
  const [a, b] = [reference.light.g, frame.light.g];
  const ratios = new Float32Array(Math.ceil(a.length / 11));
  let n = 0;
  for (let i = 0; i < a.length; i += 11) {
    if (reference.top.data[i] > 0.95 || frame.top.data[i] > 0.95 || a[i] < 0.003 || b[i] < 0.003) continue;
    ratios[n++] = b[i] / a[i];
  }
  return n > 100 ? Math.log2(quantile(ratios.subarray(0, n), 0.5)) : NaN;
}

export interface Measured {
  readonly role: Role;
  /** Exposure against the reference, stops. */
  readonly stops: number;
  readonly why: string;
}

/**
 * A likely role by what the frame measures: light that the exposure does not explain means flash; a flash that left
 * most of the room dark was for the view; a short frame outside the bracket's steps is for the lamps.
 */
export function guessRole(reference: FrameFacts, referenceGuide: Guide, facts: FrameFacts, guide: Guide, added: AddedLight | undefined): Measured {
  const expected = exposureStops(facts);
  const base = exposureStops(reference);
  const measured = measuredStops(referenceGuide, guide);
  const known = expected !== null && base !== null;
  const stops = known ? expected - base : Number.isNaN(measured) ? 0 : measured;
  // Somebody who is gone, too, leaves more light than before, but no surface of those that were there.
  // (The reference was chosen as one by room light.)
  const somethingElse = (): boolean => facts.flash !== true && added !== undefined && added.median < FEW && (guide === referenceGuide || !(sameSurfaces(referenceGuide, guide, stops, SEEN * added.patch) >= SAME));
  if (flashFired(facts, added) && !somethingElse()) {
    const amount = added ? `${added.median.toFixed(1)} stops more light than the exposure explains` : 'the flash fired';
    // Whether for the view, as the sun, or for a further room is told when all frames are there (`refineRoles`).
    if (added && added.median < ROOM_MEDIAN && added.share < ROOM_SHARE) return { role: 'view', stops, why: `flash lit ${Math.round(added.share * 100)} % of the room: exposed for the view` };
    return { role: 'flash', stops, why: amount };
  }
  // Where nothing was added, the measured ratio is the better exposure; it also absorbs a camera's rounded EXIF.
  const exact = !Number.isNaN(measured) && Math.abs(measured - stops) < 0.6 ? measured : stops;
  if (stops < -1.5 && reference.bracketed && !facts.bracketed) return { role: 'lamp', stops: exact, why: 'short, and outside the bracket: lamps keep their shape' };
  return { role: 'ambient', stops: exact, why: 'no light but the room’s own' };
}

/** How good a source of the view a frame is. */
export interface ViewQuality {
  /** Share of the glass that is unclipped. */
  readonly usable: number;
  /** Share of the glass where the flash or a lamp is mirrored in it. */
  readonly glare: number;
  /** Linear luminance in the glass: median, and 97th percentile of what is neither clipped nor mirrored. */
  readonly median: number;
  readonly high: number;
}

/** Measures the glass of the picture in one frame. @param glass its guide pixels; @param own what each place gives off by itself; @param stops the frame's exposure. */
export function viewQuality(guide: Guide, glass: Int32Array, own: Plane, stops: number): ViewQuality {
  const y = luminanceOf(guide.light).data;
  const [values, unclipped] = [new Float32Array(glass.length), new Float32Array(glass.length)];
  const mirrored = 1.35 * 2 ** stops;
  let [n, m, clipped, glare] = [0, 0, 0, 0];
  for (const i of glass) {
    if (guide.cover.data[i] === 0) continue;
    if (guide.top.data[i] > 0.97) clipped++;
    else if (y[i] > mirrored * own.data[i] + 0.02) glare++;
    else unclipped[m++] = y[i];
    values[n++] = y[i];
  }
  if (n === 0) return { usable: 0, glare: 0, median: 0, high: 0 };
  const seen = values.subarray(0, n);
  // A flash that the glass mirrors is no part of the view.
  return { usable: 1 - clipped / n, glare: glare / n, median: quantile(seen, 0.5), high: quantile(m > 0 ? unclipped.subarray(0, m) : seen, 0.97) };
}
