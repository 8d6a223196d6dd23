import { boxBlur } from '../image/boxBlur';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { comparable, CLIPPED, DARK, type Exposures } from './ownRadiance';

/** What one flash says of inside and outside, on the guide. */
export interface FlashEvidence {
  /** Light that the flash added, linear, in the frame's own exposure; NaN where it cannot be told, at least so much where the frame is clipped. */
  readonly added: Plane;
  /** Error of `added` by what exposure is not known exactly; NaN where the frame is clipped. */
  readonly doubt: Plane;
  /** 1 where the flash added nothing, 0 where it lifted the place as much as the room about it; NaN where it cannot tell. */
  readonly outside: Plane;
}

/** Radius, in guide pixels, of the neighbourhood that a place is held against. */
const NEIGHBOURHOOD = 70;
/** Radiance, in white of the reference, above which a place is no witness of what flash does to the room. */
const WITNESS = 0.6;
/** Stops by which a flash must lift a neighbourhood to say anything about a place in it. */
const LEAST_LIFT = 0.5;
/** Relative error of exposure between frames. */
const TOLERANCE = 0.06;
/** Share of the room's flash light that a pane may mirror and still look like outside. */
const MIRRORED = 0.3;

/** Means over the room about each pixel of planes that are NaN at the same places; 0 where there is no witness near. */
function roomMeans(planes: readonly Plane[], own: Plane): Plane[] {
  const [{ width, height, data: first }] = planes;
  const weight = createPlane(width, height, first.map((v, i) => (Number.isNaN(v) || own.data[i] > WITNESS ? 0 : 1)));
  const share = boxBlur(weight, NEIGHBOURHOOD).data;
  return planes.map((plane) => {
    const mean = boxBlur(mapPlane(plane, (v, i) => (weight.data[i] === 0 ? 0 : v)), NEIGHBOURHOOD);
    for (let i = 0; i < mean.data.length; i++) mean.data[i] = share[i] > 0.05 ? mean.data[i] / share[i] : 0;
    return mean;
  });
}

/**
 * Evidence of each flash frame about what is outside: light adds, so a flash multiplies what a place gives off by
 * 1 + flash/ambient whatever its colour; what lies behind glass is multiplied by 1. Frames without flash are left out.
 * @param own from `ownRadiance`.
 */
export function flashEvidence(guides: GuideSet, exposures: Exposures, own: Plane): FlashEvidence[] {
  const out: FlashEvidence[] = [];
  for (const [id, guide] of guides.frames) {
    const value = comparable(guide).data;
    const { top, cover } = guide;
    const scale = 2 ** exposures[id];
    const n = value.length;
    // A clipped place got at least that much.
    const seenAt = (i: number): number => (top.data[i] > CLIPPED ? Math.max(value[i], CLIPPED) : value[i]);
    const told = (i: number): boolean => cover.data[i] !== 0 && (value[i] >= DARK || scale * own.data[i] >= DARK);
    const liftAt = (i: number): number => (told(i) ? Math.log2(Math.max(1, seenAt(i) / Math.max(1e-5, scale * own.data[i]))) : NaN);
    const some = new Float32Array(Math.floor(n / 7));
    for (let k = 0; k < some.length; k++) some[k] = liftAt(7 * k);
    // Less than this is drift of the camera, not a flash.
    if (!(quantile(some, 0.5) > 0.35 || quantile(some, 0.8) > 1)) continue;
    const lift = createPlane(guides.width, guides.height);
    const added = createPlane(guides.width, guides.height);
    const doubt = createPlane(guides.width, guides.height);
    for (let i = 0; i < n; i++) {
      lift.data[i] = liftAt(i);
      added.data[i] = told(i) ? seenAt(i) - scale * own.data[i] : NaN;
      doubt.data[i] = top.data[i] > CLIPPED ? NaN : TOLERANCE * scale * own.data[i];
    }
    const [room, roomAdded] = roomMeans([lift, added], own);
    const outside = createPlane(guides.width, guides.height);
    for (let i = 0; i < n; i++) {
      // A sunlit reveal is hardly lifted, but it takes as much flash light as the wall beside it.
      const taken = (added.data[i] - (doubt.data[i] || 0)) / Math.max(1e-4, roomAdded.data[i]);
      outside.data[i] = room.data[i] < LEAST_LIFT ? NaN : Math.min(1 - lift.data[i] / room.data[i], 1 + MIRRORED - taken);
    }
    out.push({ added, doubt, outside });
  }
  return out;
}

/**
 * How much a pixel looks like outside by all flashes that can tell, 0..1: their mean, each cut to 0..1. A flash, or the
 * patch that it makes on a ceiling, may be mirrored in a pane, in another place for each flash; what is inside is lit by
 * most that reach it. NaN where none can tell.
 */
export function outsideByAll(evidence: readonly FlashEvidence[], i: number): number {
  let sum = 0;
  let count = 0;
  for (const { outside } of evidence) {
    const v = outside.data[i];
    if (Number.isNaN(v)) continue;
    sum += v < 0 ? 0 : v > 1 ? 1 : v;
    count++;
  }
  return sum / count;
}
