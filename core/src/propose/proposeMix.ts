import type { Response } from '../colour/responseTable';
import { USUAL_SHARPENING } from '../finish/sharpen';
import { usualNoise } from '../finish/usualNoise';
import type { Triple } from '../colour/primaries';
import { estimateStance, type ToldStance } from '../geometry/estimateStance';
import { findStraightEdges } from '../geometry/findStraightEdges';
import type { Role } from '../intake/frameFacts';
import type { Tools } from '../kernels/tools';
import { frameMix } from '../mix/frameMix';
import type { GuideSet } from '../mix/guides';
import { namedBy, usesMerge, type AdjustPass, type FrameId, type Mix, type Pass } from '@zaddle/document';
import type { Findings } from '../found/findings';
import { addedLight } from './addedLight';
import { analyseShot, type Analysis } from './analyseShot';
import { scaled } from './gains';
import { ceilingPass } from './ceilingPass';
import { lightPasses } from './lightPasses';
import { chooseReference, lineUpShot, viewShot, type LensChoice, type PartResiduals, type ShotFrame, type ShotLineUp, type ShotView } from './lineUpShot';
import { adjusting, newPass } from './newPass';
import { focalOf, proposeFraming } from './proposeFraming';
import { seesSky } from '../found/seesSky';
import { settlePanes } from './settlePanes';
import { FINISH_PASS, FIRST_START, PAINT_PASS, withStart, type Start } from './starts';
import { viewPasses } from './viewPasses';

export interface FrameVerdict {
  readonly role: Role;
  readonly used: boolean;
  readonly why: string;
  readonly residualPx: number | null;
  /** The same part by part; empty for the reference and for what is not lined up. */
  readonly parts: PartResiduals;
}

/** Everything that the automatic start worked out for a shot. */
export interface Proposal {
  readonly mix: Mix;
  readonly verdicts: ReadonlyMap<FrameId, FrameVerdict>;
  readonly guides: GuideSet;
  readonly findings: Findings;
  /** How the camera stood. */
  readonly stance: ToldStance;
  readonly ms: { readonly align: number; readonly merge: number };
}

/** A clock in milliseconds, given by the caller since the core has none. */
export type Clock = () => number;

/** Evens out the colour of light over paint; outside the sky has its own colours, and keeps them. */
function paintPass({ guides, findings }: Analysis, balance: Triple): AdjustPass {
  const pass: AdjustPass = { ...newPass(PAINT_PASS), ...adjusting, name: 'Even light', why: 'lamps, daylight and what floors and textiles throw back colour paint from place to place: that is evened out, paint itself stays', evenness: 0 };
  return seesSky(scaled(guides.merge, balance), findings.pane()) ? { ...pass, on: false, why: 'muted: taken outside, where sky and dusk have colours of their own' } : pass;
}

function finishPass(): AdjustPass {
  return { ...newPass(FINISH_PASS), ...adjusting, name: 'Tone', why: 'broad highlights and shadows brought closer, a little contrast' };
}

/** What the reference's straight edges tell of how its camera stood. */
function stanceOf({ views, lineUp, focal }: { views: readonly ShotView[]; lineUp: ShotLineUp; focal: number }): ToldStance {
  const plane = views.find((view) => view.frame.facts.id === lineUp.reference)!.pyramid.levels[0];
  return { ...estimateStance(findStraightEdges(plane), plane, lineUp.lens, focal), frame: lineUp.reference, focal };
}

/** What is decided before a proposal. */
export interface ProposalOptions {
  readonly lens: LensChoice;
  /** The camera's response, or to find it from the frames. Raw files are linear, whatever is said here. */
  readonly response: Response | 'find';
  /** false keeps the reference's own frame. */
  readonly straighten: boolean;
  /** How it begins. */
  readonly start: Start;
}

/** Everything found from the frames. */
export const AUTOMATIC: ProposalOptions = { lens: 'find', response: 'find', straighten: true, start: FIRST_START };

/** Why a twin is not used. */
export const TWIN = 'another file of the same exposure';
/** Frames of one shot that are worked with unasked; documents hold as many. */
export const LARGEST_SHOT = 60;

/** At most so many frames as are worked with, from all over the shot. Twins are not lined up either way. */
function workedWith(frames: readonly ShotFrame[]): readonly ShotFrame[] {
  const own = frames.filter((f) => f.facts.twinOf === null);
  if (own.length <= LARGEST_SHOT) return frames;
  const turn = (k: number): number => Math.floor((k * LARGEST_SHOT) / own.length);
  return own.filter((_, k) => k === 0 || turn(k) > turn(k - 1));
}

/** Which frames' pixels the passes take, so that a verdict can say used or not. */
function usedFrames(mix: Mix): Set<FrameId> {
  const used = new Set<FrameId>();
  for (const pass of mix.passes) {
    if (!('source' in pass) || !pass.on) continue;
    namedBy(pass).source.forEach((id) => used.add(id));
    if (usesMerge(pass)) mix.merge.forEach((id) => used.add(id));
  }
  return used;
}

/**
 * The automatic start for a shot: lines frames up, tells their roles, and proposes passes: ambient for the fall
 * of light, flash for clean colour and dark parts, the best exposed frame for the view outside, and natural tone.
 * @param tools with memory for four proxies. @param all of more than `LARGEST_SHOT`, some are left out and their verdicts say so.
 * @throws Error when there is no frame.
 */
export function proposeMix(tools: Tools, all: readonly ShotFrame[], { lens, response, straighten, start }: ProposalOptions, clock: Clock): Proposal {
  if (all.length === 0) throw new Error('A shot needs at least one frame.');
  const frames = workedWith(all);
  const started = clock();
  const views = viewShot(tools, frames);
  const added = addedLight(views);
  let lineUp = lineUpShot(tools, views, lens, chooseReference(views, added));
  const linedUp = clock();
  const raw = frames.find((f) => f.facts.id === lineUp.reference)!.facts.format === 'raw';
  let analysis = analyseShot(tools, frames, lineUp, added, raw ? [] : response, lens);
  if (analysis.betterReference) {
    lineUp = lineUpShot(tools, views, lens, analysis.betterReference);
    analysis = analyseShot(tools, frames, lineUp, added, raw ? [] : response, lens);
  }
  const merged = clock();
  const lit = lightPasses(analysis);
  const paint = paintPass(analysis, lit.passes[0].balance);
  const evening = withStart([paint], start)[0] as AdjustPass;
  const ceiling = paint.on ? ceilingPass(analysis, { ...lit.colours, evenness: evening.evenness ?? 0 }) : null;
  const passes: Pass[] = withStart([...lit.passes, paint, ...(ceiling ? [ceiling] : []), finishPass(), ...settlePanes(tools, frames, analysis, viewPasses(analysis, lit.flashes))], start);
  const noise = usualNoise(all.map(({ facts }) => facts), lineUp.reference);
  const finished = { ...analysis.mix, passes, noise, sharpening: USUAL_SHARPENING };
  const focal = focalOf(frames.find((f) => f.facts.id === lineUp.reference)!.facts);
  const stance = stanceOf({ views, lineUp, focal });
  const mix = straighten ? { ...finished, ...frameMix(finished, proposeFraming(finished, stance, focal)) } : finished;
  const used = usedFrames(mix);
  const verdicts = new Map<FrameId, FrameVerdict>();
  for (const { facts } of all) {
    const lined = lineUp.frames.get(facts.id);
    const role = analysis.roles.get(facts.id);
    if (facts.twinOf !== null) verdicts.set(facts.id, { role: 'spare', used: false, why: TWIN, residualPx: null, parts: [] });
    else if (!lined) verdicts.set(facts.id, { role: 'spare', used: false, why: `left out: more than ${LARGEST_SHOT} frames in one shot. Split it, or add this frame by hand`, residualPx: null, parts: [] });
    else if (!lined.ok) verdicts.set(facts.id, { role: facts.flash ? 'flash' : 'ambient', used: false, why: lined.why, residualPx: null, parts: [] });
    else verdicts.set(facts.id, { role: role!.role, used: used.has(facts.id), why: role!.why, residualPx: lined.residualPx, parts: lined.parts });
  }
  return { mix, verdicts, stance, guides: analysis.guides, findings: analysis.findings, ms: { align: linedUp - started, merge: merged - linedUp } };
}
