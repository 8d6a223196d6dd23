import type { Response } from '../colour/responseTable';
import { USUAL_SHARPENING } from '../finish/sharpen';
import { usualNoise } from '../finish/usualNoise';
import { believedOfFlash } from '../colour/believedOfFlash';
import { estimateNeutral } from '../colour/estimateNeutral';
import type { Triple } from '../colour/primaries';
import { whitePaint } from '../colour/whitePaint';
import { inverseToneCurve } from '../finish/toneCurve';
import { estimateStance, type ToldStance } from '../geometry/estimateStance';
import { findStraightEdges } from '../geometry/findStraightEdges';
import { createLight, createPlane, luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { isFlash, type Role } from '../intake/frameFacts';
import type { Tools } from '../kernels/tools';
import { frameMix } from '../mix/frameMix';
import type { GuideSet } from '../mix/guides';
import type { AdjustPass, Area, FillPass, FrameId, Mix, Pass, SourcePass } from '@zaddle/document';
import type { Findings } from '../found/findings';
import { addedLight } from './addedLight';
import { analyseShot, levelled, type Analysis } from './analyseShot';
import { clearedView } from './clearedView';
import { glassMask } from './glassMask';
import { hotSpot } from './hotSpot';
import { viewQuality, type ViewQuality } from './guessRoles';
import { chooseReference, lineUpShot, viewShot, type LensChoice, type PartResiduals, type ShotFrame, type ShotLineUp, type ShotView } from './lineUpShot';
import { matchBalance } from './matchBalance';
import { focalOf, proposeFraming } from './proposeFraming';
import { seesSky } from './seesSky';
import { spoiltPops } from './spoiltPops';
import { FALL_PASS, FINISH_PASS, FIRST_START, PAINT_PASS, VIEWS_BUNDLE, withStart, type Start } from './starts';

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

/** Where the room's middle tones go, as linear display light: the main body of tones right of centre. */
const ROOM_MIDDLE = 0.32;
const FLASH_MIDDLE = 0.38;
/** Stops about middle grey, as the room is exposed, from which something shines by itself, and over which it comes to. */
const SHINES = 2.2;
const SHINES_SOFTLY = 1.4;
/** Median and high tones of a readable view, linear display light. */
const VIEW_MIDDLE = 0.45;
const VIEW_HIGH = 0.88;
/** Share of a view that must be unclipped to be shown at all; share clipped from which on its white stays one, and what that is, linear display light: darker, a blown sky would be a grey one. */
const LEAST_VIEW = 0.2;
const CLIPPED_VIEW = 0.08;
const VIEW_WHITE = 0.8;
/** A source of the view: its best median; how many stops off it are as good by two thirds; and how much a clipped part of it costs: no fader brings back a sky. */
const VIEW_EXPOSED = 0.35;
const VIEW_LATITUDE = 2;
const CLIPPING_TELLS = 8;

const base = (id: string): Pick<Pass, 'id' | 'within' | 'on' | 'opacity' | 'mask' | 'exposure' | 'balance'> => ({ id, on: true, opacity: 1, within: null, mask: [], exposure: 0, balance: [1, 1, 1] });
const sourcePass = (id: string, kind: SourcePass['kind'], source: SourcePass['source'], more: Partial<SourcePass> & Pick<SourcePass, 'name' | 'why'>): SourcePass => ({
  ...base(id), kind, source, alignment: null, mode: 'normal', brightness: 1, colour: 1, ...more,
});
const times = (a: Triple, b: Triple): Triple => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];

const scaled = ({ width, height, r, g, b }: Light, gains: Triple): Light => ({ width, height, r: r.map((v) => v * gains[0]), g: g.map((v) => v * gains[1]), b: b.map((v) => v * gains[2]) });

interface PopLight {
  readonly id: FrameId;
  readonly lit: Plane;
  readonly exposure: number;
  readonly balance: Triple;
}

/** Brings all pops to one level and one white balance. */
function matchPops({ guides, findings, roles }: Analysis): PopLight[] {
  const pops: PopLight[] = [];
  const ids = [...roles].filter(([, r]) => r.role === 'flash').map(([id]) => id);
  const amount = (plane: Plane): number => plane.data.reduce((sum, v) => sum + v, 0) / plane.data.length;
  const planes = ids.map((id) => ({ id, lit: findings.litBy(id) })).filter(({ lit }) => amount(lit) > 0.03).sort((a, b) => amount(b.lit) - amount(a.lit));
  for (const { id, lit } of planes) {
    const { light } = guides.frames.get(id)!;
    const y = luminance(light);
    const levels: number[] = [];
    for (let i = 0; i < y.data.length; i += 5) if (lit.data[i] > 0.35) levels.push(y.data[i]);
    if (levels.length < 100) continue;
    const exposure = Math.log2(FLASH_MIDDLE / quantile(levels, 0.5));
    const first = pops[0];
    const match = first ? matchBalance(light, guides.frames.get(first.id)!.light, (i) => lit.data[i] > 0.3 && first.lit.data[i] > 0.3) : null;
    pops.push({ id, lit, exposure, balance: match ? levelled(match) : [1, 1, 1] });
  }
  return pops;
}

/** The pops' mean light, each where it lights well. */
function joinPops(pops: readonly PopLight[], guides: GuideSet): { light: Light; weight: Plane } {
  const light = createLight(guides.width, guides.height);
  const weight = createPlane(guides.width, guides.height);
  for (const pop of pops) {
    const source = guides.frames.get(pop.id)!.light;
    const gain = 2 ** pop.exposure;
    for (let i = 0; i < weight.data.length; i++) {
      const w = pop.lit.data[i];
      weight.data[i] += w;
      light.r[i] += w * gain * pop.balance[0] * source.r[i];
      light.g[i] += w * gain * pop.balance[1] * source.g[i];
      light.b[i] += w * gain * pop.balance[2] * source.b[i];
    }
  }
  for (let i = 0; i < weight.data.length; i++) {
    const inverse = 1 / Math.max(1e-4, weight.data[i]);
    light.r[i] *= inverse;
    light.g[i] *= inverse;
    light.b[i] *= inverse;
    weight.data[i] = Math.min(1, weight.data[i]);
  }
  return { light, weight };
}

/** Exposure, in stops, that puts the room's median where it belongs. */
function roomExposure(light: Light, glass: Plane): number {
  const y = luminance(light);
  const room: number[] = [];
  for (let i = 0; i < y.data.length; i += 5) if (glass.data[i] < 0.5) room.push(y.data[i]);
  if (room.length === 0) return 0;
  return Math.max(-3, Math.min(5, Math.log2(ROOM_MIDDLE / Math.max(1e-4, quantile(room, 0.5)))));
}

/** What the joined ambient is called, and what is to be said of a frame in it that is none. */
function ambientWords({ mix, roles }: Analysis): { readonly name: string; readonly more: string } {
  const own = mix.merge.filter((id) => !isFlash(roles.get(id)!.role)).length;
  return { name: own > 1 ? `Ambient, ${own} frames joined` : 'Ambient', more: own < mix.merge.length ? '; what is clipped in it comes from a darker frame' : '' };
}

/** Passes that light the room. */
function lightPasses(analysis: Analysis): Pass[] {
  const { guides, findings } = analysis;
  const glass = findings.pane();
  const matched = matchPops(analysis);
  const spoilt = spoiltPops(analysis, matched);
  const pops = matched.filter((p) => !spoilt.has(p.id));
  const exposure = roomExposure(guides.merge, glass);
  const ambient = ambientWords(analysis);
  if (pops.length === 0) {
    const room = mapPlane(glass, (v) => 1 - v);
    const roughly = estimateNeutral(guides.merge, room);
    const balanced = scaled(guides.merge, roughly);
    const neutral = seesSky(balanced, glass) ? roughly : times(whitePaint(balanced, room), roughly);
    return [sourcePass('ambient', 'light', { kind: 'merge' }, { name: ambient.name, why: `no usable flash: the room’s own light, made neutral by its light-coloured surfaces${ambient.more}`, exposure, balance: levelled(neutral) })];
  }
  const joined = joinPops(pops, guides);
  const neutral = levelled(believedOfFlash(estimateNeutral(joined.light, joined.weight)));
  for (let i = 0; i < joined.light.r.length; i++) {
    joined.light.r[i] *= neutral[0];
    joined.light.g[i] *= neutral[1];
    joined.light.b[i] *= neutral[2];
  }
  const toFlash = matchBalance(guides.merge, joined.light, (i) => joined.weight.data[i] > 0.4);
  const ambientBalance = levelled(toFlash ?? neutral);
  const passes: Pass[] = [
    sourcePass('ambient', 'light', { kind: 'merge' }, { name: ambient.name, why: `the room’s own light, for what no flash reached${ambient.more}`, exposure, balance: ambientBalance }),
  ];
  const shining: Area = { id: 'shining', kind: 'tones', join: 'add', inverted: false, of: { kind: 'below' }, from: SHINES, to: 6, softness: SHINES_SOFTLY };
  passes.push(sourcePass('shining', 'light', { kind: 'merge' }, { name: 'Lamps and daylight', why: 'what shines by itself, or mirrors what does, keeps its own colour: the balance of a room by lamplight would turn it blue', exposure, balance: neutral, mask: [shining] }));
  // Muted ones come last: no other flash leaves its share to them.
  [...pops, ...matched.filter((p) => spoilt.has(p.id))].forEach((pop, k, ordered) => {
    const mask: Area[] = [{ id: `lit-${k + 1}`, kind: 'found', what: 'lit', join: 'add', inverted: false, frame: pop.id, among: ordered.slice(0, k).map((p) => p.id) }];
    const why = spoilt.has(pop.id) ? 'muted: somebody or something stands in this frame, and the other flashes light the same' : 'true colours where this flash lights the room well';
    const pass = sourcePass(`pop-${k + 1}`, 'light', { kind: 'frame', frame: pop.id }, { name: `Flash ${k + 1}`, why, exposure: pop.exposure, balance: times(pop.balance, neutral), mask });
    passes.push({ ...pass, on: !spoilt.has(pop.id) });
  });
  const spots = pops.flatMap(({ id, lit }, k): Pass[] => {
    const spot = hotSpot(`hot-${k + 1}`, guides, guides.frames.get(id)!, lit, pops.filter((p) => p.id !== id).map((p) => p.lit), glass);
    return spot ? [{ ...sourcePass(`spot-${k + 1}`, 'light', { kind: 'merge' }, { name: `Hot spot of flash ${k + 1}`, why: 'this flash clips here and no other lights the place: the room’s own light, brought to what lies around', exposure, balance: ambientBalance, mask: [{ ...spot, border: { grow: 0, soften: 0, snap: id } }] }), matched: true }] : [];
  });
  passes.push(sourcePass(FALL_PASS, 'light', { kind: 'merge' }, { name: 'Fall of light', why: 'the ambient’s brightness over the flash’s colour, so that light falls as it did in the room', exposure, balance: ambientBalance }), ...spots);
  return passes;
}

const qualityOf = ({ guides, findings, mix }: Analysis, id: FrameId): ViewQuality => viewQuality(guides.frames.get(id)!, findings.pane(), findings.own(), mix.frames[id].stops);

/** The frame whose luminance separates glass from joinery best: the largest step across the glass's edge. */
function edgeFrame({ guides, findings }: Analysis): FrameId | null {
  const glass = findings.pane();
  const { width } = glass;
  const inner: number[] = [];
  const outer: number[] = [];
  for (let i = 4 * width; i < glass.data.length - 4 * width; i++) {
    for (const by of [1, width]) {
      if (glass.data[i] > 0.5 === glass.data[i + by] > 0.5) continue;
      const isInside = glass.data[i] > 0.5;
      inner.push(isInside ? i - 2 * by : i + 3 * by);
      outer.push(isInside ? i + 3 * by : i - 2 * by);
    }
  }
  let best: FrameId | null = null;
  let bestStep = 0;
  for (const [id, { light }] of guides.frames) {
    const log = (i: number): number => Math.log2(Math.max(1 / 4096, 0.2627 * light.r[i] + 0.678 * light.g[i] + 0.0593 * light.b[i]));
    const step = inner.reduce((sum, i, k) => sum + log(i) - log(outer[k]), 0);
    if (step > bestStep) {
      bestStep = step;
      best = id;
    }
  }
  return best;
}

/** How far joinery is carried in beyond the edge of the glass, in longer sides of the reference: what a lens mixes of the two there. */
const MIXED_RIM = 0.0015;
/** How far under the view: more than its own edge is soft. Further in, the room's light stays, for when the view is muted or let through. */
const UNDER_VIEW = 0.003;

/** Joinery under the edge of the view: the room's light behind the glass, far brighter, would shine round it. */
function joineryPass(view: Pass): FillPass {
  const rim = (id: string, join: Area['join'], grow: number): Area => ({ id, kind: 'same', join, inverted: false, pass: view.id, border: { grow, soften: 0, snap: null } });
  const mask = [rim('about-view', 'add', MIXED_RIM), rim('within-view', 'subtract', -UNDER_VIEW)];
  return { ...base('joinery'), kind: 'fill', name: 'Joinery', why: 'frames and bars carried in under the edge of the view, so that no bright line shows round it', mask, mode: 'normal', brightness: 1, colour: 1, tone: [0.5, 0.5, 0.5], ramp: null, around: true };
}

/** Share of the glass that a frame has unclipped to show the view, too. */
const SHOWS_VIEW = 0.9;

/** The pass for the view outside, from the frame that has it best. */
function viewPass(analysis: Analysis): SourcePass | null {
  const { guides, findings, mix } = analysis;
  const glass = findings.pane();
  if (glass.data.every((v) => v === 0)) return null;
  const qualities = new Map([...guides.frames.keys()].map((id) => [id, qualityOf(analysis, id)]));
  const score = (id: FrameId): number => {
    const { usable, glare, median } = qualities.get(id)!;
    const off = Math.log2(Math.max(1e-4, median) / VIEW_EXPOSED);
    return usable ** CLIPPING_TELLS * (1 - glare) ** 3 * Math.exp(-(off * off) / (2 * VIEW_LATITUDE ** 2));
  };
  const frame = [...guides.frames.keys()].reduce((best, id) => (score(id) > score(best) ? id : best));
  const quality = qualities.get(frame)!;
  if (quality.usable < LEAST_VIEW) return null;
  const wished = Math.log2(Math.min(inverseToneCurve(VIEW_MIDDLE) / Math.max(0.01, quality.median), inverseToneCurve(VIEW_HIGH) / Math.max(0.01, quality.high)));
  const exposure = 1 - quality.usable > CLIPPED_VIEW ? Math.max(wished, Math.log2(inverseToneCurve(VIEW_WHITE))) : wished;
  const edge = edgeFrame(analysis) ?? frame;
  const darker = -mix.frames[frame].stops;
  return sourcePass('view', 'view', { kind: 'frame', frame }, {
    name: 'View',
    why: `the outside as this frame has it: ${darker.toFixed(1)} stops darker than the reference, ${Math.round(quality.usable * 100)} % of the glass unclipped`,
    exposure,
    mask: glassMask(analysis, edge),
  });
}

/**
 * The view, and over it, where the glass mirrors the room, another frame in which it does not: of the two the darker is the
 * view itself. Both are one thing to a person, so a bundle holds them.
 */
function viewPasses({ guides, findings, mix }: Analysis, view: SourcePass): readonly Pass[] {
  const { frame } = view.source as { readonly frame: FrameId };
  const exposures = Object.fromEntries([...guides.frames.keys()].map((id) => [id, mix.frames[id].stops]));
  const shows = (id: FrameId): boolean => id !== frame && viewQuality(guides.frames.get(id)!, findings.pane(), findings.own(), mix.frames[id].stops).usable > SHOWS_VIEW;
  const cleared = clearedView(guides, exposures, findings.own(), findings.pane(), frame, [...guides.frames.keys()].filter(shows));
  if (!cleared) return [view];
  const why = `${Math.round(100 * cleared.share)} % of the glass mirrors the room in the other frame: here it does not`;
  const mask: Area[] = [{ id: 'the-view', kind: 'same', join: 'add', inverted: false, pass: view.id }, cleared.area];
  const exposure = view.exposure + mix.frames[frame].stops - mix.frames[cleared.frame].stops;
  const over = sourcePass('view-cleared', 'view', { kind: 'frame', frame: cleared.frame }, { name: 'View, clear glass', why, exposure, mode: 'darken', mask });
  return [{ ...view, within: VIEWS_BUNDLE }, { ...over, within: VIEWS_BUNDLE }, { ...base(VIEWS_BUNDLE), kind: 'bundle', name: 'View from two frames', why: 'where the glass mirrors the room in one frame, the other has the view; its exposure is that of both', mode: 'normal', brightness: 1, colour: 1 }];
}

const adjusting = { kind: 'adjust', contrast: 1, curve: [], tied: false, highlights: 0, shadows: 0, saturation: 1 } as const;

/** Evens out the colour of light over paint; outside the sky has its own colours, and keeps them. */
function paintPass({ guides, findings }: Analysis, balance: Triple): AdjustPass {
  const pass: AdjustPass = { ...base(PAINT_PASS), ...adjusting, name: 'Even light', why: 'lamps, daylight and what floors and textiles throw back colour paint from place to place: that is evened out, paint itself stays', evenness: 0 };
  return seesSky(scaled(guides.merge, balance), findings.pane()) ? { ...pass, on: false, why: 'muted: taken outside, where sky and dusk have colours of their own' } : pass;
}

function finishPass(): AdjustPass {
  return { ...base(FINISH_PASS), ...adjusting, name: 'Tone', why: 'broad highlights and shadows brought closer, a little contrast' };
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
    if ('frame' in pass.source) used.add(pass.source.frame);
    if (pass.source.kind !== 'frame') mix.merge.forEach((id) => used.add(id));
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
  const view = viewPass(analysis);
  const lit = lightPasses(analysis);
  const passes: Pass[] = withStart([...lit, paintPass(analysis, lit[0].balance), finishPass(), ...(view ? [joineryPass(view), ...viewPasses(analysis, view)] : [])], start);
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
