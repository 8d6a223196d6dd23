import { randomUUID } from 'node:crypto';
import type { Plane } from '@zaddle/core/image/plane';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { SortedShot } from '@zaddle/core/intake/groupShots';
import { addLater, type Grouping } from '@zaddle/core/intake/regroup';
import { announce } from '../data/events';
import { FrameEntity, ShootEntity, type Frame } from '../data/entities';
import { readGrouping, writeGrouping } from '../data/grouping';
import { unpackPlane } from '../data/proxyFile';
import { sortFrames } from '../picture/sortFrames';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Seconds without a new frame after which a live shot is mixed. */
const REST = 20;

/** Sorts a shoot's gathered frames into shots and asks for a proposal for each; shots whose frames stayed the same are left alone, and so is what a person has regrouped. */
export async function sortTask({ database, boss, store }: Workshop, shoot: string): Promise<void> {
  const gathered: Frame[] = await database.getRepository(FrameEntity).findBy({ shootId: shoot, state: 'gathered' });
  if (gathered.length === 0) return;
  const inputs: { facts: FrameFacts; structure: Plane }[] = [];
  for (const frame of gathered) inputs.push({ facts: frame.facts!, structure: unpackPlane(await store.readDerived('structure', frame.id)) });
  const twins = new Map(inputs.map(({ facts }) => [facts.id, facts.twinOf]));
  const sorted = sortFrames(inputs);
  const propose = await database.transaction(async (manager) => {
    const frames = manager.getRepository(FrameEntity);
    // Held against a person who regroups at the same moment, and taken before all else: so no two wait for each other.
    const { groupingPosition } = await manager.getRepository(ShootEntity).findOneOrFail({ where: { id: shoot }, lock: { mode: 'pessimistic_write' } });
    for (const facts of sorted.facts) if (facts.twinOf !== twins.get(facts.id)) await frames.update({ id: facts.id }, { facts: facts as never });
    const { grouping } = await readGrouping(manager, shoot);
    const target = groupingPosition > 0 ? addLater(grouping, sorted.shots, randomUUID) : keepKnown(grouping, sorted.shots);
    const origins = new Map(target.shots.map(({ id, frames: members }) => [id, sorted.shots.find((s) => s.frames.some((f) => members.includes(f)))!]));
    return writeGrouping(manager, shoot, target, (id) => origins.get(id)!);
  });
  const { live } = await database.getRepository(ShootEntity).findOneByOrFail({ id: shoot });
  // While a view is being shot, its next frame is expected any moment: mixing waits until the camera rests.
  for (const shot of propose) await send(boss, 'propose', { shot }, live ? REST : 0);
  await announce(database, { kind: 'shoot', shoot });
}

/** What sorting made, under the ids of shots that hold the same frames already. */
function keepKnown(grouping: Grouping, sorted: readonly SortedShot[]): Grouping {
  const known = new Map(grouping.shots.map(({ id, frames }) => [[...frames].sort().join(), id]));
  return { shots: sorted.map(({ frames }) => ({ id: known.get([...frames].sort().join()) ?? randomUUID(), frames })), dropped: grouping.dropped };
}
