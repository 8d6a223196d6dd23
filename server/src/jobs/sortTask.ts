import { randomUUID } from 'node:crypto';
import type { Plane } from '@zaddle/core/image/plane';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { resort } from '@zaddle/core/intake/resort';
import { announceIn } from '../data/events';
import { FrameEntity, ShootEntity, type Frame } from '../data/entities';
import { readGrouping, workedShots, writeGrouping } from '../data/grouping';
import { unpackPlane } from '../data/proxyFile';
import { sortFrames } from '../picture/sortFrames';
import { ALONE, type Claim } from './claims';
import { readGathered } from './derivedFiles';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Seconds without a new frame after which a live shot is mixed. */
const REST = 20;

/** Sorts a shoot's gathered frames into shots and asks for a proposal for each; shots whose frames stayed the same are left alone, and no frame is taken out of a shot that a person has worked on or put together. */
export async function sortTask(workshop: Workshop, shoot: string, claim: Claim = ALONE): Promise<void> {
  const { database, boss } = workshop;
  const gathered: Frame[] = await database.getRepository(FrameEntity).findBy({ shootId: shoot, state: 'gathered' });
  if (gathered.length === 0) return;
  const inputs: { facts: FrameFacts; structure: Plane }[] = [];
  for (const frame of gathered) inputs.push({ facts: frame.facts!, structure: await readGathered(workshop, 'structure', frame.id, unpackPlane) });
  const twins = new Map(inputs.map(({ facts }) => [facts.id, facts.twinOf]));
  const sorted = sortFrames(inputs);
  await database.transaction(async (manager) => {
    const frames = manager.getRepository(FrameEntity);
    // Held against a person who regroups at the same moment, and taken before all else: so no two wait for each other.
    const found = await manager.getRepository(ShootEntity).findOne({ where: { id: shoot }, lock: { mode: 'pessimistic_write' } });
    // Deleted meanwhile, or sorted by somebody else.
    if (!found || !(await claim.isMine(manager))) return;
    const { groupingPosition, live } = found;
    for (const facts of sorted.facts) if (facts.twinOf !== twins.get(facts.id)) await frames.update({ id: facts.id }, { facts: facts as never });
    const { grouping, order } = await readGrouping(manager, shoot);
    const worked = groupingPosition > 0 ? null : await workedShots(manager, shoot);
    const target = resort(grouping, sorted.shots, (id) => worked === null || worked.has(id), order, randomUUID);
    const origins = new Map(target.shots.map(({ id, frames: members }) => [id, sorted.shots.find((s) => s.frames.some((f) => members.includes(f)))!]));
    const propose = await writeGrouping(manager, shoot, target, (id) => origins.get(id)!);
    // While a view is being shot, its next frame is expected any moment: mixing waits until the camera rests.
    for (const shot of propose) await send(boss, 'propose', { shot }, { after: live ? REST : 0, within: manager });
    await announceIn(manager, { kind: 'shoot', shoot });
  });
}
