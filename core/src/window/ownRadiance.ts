import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { Guide, GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';

/** Exposure of frames against the reference, in stops. */
export type Exposures = Readonly<Record<FrameId, number>>;

/** Encoded value of the brightest channel above which a pixel counts as clipped. */
export const CLIPPED = 0.965;
/** Linear light under which a pixel is too dark to tell anything. */
export const DARK = 0.004;

/**
 * What is compared between frames: green, a little smoothed. Cameras change red and blue with their white balance and
 * leave green alone, so green can be compared between frames that were balanced differently.
 */
export function comparable(guide: Guide): Plane {
  let plane = comparables.get(guide);
  if (!plane) comparables.set(guide, (plane = boxBlur(createPlane(guide.light.width, guide.light.height, guide.light.g), 1)));
  return plane;
}
/** Several findings compare the same guides. */
const comparables = new WeakMap<Guide, Plane>();

/**
 * What each guide pixel gives off by itself, in white of the reference: the least that any frame that can tell shows.
 * NaN where none can.
 */
export const ownRadiance = (guides: GuideSet, exposures: Exposures): Plane => leastShown(guides, exposures, (guide) => comparable(guide).data);

/** The same pixel by pixel, not smoothed: as noisy as frames are, and true of what is a pixel wide. */
export const crispRadiance = (guides: GuideSet, exposures: Exposures): Plane => leastShown(guides, exposures, ({ light }) => light.g);

function leastShown(guides: GuideSet, exposures: Exposures, shown: (guide: Guide) => Float32Array): Plane {
  const least = new Float32Array(guides.width * guides.height).fill(NaN);
  for (const [id, guide] of guides.frames) {
    const value = shown(guide);
    const top = guide.top.data;
    const cover = guide.cover.data;
    const scale = 2 ** -exposures[id];
    for (let i = 0; i < least.length; i++) {
      // What is clipped or nearly black in a frame carries no evidence.
      if (top[i] > CLIPPED || cover[i] === 0 || value[i] < DARK) continue;
      const radiance = value[i] * scale;
      if (!(least[i] <= radiance)) least[i] = radiance;
    }
  }
  return createPlane(guides.width, guides.height, least);
}
