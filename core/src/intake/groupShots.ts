import { DIFFERENT, likenessOf, type CoarseFit } from '../align/coarseSearch';
import { SAME, searchEitherSign } from '../align/searchEitherSign';
import type { Tools } from '../kernels/tools';
import type { Plane } from '../image/plane';
import { exposureStops, type FrameFacts } from './frameFacts';
import { findMove } from './findMove';

/** A frame as sorting sees it. */
export interface SortingFrame {
  readonly facts: FrameFacts;
  /** Locally normalised small picture (`localStructure`). */
  readonly structure: Plane;
}

/** Frames that show one view, in the order in which they were taken. */
export interface SortedShot {
  readonly frames: readonly string[];
  /** How sure it is that these frames belong together and that the shot begins where it does, 0..1. */
  readonly confidence: number;
  readonly why: string;
}

/** A likeness beyond doubt: nothing more need be compared. */
const CERTAIN = 3;
/** Seconds after which a doubtful likeness counts as a new shot, and within which a frame without structure goes on. */
const PAUSE = 60;
const AT_ONCE = 15;
/** How far the camera may have moved since the frame before, as a share of the longer side and in radians, for a doubtful likeness to count: chance finds its likeness anywhere in reach, a tripod or a hand within seconds does not go far. */
const NEARBY = 0.03;
const HARDLY_TURNED = 0.02;
/** Seconds that a shot may be interrupted by a test frame or a look elsewhere. */
const INTERRUPTION = 300;
/** Frames of a shot that a new one is compared with. */
const COMPARED = 4;
/** Share of a small picture that must have structure to be compared at all. */
const LEAST_STRUCTURE = 0.06;
/** How far, as a share of the longer side, frames of one shot may lie apart. */
const REACH = 0.07;

/** By capture time, then by name as people count (IMG_9 before IMG_10). */
export function inOrder(a: FrameFacts, b: FrameFacts): number {
  if (a.takenAt !== null && b.takenAt !== null && a.takenAt !== b.takenAt) return a.takenAt - b.takenAt;
  return a.name.localeCompare(b.name, 'en', { numeric: true });
}

/** A frame in a shot, with where it lies on the shot's first frame. */
interface Member {
  readonly frame: SortingFrame;
  readonly fit: CoarseFit;
}

interface Draft {
  readonly members: Member[];
  confidence: number;
  why: string;
}

const sizeOf = ({ structure: { width, height } }: SortingFrame): string => `${width} ${height}`;

const hasStructure = ({ structure: { data } }: SortingFrame): boolean => {
  let count = 0;
  for (let i = 0; i < data.length; i += 3) if (Math.abs(data[i]) > 0.5) count++;
  return 3 * count > LEAST_STRUCTURE * data.length;
};

/** Members to compare a frame with: the last one, and those exposed most like it, since exposures far apart share little. */
function toCompare(members: readonly Member[], frame: SortingFrame): Member[] {
  const last = members[members.length - 1];
  const own = exposureStops(frame.facts);
  const apart = (m: Member): number => Math.abs((exposureStops(m.frame.facts) ?? own ?? 0) - (own ?? 0));
  const others = members.slice(0, -1).map((m, k) => ({ m, k })).sort((a, b) => apart(a.m) - apart(b.m) || b.k - a.k);
  return [last, ...others.slice(0, COMPARED - 1).map(({ m }) => m)];
}

/** The best likeness to a shot, and where the frame lies on the shot's first frame by it. */
function likenessTo(tools: Tools, { members }: Draft, frame: SortingFrame): CoarseFit {
  let best: CoarseFit = { dx: 0, dy: 0, turn: 0, score: -1, standout: 12 };
  for (const { frame: other, fit } of toCompare(members, frame)) {
    const found = searchEitherSign(tools, other.structure, frame.structure, REACH);
    if (likenessOf(found) > likenessOf(best)) best = { dx: fit.dx + found.dx, dy: fit.dy + found.dy, turn: fit.turn + found.turn, score: found.score, standout: found.standout };
    if (likenessOf(best) > CERTAIN) break;
  }
  return best;
}

type Verdict = { readonly same: boolean; readonly confidence: number; readonly why: string; readonly fit: CoarseFit };

const secondsBetween = (a: FrameFacts, b: FrameFacts): number | null => (a.takenAt !== null && b.takenAt !== null ? (b.takenAt - a.takenAt) / 1000 : null);

/** Whether a frame goes on with a shot, and how sure that is. */
function goesOn(tools: Tools, shot: Draft, frame: SortingFrame): Verdict {
  const last = shot.members[shot.members.length - 1];
  const no = (confidence: number, why: string): Verdict => ({ same: false, confidence, why, fit: last.fit });
  if (sizeOf(last.frame) !== sizeOf(frame)) return no(1, 'another picture shape');
  const [f, g] = [last.frame.facts.focalLength, frame.facts.focalLength];
  if (f !== null && g !== null && Math.abs(f - g) > 0.02 * f) return no(0.98, 'another focal length');
  const gap = secondsBetween(last.frame.facts, frame.facts);
  if (!hasStructure(frame) || !shot.members.some((m) => hasStructure(m.frame))) {
    const same = gap !== null && gap < AT_ONCE;
    return { same, confidence: 0.5, why: same ? 'too dark or too bright to compare, taken right after' : 'too dark or too bright to compare', fit: last.fit };
  }
  const fit = likenessTo(tools, shot, frame);
  const like = likenessOf(fit);
  if (like >= SAME) return { same: true, confidence: Math.min(1, 0.6 + (like - SAME) * 0.2), why: 'the same view', fit };
  if (like < DIFFERENT) return { ...no(Math.min(1, 0.65 + (DIFFERENT - like) * 0.6), 'another view'), fit };
  if (gap !== null && gap >= PAUSE) return { ...no(0.5, `a doubtful likeness, ${Math.round(gap)} s later`), fit };
  const moved = Math.hypot(fit.dx - last.fit.dx, fit.dy - last.fit.dy) / Math.max(frame.structure.width, frame.structure.height);
  if (moved > NEARBY || Math.abs(fit.turn - last.fit.turn) > HARDLY_TURNED) return { ...no(0.5, 'a doubtful likeness, and at another place'), fit };
  return { same: true, confidence: 0.5, why: 'a doubtful likeness, taken right after', fit };
}

/** The earlier shot that a frame takes up again after an interruption, if any. */
function takenUpAgain(tools: Tools, shots: readonly Draft[], frame: SortingFrame): { shot: Draft; verdict: Verdict } | null {
  for (const shot of shots.slice(-3, -1).reverse()) {
    const gap = secondsBetween(shot.members[shot.members.length - 1].frame.facts, frame.facts);
    if (gap !== null && gap > INTERRUPTION) continue;
    const verdict = goesOn(tools, shot, frame);
    if (verdict.same && likenessOf(verdict.fit) >= SAME) return { shot, verdict };
  }
  return null;
}

/** Splits a shot where the camera was moved for another composition, or where a whole bracket begins anew after a pause. */
function splitMoves(shot: Draft): Draft[] {
  const cut = findMove(shot.members.map(({ frame, fit }) => ({ facts: frame.facts, dx: fit.dx / frame.structure.width, dy: fit.dy / frame.structure.width, turn: fit.turn })));
  if (!cut) return [shot];
  const first: Draft = { ...shot, members: shot.members.slice(0, cut.at), confidence: Math.min(shot.confidence, cut.confidence) };
  const rest: Draft = { members: shot.members.slice(cut.at), confidence: cut.confidence, why: cut.why };
  return [first, ...splitMoves(rest)];
}

/**
 * Sorts frames into shots by what they show, then by time and exposure: each frame goes on with the current shot while it
 * shows the same view under whatever light, or takes up an earlier one that was only interrupted. Twins must have been
 * taken out before.
 */
export function groupShots(tools: Tools, frames: readonly SortingFrame[]): SortedShot[] {
  const sorted = [...frames].sort((a, b) => inOrder(a.facts, b.facts));
  const shots: Draft[] = [];
  for (const frame of sorted) {
    const current = shots[shots.length - 1];
    const verdict = current ? goesOn(tools, current, frame) : { same: false, confidence: 1, why: 'the first frame', fit: { dx: 0, dy: 0, turn: 0, score: 1, standout: 12 } };
    if (current && verdict.same) {
      current.members.push({ frame, fit: verdict.fit });
      current.confidence = Math.min(current.confidence, verdict.confidence);
      continue;
    }
    const again = takenUpAgain(tools, shots, frame);
    if (again) {
      again.shot.members.push({ frame, fit: again.verdict.fit });
      again.shot.confidence = Math.min(again.shot.confidence, again.verdict.confidence, 0.85);
      // What is current is what was taken up.
      shots.splice(shots.indexOf(again.shot), 1);
      shots.push(again.shot);
      continue;
    }
    shots.push({ members: [{ frame, fit: { dx: 0, dy: 0, turn: 0, score: 1, standout: 12 } }], confidence: verdict.confidence, why: verdict.why });
  }
  return shots
    .flatMap(splitMoves)
    .sort((a, b) => inOrder(a.members[0].frame.facts, b.members[0].frame.facts))
    .map(({ members, confidence, why }) => ({ frames: members.map(({ frame }) => frame.facts.id), confidence, why }));
}
