import { insetPass } from '@zaddle/core/clean/insetPass';
import { coarserLooks } from '@zaddle/core/clean/coarserLooks';
import type { PlaceLooks } from '@zaddle/core/clean/lookAtPlace';
import { rateCandidates, type Candidate } from '@zaddle/core/clean/rateCandidates';
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
}

/** Looks at a place in the picture and in all frames whose pixels are at hand. @returns null where nothing is meant */
export function searchSpot(session: Session, mix: MixDocument, areas: readonly Area[], frames: readonly string[]): SpotSearch | null {
  const looks = session.lookAt(mix, areas, frames);
  return looks && { mix, looks, rated: rateCandidates(coarserLooks(looks, RATED)) };
}

/** What a candidate would give, as light that is to be shown: brought to its surroundings by what holds for all of the place. */
export function candidateLight({ looks }: SpotSearch, { frame, gains }: Candidate): Light {
  const { width, height, r, g, b } = looks.frames.get(frame)!.light;
  return { width, height, r: r.map((v) => v * gains[0]), g: g.map((v) => v * gains[1]), b: b.map((v) => v * gains[2]) };
}

/** The inset that takes a place from a frame, under an id of its own. */
export function insetOf({ mix, looks, rated }: SpotSearch, frame: string, id: string): SourcePass | null {
  const candidate = rated.find((each) => each.frame === frame);
  if (!candidate) return null;
  const inset = insetPass(looks, candidate, mix, { id, name: 'Clean place', why: 'taken from a frame that has this place clean, by hand' });
  return inset.mask.some((area) => area.kind === 'outline' && area.rings.length > 0) ? inset : null;
}
