import { estimateResponse, type ResponseFrame } from '../colour/estimateResponse';
import type { Response } from '../colour/responseTable';
import type { Triple } from '../colour/primaries';
import { estimateFalloff, type FalloffPair } from '../geometry/estimateFalloff';
import { IDENTITY, mapPoint } from '../geometry/homography';
import { lensFactor, type Optics } from '../geometry/lens';
import type { Light } from '../image/plane';
import { exposureStops, type FrameFacts } from '../intake/frameFacts';
import type { Tools } from '../kernels/tools';
import { lightGuide, mergeGuides, warpGuide, type Guide, type GuideCodes, type GuideSet } from '../mix/guides';
import type { FrameId, FrameUse, Mix } from '@zaddle/document';
import { Findings } from '../found/findings';
import type { AddedLight } from './addedLight';
import type { Lamps } from '../light/lampsAgainst';
import { darkerFrame } from './darkerFrame';
import { guessRole } from './guessRoles';
import { lampGroups } from './lampGroups';
import type { LensChoice, ShotFrame, ShotLineUp } from './lineUpShot';
import { matchBalance } from './matchBalance';
import { focalOf } from './proposeFraming';
import { ambientOddities, refineRoles, type RoleGuess } from './refineRoles';

/** Scales gains so that they leave the luminance of grey alone. */
export const levelled = (g: Triple): Triple => {
  const y = 0.2627 * g[0] + 0.678 * g[1] + 0.0593 * g[2];
  return [g[0] / y, g[1] / y, g[2] / y];
};

/** What is known of a shot before its passes are chosen. */
export interface Analysis {
  readonly mix: Mix;
  readonly guides: GuideSet;
  readonly findings: Findings;
  readonly roles: ReadonlyMap<FrameId, RoleGuess>;
  /** Frames by the room's own light in which more, or fewer, lamps burn than in the reference and those that are joined with it. */
  readonly lamps: ReadonlyMap<FrameId, Exclude<Lamps, 'same'>>;
  /** See `AmbientOddities`; or one of the frames by other lamps, if they are more. */
  readonly betterReference: FrameId | null;
}

/** Guides, roles, exposures and a common balance of all frames that could be lined up; the camera's response and the lens's fall-off where they are to be found. */
export function analyseShot(tools: Tools, frames: readonly ShotFrame[], lineUp: ShotLineUp, added: ReadonlyMap<FrameId, AddedLight>, response: Response | 'find', lens: LensChoice): Analysis {
  return analyse(tools, frames, lineUp, added, response, lens, { warped: new Map(), lamps: null });
}

/** What stays while only what light is made of frames changes: they themselves on the guide grid, and which lamps burn in them. */
interface Kept {
  readonly warped: Map<FrameId, GuideCodes>;
  lamps: Analysis['lamps'] | null;
}

function analyse(tools: Tools, frames: readonly ShotFrame[], lineUp: ShotLineUp, added: ReadonlyMap<FrameId, AddedLight>, response: Response | 'find', lens: LensChoice, kept: Kept): Analysis {
  const { kernels, arena } = tools;
  const { warped } = kept;
  const reference = frames.find((f) => f.facts.id === lineUp.reference)!;
  const guides = new Map<FrameId, Guide>();
  const uses: Record<FrameId, FrameUse> = {};
  const roles = new Map<FrameId, RoleGuess>();
  const usable = frames.filter((f) => lineUp.frames.get(f.facts.id)?.ok).sort((a, b) => Number(b === reference) - Number(a === reference));
  const lit = (id: FrameId, balance: Triple): Guide => lightGuide(kernels, arena, warped.get(id)!, { balance, lens: lineUp.lens, response: response === 'find' ? [] : response });
  for (const { facts, proxy } of usable) {
    const lined = lineUp.frames.get(facts.id)!;
    if (!lined.ok) continue;
    const use = { width: facts.width, height: facts.height, homography: lined.homography, mesh: lined.mesh, balance: [1, 1, 1] as Triple };
    if (!warped.has(facts.id)) warped.set(facts.id, warpGuide(kernels, arena, proxy, { ...use, lens: lineUp.lens }, reference.facts.width, reference.facts.height));
    const guide = lit(facts.id, use.balance);
    const home = facts.id === lineUp.reference ? guide : guides.get(lineUp.reference)!;
    const guess = guessRole(reference.facts, home, facts, guide, added.get(facts.id));
    guides.set(facts.id, guide);
    roles.set(facts.id, guess);
    uses[facts.id] = { ...use, stops: facts.id === lineUp.reference ? 0 : guess.stops };
  }
  const lamps = (kept.lamps ??= lampGroups(usable.flatMap(({ facts }) => (facts.flash === true || !guides.has(facts.id) ? [] : [{ facts, guide: guides.get(facts.id)! }])), lineUp.reference));
  for (const [id, than] of lamps) {
    const { facts } = frames.find((f) => f.facts.id === id)!;
    roles.set(id, { role: 'ambient', why: than === 'more' ? 'lamps burn that are off in the other frames by the room’s own light' : 'lamps are off that burn in the other frames by the room’s own light' });
    uses[id] = { ...uses[id], stops: exposureStops(facts)! - exposureStops(reference.facts)! };
  }
  const ambient = [...roles].filter(([id, r]) => (r.role === 'ambient' || r.role === 'lamp') && !lamps.has(id)).map(([id]) => id);
  if (response === 'find') {
    const found = estimateResponse(ambient.map((id) => responseFrame(guides.get(id)!, frames.find((f) => f.facts.id === id)!.facts)).filter((f) => f !== null));
    // Everything that was measured on the way rests on the response and the lens.
    if (found.length > 0) return analyse(tools, frames, lineUp, added, found, lens, kept);
  }
  const home = guides.get(lineUp.reference)!;
  for (const id of ambient) {
    if (id === lineUp.reference) continue;
    // The camera may have changed its white balance between frames of the same light.
    const guide = guides.get(id)!;
    const match = matchBalance(guide.light, home.light, (i) => guide.top.data[i] < 0.95 && home.top.data[i] < 0.95);
    if (!match) continue;
    uses[id] = { ...uses[id], balance: levelled(match) };
    guides.set(id, lit(id, uses[id].balance));
  }
  if (lens === 'find') {
    const steady = { width: reference.facts.width, height: reference.facts.height, lens: lineUp.lens, guides, uses };
    const f = estimateFalloff(ambient.filter((id) => id !== lineUp.reference).flatMap((id) => falloffPairs(steady, lineUp.reference, id)));
    if (f > 0) return analyse(tools, frames, { ...lineUp, lens: { ...lineUp.lens, falloff: [f, 0] } }, added, response === 'find' ? [] : response, lineUp.lens, kept);
  }
  const { width, height } = guides.get(lineUp.reference)!.light;
  const odd = ambientOddities({ width, height, frames: guides, merge: guides.get(lineUp.reference)!.light }, uses, ambient, new Map(frames.map((f) => [f.facts.id, f.facts])), lineUp.reference);
  for (const id of odd.apart) roles.set(id, { ...roles.get(id)!, why: 'shows something that another frame of this exposure does not: that one is used' });
  for (const id of odd.plates) roles.set(id, { role: 'plate', why: 'lacks something that the other frames of this light show' });
  const merge = ambient.length > 0 ? ambient.filter((id) => !odd.apart.has(id)) : [lineUp.reference];
  const joined = (ids: readonly FrameId[]): Light => mergeGuides(ids.map((id) => ({ guide: guides.get(id)!, stops: uses[id].stops })));
  const set: GuideSet = { width, height, frames: guides, merge: joined(merge) };
  const mix: Mix = {
    reference: lineUp.reference, lens: lineUp.lens, corrects: { distortion: true, fringes: true, falloff: true }, response: response === 'find' ? [] : response, geometry: IDENTITY, width: reference.facts.width, height: reference.facts.height, frames: uses, merge, passes: [],
  };
  const findings = new Findings(set, uses, lineUp.reference, new Set(lamps.keys()), focalOf(reference.facts));
  const refined = refineRoles(set, findings, uses, roles, merge, lineUp.reference);
  const analysis = { mix, guides: set, findings, roles: refined, lamps, betterReference: odd.betterReference ?? moreUsualLamps(lamps, ambient, uses) };
  // Not what somebody walked into, nor what is no part of the shot.
  const others = [...guides.keys()].filter((id) => !merge.includes(id) && !odd.apart.has(id) && !lamps.has(id) && refined.get(id)!.role !== 'spare');
  const darker = darkerFrame(set, Object.fromEntries(Object.entries(uses).map(([id, { stops }]) => [id, stops])), merge, others, findings.pane());
  return darker ? { ...analysis, mix: { ...mix, merge: [...merge, darker] }, guides: { ...set, merge: joined([...merge, darker]) } } : analysis;
}

/** Where most frames by the room's own light are by other lamps than the reference: that of them which is exposed most like it. */
function moreUsualLamps(lamps: Analysis['lamps'], same: readonly FrameId[], uses: Readonly<Record<FrameId, FrameUse>>): FrameId | null {
  const others = (['more', 'fewer'] as const).map((than) => [...lamps].filter(([, is]) => is === than).map(([id]) => id)).find((ids) => ids.length > same.length);
  return others ? others.reduce((best, id) => (Math.abs(uses[id].stops) < Math.abs(uses[best].stops) ? id : best)) : null;
}

/** Step to a neighbour, encoded, above which a place is an edge, whose mixture of two lights follows no curve. */
const EDGE = 0.05;

/** What a guide says of the camera's response: its brightest channel's values, where the frame has them and is even. */
function responseFrame({ top, cover }: Guide, facts: FrameFacts): ResponseFrame | null {
  const stops = exposureStops(facts);
  if (stops === null) return null;
  const { width, data } = top;
  const covered = cover.data;
  // Every other pixel: there are plenty, and neighbours say the same.
  const values = new Float32Array(data.length >> 1).fill(NaN);
  for (let i = 2 * width; i < data.length - 2 * width; i += 2) {
    const v = data[i];
    if (covered[i] !== 1) continue;
    if (Math.abs(data[i + 1] - v) >= EDGE || Math.abs(data[i - 1] - v) >= EDGE || Math.abs(data[i + 2] - v) >= EDGE || Math.abs(data[i - 2] - v) >= EDGE) continue;
    if (Math.abs(data[i + width] - v) >= EDGE || Math.abs(data[i - width] - v) >= EDGE || Math.abs(data[i + 2 * width] - v) >= EDGE || Math.abs(data[i - 2 * width] - v) >= EDGE) continue;
    values[i >> 1] = v;
  }
  return { values, stops };
}

interface Steady {
  readonly width: number;
  readonly height: number;
  readonly lens: Optics;
  readonly guides: ReadonlyMap<FrameId, Guide>;
  readonly uses: Readonly<Record<FrameId, FrameUse>>;
}

/** Places that an ambient frame shares with the reference, with how far from the middle each stored them. */
function falloffPairs({ width, height, lens, guides, uses }: Steady, reference: FrameId, id: FrameId): FalloffPair[] {
  const [a, b] = [guides.get(reference)!, guides.get(id)!];
  const luminanceAt = ({ r, g, b: blue }: Light, i: number): number => 0.2627 * r[i] + 0.678 * g[i] + 0.0593 * blue[i];
  const usable = (g: Guide, i: number): boolean => g.cover.data[i] === 1 && g.top.data[i] > 0.1 && g.top.data[i] < 0.93;
  const storedRadius = (w: number, h: number, x: number, y: number): number => {
    const half = (w * w + h * h) / 4;
    const free = ((x - (w - 1) / 2) ** 2 + (y - (h - 1) / 2) ** 2) / half;
    return free * lensFactor(lens, free) ** 2;
  };
  const scale = width / a.top.width;
  const pairs: FalloffPair[] = [];
  for (let y = 2; y < a.top.height; y += 4) {
    for (let x = 2; x < a.top.width; x += 4) {
      const i = y * a.top.width + x;
      if (!usable(a, i) || !usable(b, i)) continue;
      const at = [(x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5] as const;
      pairs.push({ ratio: Math.log2(luminanceAt(b.light, i) / luminanceAt(a.light, i)), first: storedRadius(width, height, ...at), second: storedRadius(uses[id].width, uses[id].height, ...mapPoint(uses[id].homography, ...at)) });
    }
  }
  return pairs;
}
