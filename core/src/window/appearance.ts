import { createPlane, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { outsideByAll, type FlashEvidence } from './flashEvidence';

/** Radiance, in white of the reference, that starts a view and that it may fall to where only brightness can tell. */
const SEED_WITHOUT_FLASH = 1.8;
const GROW_WITHOUT_FLASH = 0.9;
/** How much pixels must look like outside, by flash, to be looked at as one region, from all that may be a view to what surely is. */
export const LEVELS = [0.5, 0.55, 0.6, 0.65, 0.7, 0.8, 0.9] as const;

/** What every pixel looks like, by itself. */
export interface Appearance {
  /** In white of the reference. */
  readonly radiance: Plane;
  /** How much the pixel looks like outside by all flashes, about 0..1, or NaN where none can tell. */
  readonly outside: Plane;
  /** How much each place may be a view, 0..1: by flash, or where none tells by brightness. */
  readonly likely: Plane;
}

/** What every pixel looks like, by itself. @param own from `ownRadiance` */
export function appearance(guides: GuideSet, own: Plane, evidence: readonly FlashEvidence[]): Appearance {
  const witnesses = createPlane(guides.width, guides.height);
  for (const { cover } of guides.frames.values()) for (let i = 0; i < witnesses.data.length; i++) witnesses.data[i] += cover.data[i];
  // Clipped in every frame: at least white.
  const [radiance, outside, likely] = [createPlane(own.width, own.height), createPlane(own.width, own.height), createPlane(own.width, own.height)];
  const { g } = guides.merge;
  const planes = evidence.map((frame) => frame.outside.data);
  const byFlash = evidence.length > 0;
  for (let i = 0; i < own.data.length; i++) {
    const unknown = Number.isNaN(own.data[i]);
    const v = !unknown ? own.data[i] : byFlash && witnesses.data[i] > 1 ? Math.max(1, g[i]) : g[i];
    const o = outsideByAll(planes, i);
    radiance.data[i] = v;
    outside.data[i] = o;
    const byBrightness = v > GROW_WITHOUT_FLASH ? LEVELS[0] : 0;
    // Clipped in every frame, flashes and all: it may belong to a view but proves none.
    likely.data[i] = byFlash && unknown ? byBrightness : o === o ? o : v > SEED_WITHOUT_FLASH ? 1 : byBrightness;
  }
  return { radiance, outside, likely };
}
