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

/** Whether a label was given by a person. */
const isNamed = (label: string): boolean => !/^Shot \d+$/.test(label);

/**
 * Brings the database to a grouping. Shots whose frames stay the same are left alone; of the others, an automatic start is
 * made anew, while a mix that a person has worked on is kept, and what came later will be offered to it. A shot that loses
 * all its frames is kept out of sight when anything was made of it, with its mix, its history and its deliveries: they are
 * there again when its frames come back.
 * @returns shots that want a proposal.
 */
export async function writeGrouping(manager: EntityManager, shootId: string, target: Grouping, origin: (shot: string) => Origin = () => BY_HAND): Promise<string[]> {
  const { grouping, frames, shots } = await readGrouping(manager, shootId);
  const repository = manager.getRepository(ShotEntity);
  const before = new Map(grouping.shots.map((s) => [s.id, [...s.frames].sort().join()]));
  const there = new Map(shots.map((s) => [s.id, s]));
  const taken = new Set(shots.filter((s) => !s.retired).map((s) => s.label));
  const propose: string[] = [];
  for (const [position, shot] of target.shots.entries()) {
    const same = before.get(shot.id) === [...shot.frames].sort().join();
    const known = there.get(shot.id);
    const { confidence, why } = origin(shot.id);
    if (!known) await repository.insert({ id: shot.id, shootId, position, label: freeLabel(taken), confidence, why, state: 'sorted', readings: [], retired: false, attempts: 0, lastRevision: 0 });
    else await repository.update({ id: shot.id }, { position, retired: false });
    if (same) continue;
    await manager.getRepository(FrameEntity).update({ id: In([...shot.frames]) }, { shotId: shot.id, dropped: false });
    propose.push(shot.id);
    if (known && !(await keepWorkedMix(manager, shot.id))) await repository.update({ id: shot.id }, { confidence, why, state: 'sorted', readings: [] as never, attempts: 0 });
  }
  const out = frames.filter((f) => target.dropped.includes(f.id) && !f.dropped).map((f) => f.id);
  if (out.length > 0) await manager.getRepository(FrameEntity).update({ id: In(out) }, { shotId: null, dropped: true, used: false });
  await retire(manager, shots.filter((s) => !s.retired && !target.shots.some((t) => t.id === s.id)));
  return propose;
}

/** Shots of a shoot that a person made something of: worked on, named or delivered. */
export async function workedShots(manager: EntityManager, shootId: string): Promise<Set<string>> {
  const rows: { id: string; label: string; made: boolean }[] = await manager.query(
    'SELECT id, label, EXISTS (SELECT FROM mix_steps m WHERE m.shot_id = s.id) OR EXISTS (SELECT FROM deliveries d WHERE d.shot_id = s.id) AS made FROM shots s WHERE shoot_id = $1',
    [shootId],
  );
  return new Set(rows.filter(({ label, made }) => made || isNamed(label)).map(({ id }) => id));
}

/** Takes away shots that have no frames any more; what a person made of them is kept out of sight. */
async function retire(manager: EntityManager, shots: readonly Shot[]): Promise<void> {
  if (shots.length === 0) return;
  const worked = await workedShots(manager, shots[0].shootId);
  for (const { id } of shots) {
    if (worked.has(id)) await manager.getRepository(ShotEntity).update({ id }, { retired: true });
    else await manager.getRepository(ShotEntity).delete({ id });
  }
}

/** Throws a mix away, with its history. */
export async function dropMix(manager: EntityManager, shotId: string): Promise<void> {
  await manager.query('UPDATE shots s SET last_revision = greatest(last_revision, m.revision) FROM mixes m WHERE m.shot_id = s.id AND s.id = $1', [shotId]);
  await manager.getRepository(MixEntity).delete({ shotId });
}

/** Keeps a mix that has steps of a person's own, with a note that its frames changed; an automatic start is thrown away. */
export async function keepWorkedMix(manager: EntityManager, shotId: string): Promise<boolean> {
  if (!(await manager.getRepository(MixStepEntity).existsBy({ shotId }))) {
    await dropMix(manager, shotId);
    return false;
  }
  await noteOfFrames(manager, shotId, 'Frames came or went since you worked on this mix. It stands as it was; “Propose anew” starts again.');
  return true;
}

/** Says on a shot that its frames changed since somebody worked on it, or no more. */
export async function noteOfFrames(manager: EntityManager, shotId: string, text: string | null): Promise<void> {
  const shot = await manager.getRepository(ShotEntity).findOneByOrFail({ id: shotId });
  const others = shot.readings.filter((r) => r.kind !== 'changed');
  const readings = text === null ? others : [...others, { kind: 'changed', value: 1, unit: '', state: 'check', text }];
  await manager.getRepository(ShotEntity).update({ id: shotId }, { readings: readings as never });
}
