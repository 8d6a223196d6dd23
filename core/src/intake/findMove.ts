import { exposureStops, type FrameFacts } from './frameFacts';

/** Where a frame lies on the first of its shot: shift as a share of the longer side, turn in radians. */
export interface FramePlace {
  readonly facts: FrameFacts;
  readonly dx: number;
  readonly dy: number;
  readonly turn: number;
}

/** A boundary inside frames of one view. */
export interface Move {
  /** Index of the first frame after it. */
  readonly at: number;
  readonly confidence: number;
  readonly why: string;
}

/** A shift by this share of the longer side is another composition, if both sides hold still. */
const MOVED = 0.02;
/** How much larger than the unrest on either side a move must be. */
const CLEAR = 4;
/** Unrest, as a share of the longer side, that the coarse search cannot tell from none. */
const RESOLUTION = 0.004;
/** Seconds of pause before a bracket that begins anew. */
const ANEW = 20;

const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** Median place of some frames and their median distance from it. */
function rest(places: readonly FramePlace[]): { x: number; y: number; unrest: number } {
  const x = middle(places.map((p) => p.dx));
  const y = middle(places.map((p) => p.dy));
  return { x, y, unrest: Math.max(RESOLUTION, middle(places.map((p) => Math.hypot(p.dx - x, p.dy - y)))) };
}

/** The camera was moved and held still again: the cut with the clearest step of position between two calm sides. */
function movedCamera(places: readonly FramePlace[]): Move | null {
  let best: Move | null = null;
  for (let at = 2; at <= places.length - 2; at++) {
    const [before, after] = [rest(places.slice(0, at)), rest(places.slice(at))];
    const step = Math.hypot(after.x - before.x, after.y - before.y);
    const standout = step / (CLEAR * Math.max(before.unrest, after.unrest));
    // The step itself must happen at the cut, not somewhere on the way.
    const jump = Math.hypot(places[at].dx - places[at - 1].dx, places[at].dy - places[at - 1].dy);
    if (step < MOVED || standout < 1 || jump < 0.7 * step) continue;
    const confidence = Math.min(0.9, 0.45 + 0.15 * standout);
    if (!best || confidence > best.confidence) best = { at, confidence, why: `the camera was moved by ${(100 * step).toFixed(0)} % of the picture` };
  }
  return best;
}

/** Exposures of the frames from `from` on that were bracketed by the camera, rounded to a third of a stop. */
function bracketFrom(places: readonly FramePlace[], from: number): string[] {
  const pattern: string[] = [];
  for (let k = from; k < places.length && places[k].facts.bracketed; k++) pattern.push((Math.round(3 * (exposureStops(places[k].facts) ?? NaN)) / 3).toFixed(2));
  return pattern;
}

/** The first bracket's exposures come once more after a pause: perhaps the view was shot twice. */
function bracketAnew(places: readonly FramePlace[]): Move | null {
  const run = bracketFrom(places, 0);
  const size = new Set(run).size;
  if (size < 3) return null;
  for (let at = size; at <= places.length - size; at++) {
    const [a, b] = [places[at - 1].facts.takenAt, places[at].facts.takenAt];
    if (a === null || b === null || b - a < ANEW * 1000) continue;
    if (bracketFrom(places, at).slice(0, size).join() === run.slice(0, size).join()) return { at, confidence: 0.5, why: 'the same bracket begins anew: perhaps the view was shot twice' };
  }
  return null;
}

/** The clearest boundary inside a run of frames that all show one view, or null. */
export const findMove = (places: readonly FramePlace[]): Move | null => movedCamera(places) ?? bracketAnew(places);
