import type { PlaceBox } from '@zaddle/core/clean/lookAtPlace';
import { healGrid } from '@zaddle/core/heal/lookToHeal';
import { healLabels } from '@zaddle/core/heal/healLabels';
import { healPatches, SEAM } from '@zaddle/core/heal/healPatches';
import type { Area, HealPass, MixDocument } from '@zaddle/document';
import { lookAtHealing } from './placesOf';
import type { Session } from './session';

/** One way to heal a place. */
export type HealWay = Pick<HealPass, 'patches' | 'softness'>;

/** Ways to heal a place from the picture about it, the best first, by the pixels that are at hand; each is worked out when it is asked for. */
export function* healSpot(session: Session, mix: MixDocument, areas: readonly Area[], box: PlaceBox): Generator<HealWay> {
  const { width, height } = mix.frames[mix.reference];
  const grid = healGrid({ width, height }, areas, box);
  for (const labels of healLabels(lookAtHealing(session, mix, areas, grid))) yield { patches: healPatches(labels, grid), softness: Math.min(0.01, (SEAM * labels.scale * (grid.pixel ?? 1)) / grid.full) };
}
