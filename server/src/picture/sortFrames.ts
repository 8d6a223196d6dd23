import { findTwins } from '@zaddle/core/intake/findTwins';
import { groupShots, type SortedShot } from '@zaddle/core/intake/groupShots';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Plane } from '@zaddle/core/image/plane';
import { newTools } from './kernels';

/** Room for the two small pictures that are compared at a time. */
const SORTING_BYTES = 2_000_000;

/** Shots with their twins put back beside the frames that they repeat. */
export function sortFrames(frames: readonly { facts: FrameFacts; structure: Plane }[]): { facts: FrameFacts[]; shots: SortedShot[] } {
  const facts = findTwins(frames.map((f) => f.facts));
  const structures = new Map(frames.map((f) => [f.facts.id, f.structure]));
  const own = facts.filter((f) => f.twinOf === null);
  const shots = groupShots(newTools(SORTING_BYTES), own.map((f) => ({ facts: f, structure: structures.get(f.id)! })));
  return {
    facts,
    shots: shots.map((shot) => ({ ...shot, frames: [...shot.frames, ...facts.filter((f) => f.twinOf !== null && shot.frames.includes(f.twinOf)).map((f) => f.id)] })),
  };
}
