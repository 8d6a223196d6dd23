import type { FrameId, SourcePass } from '@zaddle/document';
import { cleanUpInsets, withInset } from '../clean/cleanUpBundle';
import { coarserLooks } from '../clean/coarserLooks';
import { insetPass } from '../clean/insetPass';
import type { PlaceLooks } from '../clean/lookAtPlace';
import { rateCandidates, type Candidate, type CandidateWord } from '../clean/rateCandidates';
import type { Change } from '../found/findChanges';
import { growThing } from '../found/growThing';
import { distanceFrom } from '../image/distance';
import { cutLight, cutPlane, partWhere, type Part } from '../image/nearMask';
import { createPlane, mapPlane, type Light, type Plane } from '../image/plane';
import { mayHaveFlash, type Role } from '../intake/frameFacts';
import type { Proposal } from './proposeMix';

/** Guide pixels by which what was found of a thing is grown: its outline is soft, and it throws a shadow. */
const GROWN = 4;
/** Guide pixels that the seam has beyond, and that are looked at. */
const SEAM_ROOM = 5;
const ABOUT = 24;
/** Share of the picture that a thing may cover to be taken away unasked. */
const LARGEST = 0.3;
/** From which rating on a frame is sure to have the place clean, and how much of a thing the picture has to show for there to be anything to do. */
const SURE = 0.3;
const SHOWS = 0.12;
/** How much of it a frame has to show to have it, too. */
const HAS = 0.4;
const FLAWS: readonly CandidateWord[] = ['clipped', 'dark', 'blurred', 'outside'];
/** Linear light that counts as black. */
const BLACK = 0.004;
/** Grid pixels of the longer side on which candidates are rated. */
const RATED = 150;
/** Guide pixels below which a place is nothing. */
const SMALLEST = 24;
/** Places that are cleaned unasked at most. */
const MOST = 8;

/** A place where somebody or something is in some frames. */
interface Suspect {
  readonly frames: Set<FrameId>;
  /** An ambient frame that surely lacks it: the plate, where all others have it, or one that is joined; null where only flashes were compared. */
  readonly lacking: FrameId | null;
  readonly isPlate: boolean;
  /** Pixels at half the guide's size. */
  readonly half: ReadonlySet<number>;
}

/** The places of half-guide pixels on the guide. */
function onGuide(pixels: ReadonlySet<number>, width: number, height: number): Plane {
  const half = width >> 1;
  const plane = createPlane(width, height);
  for (const i of pixels) {
    const [x, y] = [2 * (i % half), 2 * Math.floor(i / half)];
    for (const at of [y * width + x, y * width + x + 1, (y + 1) * width + x, (y + 1) * width + x + 1]) plane.data[at] = 1;
  }
  return plane;
}

/** Whether most of some half-guide pixels lie in a plane on the guide. */
function isMostly(half: ReadonlySet<number>, { width, data }: Plane): boolean {
  let count = 0;
  for (const i of half) count += data[2 * Math.floor(i / (width >> 1)) * width + 2 * (i % (width >> 1))];
  return count > half.size / 2;
}

/** All of a thing, as far as frames of one light tell, a little grown. */
function wholeThing({ mix, guides, verdicts }: Proposal, { frames, lacking, half }: Suspect): Plane {
  const isAmbient = (id: FrameId): boolean => ['ambient', 'plate'].includes(verdicts.get(id)!.role);
  const sure = onGuide(half, guides.width, guides.height);
  const having = [...frames].filter(isAmbient).sort((a, b) => Math.abs(mix.frames[a].stops) - Math.abs(mix.frames[b].stops))[0];
  if (lacking && having) {
    const all = growThing(guides, guides.frames.get(having)!, guides.frames.get(lacking)!, { having: mix.frames[having].stops, lacking: mix.frames[lacking].stops }, half);
    for (let i = 0; i < all.data.length; i++) if (all.data[i] > 0) sure.data[i] = 1;
  }
  return mapPlane(distanceFrom(sure), (v) => (v <= GROWN ? 1 : 0));
}

/** Who and what is in frames that the picture takes light from, and not in others; places that lie on each other are one, and all their frames have it. */
function suspects({ mix, guides, findings, verdicts }: Proposal): Suspect[] {
  const ids = Object.keys(mix.frames);
  const of = (...roles: Role[]): FrameId[] => ids.filter((id) => roles.includes(verdicts.get(id)!.role));
  const places = (changes: readonly Change[], isAmbient: boolean) => changes.flatMap((change) => change.places.map((pixels) => ({ ...change, isAmbient, pixels })));
  const found = [...places(findings.changesAmong(of('ambient', 'plate')), true), ...places(findings.intrudersAmong(of('flash')), false)]
    .filter(({ frame, what, pixels }) => 4 * pixels.length < LARGEST * guides.width * guides.height && (what === 'shows' || verdicts.get(frame)!.role === 'plate'))
    .sort((a, b) => b.pixels.length - a.pixels.length);
  const out: Suspect[] = [];
  for (const { frame, what, isAmbient, pixels } of found) {
    const isPlate = what === 'lacks';
    const same = out.find((other) => pixels.filter((i) => other.half.has(i)).length > pixels.length / 2);
    if (same && !isPlate) same.frames.add(frame);
    else if (!same) out.push({ frames: new Set(isPlate ? ids.filter((id) => id !== frame) : [frame]), lacking: isPlate ? frame : isAmbient ? (mix.merge.find((id) => id !== frame && !mayHaveFlash(verdicts.get(id)!.role)) ?? null) : null, isPlate, half: new Set(pixels) });
  }
  // A flash that is not used shows in no picture; a thing that an ambient frame has may be in flashes, too.
  return out.filter(({ frames }) => [...frames].some((frame) => verdicts.get(frame)!.used || verdicts.get(frame)!.role !== 'flash')).slice(0, MOST);
}

/** A place as the guides show it. */
function looksAt({ guides, mix }: Proposal, picture: Light, plane: Plane, part: Part): PlaceLooks {
  const pixel = mix.frames[mix.reference].width / guides.width;
  const frames = new Map([...guides.frames].map(([id, { light, cover }]) => [id, { light: cutLight(light, part), cover: cutPlane(cover, part) }] as const));
  return { pixel, left: (part.left + 0.5) * pixel - 0.5, top: (part.top + 0.5) * pixel - 0.5, coverage: cutPlane(plane, part), picture: cutLight(picture, part), frames };
}

/** How much of what frames have at a place a picture shows, against one that has it clean: 0 nothing, 1 all, by least squares of log light. */
function shown(having: readonly Candidate[], clean: Candidate, picture: Light, coverage: Plane): number {
  let most = 0;
  for (const { light } of having) {
    let [both, all] = [0, 0];
    for (const c of ['r', 'g', 'b'] as const) {
      for (let i = 0; i < coverage.data.length; i++) {
        if (coverage.data[i] < 0.5) continue;
        const base = Math.max(BLACK, clean.light[c][i]);
        const thing = Math.log2(Math.max(BLACK, light[c][i]) / base);
        both += thing * Math.log2(Math.max(BLACK, picture[c][i]) / base);
        all += thing * thing;
      }
    }
    if (all > 0) most = Math.max(most, both / all);
  }
  return most;
}

/** Whether a frame may be trusted to have a place clean: most of the others agree with it, or it is the one that lacks the thing, and nothing speaks against it. */
const isSure = ({ frame, word, rating }: Candidate, lacking: FrameId | null): boolean => (frame === lacking ? !FLAWS.includes(word) : word === 'clean' && rating > SURE);

/** An inset for a place, or null where the picture does not show what is there, or no frame is sure to have it clean. @param keptOut where its seam must not run */
function replaced(proposal: Proposal, picture: Light, { frames, lacking, isPlate }: Suspect, place: Plane, keptOut: Plane, count: number): SourcePass | null {
  const part = partWhere(place, (v) => v > 0, ABOUT);
  if (!part || place.data.reduce((sum, v) => sum + v, 0) < SMALLEST) return null;
  const looks = looksAt(proposal, picture, place, part);
  const told = coarserLooks(looks, RATED);
  const rated = rateCandidates(told, { pointedAt: false });
  const clean = rated.find(({ frame }) => frame === lacking);
  const sure = rated.filter(({ frame }) => frames.has(frame));
  const has = ({ frame, light }: Candidate): boolean => frames.has(frame) || (clean !== undefined && frame !== lacking && shown(sure, clean, light, told.coverage) > HAS);
  const best = rated.find((each) => (isPlate ? each.frame === lacking : !has(each)));
  if (!best || !isSure(best, lacking) || shown(rated.filter(has), best, told.picture, told.coverage) < SHOWS) return null;
  const why = isPlate ? 'all other frames show somebody or something here that the plate lacks' : `somebody or something is in ${frames.size > 1 ? `${frames.size} frames` : 'one frame'} here; this one has the place clean`;
  const inset = insetPass(looks, best, proposal.mix, { id: `clean-${count}`, name: `Clean place ${count}`, why }, { keptOut: cutPlane(keptOut, part), room: SEAM_ROOM });
  return inset.mask.some((area) => area.kind === 'outline' && area.rings.length > 0) ? inset : null;
}

/** Frames that insets take their places from are used. */
function withUsed(verdicts: Proposal['verdicts'], insets: readonly SourcePass[]): Proposal['verdicts'] {
  const taken = new Set(insets.flatMap(({ source }) => ('frame' in source ? [source.frame] : [])));
  return new Map([...verdicts].map(([id, verdict]) => [id, taken.has(id) ? { ...verdict, used: true } : verdict] as const));
}

/**
 * Takes people and equipment away that the picture of a proposal shows, where another frame has the place clean: an inset each, in a
 * bundle of their own. What no frame has clean is left. @param picture the proposal's picture on the guide, working light.
 * @returns the proposal with these, or the same one where there is nothing to do.
 */
export function cleanUp(proposal: Proposal, picture: Light): Proposal {
  const pane = proposal.findings.pane();
  let { mix } = proposal;
  const seen = createPlane(pane.width, pane.height);
  for (const suspect of suspects(proposal)) {
    // One part of a thing led to all of it before.
    if (isMostly(suspect.half, seen)) continue;
    const thing = wholeThing(proposal, suspect);
    for (let i = 0; i < thing.data.length; i++) if (thing.data[i] > 0) seen.data[i] = 1;
    // Behind glass it is another light: what lies there is joined by itself.
    for (const isThere of [(i: number) => pane.data[i] <= 0.5, (i: number) => pane.data[i] > 0.5]) {
      const inset = replaced(proposal, picture, suspect, mapPlane(thing, (v, i) => (isThere(i) ? v : 0)), mapPlane(pane, (_, i) => (isThere(i) ? 0 : 1)), cleanUpInsets(mix.passes).length + 1);
      if (inset) mix = { ...mix, passes: withInset(mix.passes, inset) };
    }
  }
  return mix === proposal.mix ? proposal : { ...proposal, mix, verdicts: withUsed(proposal.verdicts, cleanUpInsets(mix.passes)) };
}
