import type { FrameId } from '@zaddle/document';
import { exposureStops, type FrameFacts } from '../intake/frameFacts';
import { lampsAgainst, type Lamps } from '../light/lampsAgainst';
import type { Guide } from '../mix/guides';

/** Stops between two frames up to which they are compared: further apart the camera's response, which is not known yet, passes for light. */
const NEAR = 1.4;
/** Stops between exposures of a bracket, at least. */
const STEP = 0.2;

/** A frame that may be by the room's own light. */
export interface SteadyFrame {
  readonly facts: FrameFacts;
  readonly guide: Guide;
}

interface Exposed extends SteadyFrame {
  readonly stops: number;
}

/** Frames that a camera took as one bracket, one after the other at exposures of their own, by one light; others by themselves. */
function brackets(frames: readonly Exposed[]): Exposed[][] {
  const out: Exposed[][] = [];
  let last: Exposed | null = null;
  for (const frame of [...frames].sort((a, b) => (a.facts.takenAt ?? 0) - (b.facts.takenAt ?? 0))) {
    const goesOn: boolean = frame.facts.bracketed && last?.facts.bracketed === true && out[out.length - 1].every(({ stops }) => Math.abs(stops - frame.stops) > STEP);
    if (goesOn) out[out.length - 1].push(frame);
    else out.push([frame]);
    last = frame;
  }
  return out;
}

/** What burns against the reference where something burns so against a frame that does so against it; lamps that were switched both ways count as the first. */
function throughAnother(another: Lamps, against: Lamps): Lamps {
  if (another === 'same') return against;
  return against === 'same' || against === another ? another : 'same';
}

/**
 * Which lamps burn in each frame by the room's own light, against the reference. Frames are compared where their exposures are
 * alike, from one to the next, brackets as one; what nothing can be compared with counts as the reference does.
 * @param frames the reference and others, as they were taken. @returns frames whose lamps are not those of the reference
 */
export function lampGroups(frames: readonly SteadyFrame[], reference: FrameId): Map<FrameId, Exclude<Lamps, 'same'>> {
  const exposed = frames.flatMap((frame): Exposed[] => { const stops = exposureStops(frame.facts); return stops === null ? [] : [{ ...frame, stops }]; });
  const waiting = brackets(exposed);
  const known: { readonly frame: Exposed; readonly lamps: Lamps }[] = [];
  const settle = (bracket: Exposed[], lamps: Lamps): void => {
    waiting.splice(waiting.indexOf(bracket), 1);
    known.push(...bracket.map((frame) => ({ frame, lamps })));
  };
  const home = waiting.find((bracket) => bracket.some(({ facts }) => facts.id === reference));
  if (!home) return new Map();
  settle(home, 'same');
  while (waiting.length > 0) {
    const pairs = waiting.flatMap((bracket) => bracket.flatMap((frame) => known.map((other) => ({ bracket, frame, other, apart: frame.stops - other.frame.stops }))));
    const next = pairs.reduce((best, pair) => (Math.abs(pair.apart) < Math.abs(best.apart) ? pair : best));
    // What is left has nothing to be held against, and nothing is held against it: flashes among themselves tell nothing of lamps.
    if (Math.abs(next.apart) > NEAR) break;
    settle(next.bracket, throughAnother(next.other.lamps, lampsAgainst(next.other.frame.guide, next.frame.guide, next.apart)));
  }
  return new Map(known.flatMap(({ frame, lamps }) => (lamps === 'same' ? [] : [[frame.facts.id, lamps] as const])));
}
