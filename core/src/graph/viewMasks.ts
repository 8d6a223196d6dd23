import { createPlane, type Plane } from '../image/plane';
import type { GuideLevel } from './guideLevel';
import type { PreparedMix } from './prepareMix';

/** What is seen through some glass of a picture. */
export interface SeenView {
  /** Its pass's name. */
  readonly name: string;
  /** Where it is, 0..1, on the guide. */
  readonly mask: Plane;
}

/** The views of a picture, each by its pass that is on; one that lies over another and follows its mask is that one's. */
export function viewMasks(level: GuideLevel, prepared: PreparedMix): SeenView[] {
  return prepared.passes.flatMap(({ pass }, k) => (pass.kind === 'view' && pass.mask[0]?.kind !== 'same' ? [{ name: pass.name, mask: level.mask(prepared, k) }] : []));
}

/** Where any of some views is, 0..1; null where there are none. */
export function whereSeen(views: readonly SeenView[]): Plane | null {
  if (views.length === 0) return null;
  const [{ mask: { width, height, data } }, ...rest] = views;
  return createPlane(width, height, data.map((v, i) => rest.reduce((most, { mask }) => Math.max(most, mask.data[i]), v)));
}
