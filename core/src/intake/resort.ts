import type { SortedShot } from './groupShots';
import { keepShots } from './keepShots';
import { addLater, type Grouping } from './regroup';

/**
 * The grouping after sorting anew, when frames came later. Shots that are held lose no frame and gain what sorting puts
 * beside theirs; the others are as sorting has them, under the ids that they had.
 * @param sorted what sorting makes of all frames. @param held whether a shot must not lose frames, by id. @param order all frames in the order of taking.
 */
export function resort(grouping: Grouping, sorted: readonly SortedShot[], held: (id: string) => boolean, order: readonly string[], newId: () => string): Grouping {
  const rank = new Map(order.map((frame, k) => [frame, k]));
  const kept = grouping.shots.filter(({ id }) => held(id));
  const all = addLater({ shots: kept, dropped: grouping.dropped }, sorted, newId).shots;
  const free = all.filter(({ id }) => !kept.some((shot) => shot.id === id));
  const known = keepShots(grouping.shots.filter(({ id }) => !held(id)), free.map(({ frames }) => ({ frames })), newId);
  const shots = [...all.filter((shot) => !free.includes(shot)), ...known].map(({ id, frames }) => ({ id, frames: [...frames].sort((a, b) => rank.get(a)! - rank.get(b)!) }));
  return { shots: shots.sort((a, b) => rank.get(a.frames[0])! - rank.get(b.frames[0])!), dropped: grouping.dropped };
}
