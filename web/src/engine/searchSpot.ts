import { combineTwo, pairInsets, pairLight, type Pair } from '@zaddle/core/clean/combineTwo';
import { insetPass } from '@zaddle/core/clean/insetPass';
import { coarserLooks } from '@zaddle/core/clean/coarserLooks';
import type { PlaceBox, PlaceLooks } from '@zaddle/core/clean/lookAtPlace';
import { rateCandidates, type Candidate, type WhyLooked } from '@zaddle/core/clean/rateCandidates';
import type { Light } from '@zaddle/core/image/plane';
import type { Area, MixDocument, SourcePass } from '@zaddle/document';
import { lookAtSpot } from './placesOf';
import type { Session } from './session';

/** Grid pixels of the longer side on which candidates are rated: more tell little more. */
const RATED = 96;

/** What one frame, or the darker of two, would give a place. */
export type SpotCandidate = { readonly key: string; readonly one: Candidate } | { readonly key: string; readonly pair: Pair };

/** A place that was pointed at, with every frame as it shows it. */
export interface SpotSearch {
  readonly mix: MixDocument;
  readonly looks: PlaceLooks;
  /** The best first. */
  readonly candidates: readonly SpotCandidate[];
  /** Insets that were worked out, by candidate. */
  readonly insets: Map<string, readonly SourcePass[]>;
}

/** Looks at a place in the picture and in all frames whose pixels are at hand. @param box what the areas cover */
export function searchSpot(session: Session, mix: MixDocument, areas: readonly Area[], box: PlaceBox, frames: readonly string[], why: WhyLooked): SpotSearch {
  const looks = lookAtSpot(session, mix, areas, box, frames);
  const coarse = coarserLooks(looks, RATED);
  const rated = rateCandidates(coarse, why);
  const singles = rated.map((one): SpotCandidate => ({ key: one.frame, one }));
  const pair = combineTwo(rated, coarse.coverage);
  return { mix, looks, candidates: pair ? [{ key: `${pair.first.frame} ${pair.second.frame}`, pair }, ...singles] : singles, insets: new Map() };
}

/** Frames that a candidate takes the place from. */
export const framesOf = (candidate: SpotCandidate): readonly string[] => ('pair' in candidate ? [candidate.pair.first.frame, candidate.pair.second.frame] : [candidate.one.frame]);

/** What a candidate would give, as light that is to be shown: brought to its surroundings by what holds for all of the place. */
export function candidateLight({ looks }: SpotSearch, candidate: SpotCandidate): Light {
  const { gains } = 'pair' in candidate ? candidate.pair.first : candidate.one;
  const { width, height, r, g, b } = 'pair' in candidate ? pairLight(looks, candidate.pair) : looks.frames.get(candidate.one.frame)!.light;
  return { width, height, r: r.map((v) => v * gains[0]), g: g.map((v) => v * gains[1]), b: b.map((v) => v * gains[2]) };
}

/** The insets that take the place as a candidate gives it, worked out once, from underneath to on top; none where there is nothing. */
export function insetsOf({ mix, looks, candidates, insets }: SpotSearch, key: string): readonly SourcePass[] {
  const known = insets.get(key);
  if (known !== undefined) return known;
  const candidate = candidates.find((each) => each.key === key);
  const named = { id: 'spot', name: 'Clean place', why: 'chosen by hand' };
  const all = !candidate ? [] : 'pair' in candidate ? pairInsets(looks, candidate.pair, mix, named) : [insetPass(looks, candidate.one, mix, named)];
  const made = all.every(({ mask }) => mask.some((area) => area.kind === 'outline' && area.rings.length > 0)) ? all : [];
  insets.set(key, made);
  return made;
}

/** Insets under ids of their own. */
export const namedInsets = (insets: readonly SourcePass[], id: string): SourcePass[] => insets.map((inset, k) => {
  const own = k === 0 ? id : `${id}-${k}`;
  return { ...inset, id: own, mask: inset.mask.map((area) => ({ ...area, id: `${own}-seam` })) };
});
