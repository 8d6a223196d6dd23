import { insetPass } from '@zaddle/core/clean/insetPass';
import { coarserLooks } from '@zaddle/core/clean/coarserLooks';
import type { PlaceBox, PlaceLooks } from '@zaddle/core/clean/lookAtPlace';
import { rateCandidates, type Candidate, type WhyLooked } from '@zaddle/core/clean/rateCandidates';
import type { Light } from '@zaddle/core/image/plane';
import type { Area, MixDocument, SourcePass } from '@zaddle/document';
import type { Session } from './session';

/** Grid pixels of the longer side on which candidates are rated: more tell little more. */
const RATED = 96;

/** A place that was pointed at, with every frame as it shows it. */
export interface SpotSearch {
  readonly mix: MixDocument;
  readonly looks: PlaceLooks;
  readonly rated: readonly Candidate[];
  /** Insets that were worked out, by frame. */
  readonly insets: Map<string, SourcePass | null>;
}

/** Looks at a place in the picture and in all frames whose pixels are at hand. @param box what the areas cover */
export function searchSpot(session: Session, mix: MixDocument, areas: readonly Area[], box: PlaceBox, frames: readonly string[], why: WhyLooked): SpotSearch {
  const looks = session.lookAt(mix, areas, box, frames);
  return { mix, looks, rated: rateCandidates(coarserLooks(looks, RATED), why), insets: new Map() };
}

/** What a candidate would give, as light that is to be shown: brought to its surroundings by what holds for all of the place. */
export function candidateLight({ looks }: SpotSearch, { frame, gains }: Candidate): Light {
  const { width, height, r, g, b } = looks.frames.get(frame)!.light;
  return { width, height, r: r.map((v) => v * gains[0]), g: g.map((v) => v * gains[1]), b: b.map((v) => v * gains[2]) };
}

/** The inset that takes the place from a frame, worked out once; null where its frame has nothing there. */
export function insetOf({ mix, looks, rated, insets }: SpotSearch, frame: string): SourcePass | null {
  const known = insets.get(frame);
  if (known !== undefined) return known;
  const candidate = rated.find((each) => each.frame === frame);
  const inset = candidate ? insetPass(looks, candidate, mix, { id: 'spot', name: 'Clean place', why: 'chosen by hand' }) : null;
  const made = inset?.mask.some((area) => area.kind === 'outline' && area.rings.length > 0) ? inset : null;
  insets.set(frame, made);
  return made;
}

/** An inset under an id of its own. */
export const namedInset = (inset: SourcePass, id: string): SourcePass => ({ ...inset, id, mask: inset.mask.map((area) => ({ ...area, id: `${id}-seam` })) });
