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

/** The passes by which views are seen, by their places among all; one that lies over another view and follows its mask is that one's. */
export function viewsOf({ passes }: Pick<PreparedMix, 'passes'>): number[] {
  const isView = (id: string): boolean => passes.some(({ pass }) => pass.id === id && pass.kind === 'view');
  return passes.flatMap(({ pass: { kind, mask: [first] } }, k) => (kind === 'view' && !(first?.kind === 'same' && isView(first.pass)) ? [k] : []));
}

/** The views of a picture, each by its pass. */
export function viewMasks(level: Pick<GuideLevel, 'mask'>, prepared: PreparedMix): SeenView[] {
  return viewsOf(prepared).map((k) => ({ name: prepared.passes[k].pass.name, mask: level.mask(prepared, k) }));
}

/** Where any of some views is, 0..1; null where there are none. */
export function whereSeen(views: readonly SeenView[]): Plane | null {
  if (views.length === 0) return null;
  const [{ mask: { width, height, data } }, ...rest] = views;
  return createPlane(width, height, data.map((v, i) => rest.reduce((most, { mask }) => Math.max(most, mask.data[i]), v)));
}
