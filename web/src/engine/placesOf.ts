import { underCleanUp } from '@zaddle/core/clean/cleanUpBundle';
import { lookAtPlace, placeGrid, type PlaceBox, type PlaceLooks } from '@zaddle/core/clean/lookAtPlace';
import { placeBox } from '@zaddle/core/clean/placeBox';
import { wholeMix } from '@zaddle/core/clean/renderPlace';
import { gridRegion } from '@zaddle/core/graph/elsewhere';
import type { PlacedSource } from '@zaddle/core/graph/placedMix';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import type { HealLook } from '@zaddle/core/heal/healLook';
import { lookToHeal, type PlacedHealGrid } from '@zaddle/core/heal/lookToHeal';
import { partWhere } from '@zaddle/core/image/nearMask';
import { levelFor, type Region } from '@zaddle/core/mix/regionBox';
import { frameAlone } from '@zaddle/core/pass/frameAlone';
import type { Area, MixDocument } from '@zaddle/document';
import type { Session } from './session';

/** A place as the picture that a clean-up is laid over shows it, and as frames do whose pixels are at hand. @param box what the areas cover */
export function lookAtSpot(session: Session, mix: MixDocument, areas: readonly Area[], box: PlaceBox, frames: readonly string[]): PlaceLooks {
  const prepared = session.prepareOther({ ...mix, passes: underCleanUp(mix.passes) }, true);
  const region = placeRegion(session, mix, box);
  const pixels = (id: string, scale: number): PlacedSource => (region && session.sources.partFor(wholeMix(mix, mix.passes), id, region)) ?? session.sources.copyFor(id, mix.frames[id], scale);
  return lookAtPlace(session.tools(), prepared, session.found, areas, box, frames, (needed, scale) => new Map(needed.map((id) => [id, pixels(id, scale)] as const)));
}

/** A place that is to be healed, in the picture that a clean-up is laid over. */
export function lookAtHealing(session: Session, mix: MixDocument, areas: readonly Area[], grid: PlacedHealGrid): HealLook {
  const prepared = session.prepareOther({ ...mix, passes: underCleanUp(mix.passes) }, true);
  const region = healRegion(session, mix, grid);
  const pixels = (id: string, scale: number): PlacedSource => {
    const whole = session.sources.copyFor(id, mix.frames[id], scale);
    const part = region && session.sources.partFor(wholeMix(mix, mix.passes), id, region);
    return part ? { ...part, instead: whole } : whole;
  };
  return lookToHeal(session.tools(), prepared, session.found, areas, grid, (needed, scale) => new Map(needed.map((id) => [id, pixels(id, scale)] as const)));
}

/** The part of the reference that is looked at to heal a place, where proxies are too coarse for it; null: they are fine. */
export function healRegion(session: Session, mix: MixDocument, { grid, toReference: h }: PlacedHealGrid): Region | null {
  const scale = 1 / Math.sqrt(Math.abs(h[0] * h[4] - h[1] * h[3]));
  return session.wantsPart(mix.frames[mix.reference], scale) ? { ...gridRegion(grid), level: levelFor(scale) } : null;
}

/** Loads the pixels of the originals at a place. */
export async function loadPlace(session: Session, mix: MixDocument, region: Region, frames: readonly string[]): Promise<void> {
  const whole = wholeMix(mix, mix.passes);
  await Promise.all(frames.filter((id) => !session.sources.partFor(whole, id, region)).map((id) => session.sources.loadPart(whole, id, region)));
}

/** The part of the reference that is looked at about a place, where proxies are too coarse for it; null: they are fine. */
export function placeRegion(session: Session, mix: MixDocument, box: PlaceBox): Region | null {
  const home = mix.frames[mix.reference];
  const { grid, pixel, left, top } = placeGrid(home, box);
  return session.wantsPart(home, 1 / pixel) ? { x: left, y: top, width: grid.width * pixel, height: grid.height * pixel, level: levelFor(1 / pixel) } : null;
}

/** Whether a place is so small that it takes whole proxies to see it as finely as it is looked at. */
export function wantsWholes(session: Session, mix: MixDocument, box: PlaceBox): boolean {
  const home = mix.frames[mix.reference];
  return session.sources.halvings(home, 1 / placeGrid(home, box).pixel) === 0;
}

/** What areas cover, reference pixels; null where nothing is meant. */
export function boxOf(session: Session, mix: MixDocument, areas: readonly Area[]): PlaceBox | null {
  return placeBox(areas, Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height)) ?? boxOfMask(session, mix, areas);
}

/** What areas cover, by the guide, reference pixels. */
function boxOfMask(session: Session, mix: MixDocument, areas: readonly Area[]): PlaceBox | null {
  const pass = frameAlone(mix.reference, areas);
  const level = session.guideLevel(mix, session.otherWide);
  const mask = level.mask(level.workOut(prepareMix({ ...mix, passes: [pass] }, session.found)), 0);
  const part = partWhere(mask, (v) => v > 0.5, 0);
  const k = mix.frames[mix.reference].width / mask.width;
  return part && { left: part.left * k, top: part.top * k, right: part.right * k, bottom: part.bottom * k };
}
