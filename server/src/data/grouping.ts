import type { EntityManager } from 'typeorm';
import { In } from 'typeorm';
import { inOrder } from '@zaddle/core/intake/groupShots';
import type { Grouping } from '@zaddle/core/intake/regroup';
import { FrameEntity, MixEntity, MixStepEntity, ShotEntity, type Frame, type Shot } from './entities';

/** A shoot's grouping as the database has it, and all gathered frames in the order of taking. */
export async function readGrouping(manager: EntityManager, shootId: string): Promise<{ grouping: Grouping; order: string[]; frames: Frame[]; shots: Shot[] }> {
  const frames: Frame[] = await manager.getRepository(FrameEntity).findBy({ shootId, state: 'gathered' });
  frames.sort((a, b) => inOrder(a.facts!, b.facts!));
  const shots: Shot[] = await manager.getRepository(ShotEntity).find({ where: { shootId }, order: { position: 'ASC' } });
  const grouping = {
    shots: shots.map((shot) => ({ id: shot.id, frames: frames.filter((f) => f.shotId === shot.id).map((f) => f.id) })).filter((s) => s.frames.length > 0),
    dropped: frames.filter((f) => f.dropped).map((f) => f.id),
  };
  return { grouping, order: frames.map((f) => f.id), frames, shots };
}

/** The smallest 'Shot N' that is not taken. */
function freeLabel(taken: Set<string>): string {
  let n = 1;
  while (taken.has(`Shot ${n}`)) n++;
  taken.add(`Shot ${n}`);
  return `Shot ${n}`;
}

/** What is known of how a shot came about. */
export interface Origin {
  readonly confidence: number;
  readonly why: string;
}
const BY_HAND: Origin = { confidence: 1, why: 'put together by hand' };

/**
 * Brings the database to a grouping. Shots whose frames stay the same are left alone; of the others, an automatic start is
 * made anew, while a mix that a person has worked on is kept and says that its frames have changed.
 * @returns shots that want a proposal.
 */
export async function writeGrouping(manager: EntityManager, shootId: string, target: Grouping, origin: (shot: string) => Origin = () => BY_HAND): Promise<string[]> {
  const { grouping, frames, shots } = await readGrouping(manager, shootId);
  const repository = manager.getRepository(ShotEntity);
  const before = new Map(grouping.shots.map((s) => [s.id, [...s.frames].sort().join()]));
  const there = new Set(shots.map((s) => s.id));
  const taken = new Set(shots.map((s) => s.label));
  const propose: string[] = [];
  for (const [position, shot] of target.shots.entries()) {
    const same = before.get(shot.id) === [...shot.frames].sort().join();
    const { confidence, why } = origin(shot.id);
    if (!there.has(shot.id)) await repository.insert({ id: shot.id, shootId, position, label: freeLabel(taken), confidence, why, state: 'sorted', readings: [] });
    else await repository.update({ id: shot.id }, { position });
    if (same) continue;
    await manager.getRepository(FrameEntity).update({ id: In([...shot.frames]) }, { shotId: shot.id, dropped: false });
    if (there.has(shot.id) && (await keepWorkedMix(manager, shot.id))) continue;
    if (there.has(shot.id)) await repository.update({ id: shot.id }, { confidence, why, state: 'sorted', readings: [] as never });
    propose.push(shot.id);
  }
  const out = frames.filter((f) => target.dropped.includes(f.id) && !f.dropped).map((f) => f.id);
  if (out.length > 0) await manager.getRepository(FrameEntity).update({ id: In(out) }, { shotId: null, dropped: true, used: false });
  const gone = shots.filter((s) => !target.shots.some((t) => t.id === s.id)).map((s) => s.id);
  if (gone.length > 0) await repository.delete({ id: In(gone) });
  return propose;
}

/** Keeps a mix that has steps of a person's own, with a note that its frames changed; an automatic start is thrown away. */
export async function keepWorkedMix(manager: EntityManager, shotId: string): Promise<boolean> {
  if (!(await manager.getRepository(MixStepEntity).existsBy({ shotId }))) {
    await manager.getRepository(MixEntity).delete({ shotId });
    return false;
  }
  const shot = await manager.getRepository(ShotEntity).findOneByOrFail({ id: shotId });
  const readings = [...shot.readings.filter((r) => r.kind !== 'changed'), { kind: 'changed', value: 1, unit: '', state: 'check', text: 'Frames came or went since you worked on this mix. It stands as it was; “Propose anew” starts again.' }];
  await manager.getRepository(ShotEntity).update({ id: shotId }, { readings: readings as never });
  return true;
}
