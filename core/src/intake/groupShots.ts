import { coarseSearch } from '../align/coarseSearch';
import type { Plane } from '../image/plane';
import type { FrameFacts } from './frameFacts';

/** A frame as sorting sees it. */
export interface SortingFrame {
  readonly facts: FrameFacts;
  /** Locally normalised small picture (`localStructure`). */
  readonly structure: Plane;
}

/** Frames that show one view, in the order in which they were taken. */
export interface SortedShot {
  readonly frames: readonly string[];
  /** How sure the boundary before this shot is, 0..1. */
  readonly confidence: number;
  readonly why: string;
}

/** Correlation of structure above which two frames show the same view, and below which they do not. */
const SAME = 0.34;
const DIFFERENT = 0.2;
/** Seconds after which a doubtful likeness counts as a new shot. */
const PAUSE = 60;

/** By capture time, then by name as people count (IMG_9 before IMG_10). */
export function inOrder(a: FrameFacts, b: FrameFacts): number {
  if (a.takenAt !== null && b.takenAt !== null && a.takenAt !== b.takenAt) return a.takenAt - b.takenAt;
  return a.name.localeCompare(b.name, 'en', { numeric: true });
}

/** Likeness of two frames' views whatever their light, -1..1; 0 for pictures of different shape. */
export function likeness(a: SortingFrame, b: SortingFrame): number {
  if (Math.abs(a.structure.width - b.structure.width) > 1 || Math.abs(a.structure.height - b.structure.height) > 1) return 0;
  return coarseSearch(a.structure, b.structure, 0.06).score;
}

/** The best likeness to the shot so far: to its latest frames and to its first, since exposures far apart share little. */
function likenessToShot(shot: readonly SortingFrame[], frame: SortingFrame): number {
  const compared = shot.length > 4 ? [shot[0], ...shot.slice(-3)] : shot;
  let best = -1;
  for (let i = compared.length - 1; i >= 0; i--) {
    best = Math.max(best, likeness(compared[i], frame));
    if (best > SAME + 0.2) break;
  }
  return best;
}

/** Whether the frame goes on with the shot, and how sure that is. */
function continues(shot: readonly SortingFrame[], frame: SortingFrame): { same: boolean; confidence: number; why: string } {
  const last = shot[shot.length - 1].facts;
  if (last.width !== frame.facts.width || last.height !== frame.facts.height) return { same: false, confidence: 1, why: 'another picture size' };
  if (last.focalLength !== null && frame.facts.focalLength !== null && Math.abs(last.focalLength - frame.facts.focalLength) > 0.02 * last.focalLength) {
    return { same: false, confidence: 0.98, why: 'another focal length' };
  }
  const like = likenessToShot(shot, frame);
  const gap = last.takenAt !== null && frame.facts.takenAt !== null ? (frame.facts.takenAt - last.takenAt) / 1000 : 0;
  if (like >= SAME) return { same: true, confidence: Math.min(1, 0.5 + (like - SAME) * 2), why: 'the same view' };
  if (like < DIFFERENT) return { same: false, confidence: Math.min(1, 0.6 + (DIFFERENT - like) * 2), why: 'another view' };
  const same = gap < PAUSE;
  return { same, confidence: 0.5, why: same ? 'a doubtful likeness, taken right after' : `a doubtful likeness, ${Math.round(gap)} s later` };
}

/**
 * Sorts frames into shots by what they show, then by time: each frame goes on with the current shot while it
 * shows the same view under whatever light. Twins must have been taken out before.
 */
export function groupShots(frames: readonly SortingFrame[]): SortedShot[] {
  const sorted = [...frames].sort((a, b) => inOrder(a.facts, b.facts));
  const shots: { frames: SortingFrame[]; confidence: number; why: string }[] = [];
  for (const frame of sorted) {
    const current = shots[shots.length - 1];
    if (!current) {
      shots.push({ frames: [frame], confidence: 1, why: 'the first frame' });
      continue;
    }
    const verdict = continues(current.frames, frame);
    if (verdict.same) {
      current.frames.push(frame);
      current.confidence = Math.min(current.confidence, verdict.confidence);
    } else shots.push({ frames: [frame], confidence: verdict.confidence, why: verdict.why });
  }
  return shots.map((shot) => ({ frames: shot.frames.map((f) => f.facts.id), confidence: shot.confidence, why: shot.why }));
}
