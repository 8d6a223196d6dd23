import { randomUUID } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import { bringTowards, targetsOf, type Wanted } from '@zaddle/core/set/bringTogether';
import type { SetMember } from '@zaddle/core/set/setReadings';
import { InvalidMix } from '@zaddle/document';
import { MixEntity, SetRunEntity, ShotEntity, ShotLookEntity, type SetRun } from '../data/entities';
import { ANYBODY, applyStep, moveInHistory, NoSuchMix, StaleChange } from '../data/mixHistory';
import { roomsOfShoot } from './shotViews';

/** Nothing is to be changed: the step is left out. */
class AsItIs extends Error {}

const CHANGED_SINCE = 'it was changed since it was measured; try again when its picture is drawn';

/** What came of bringing pictures together. */
export interface Together {
  /** null: nothing was changed. */
  readonly run: string | null;
  readonly changed: number;
  /** Pictures that are as the others already. */
  readonly alike: number;
  /** Pictures that could not be changed, each with the reason. */
  readonly left: readonly { readonly shot: string; readonly label: string; readonly why: string }[];
}

/** Shots of a shoot whose picture was measured as it stands. */
export async function measuredMembers(database: DataSource, shootId: string): Promise<(SetMember & { readonly label: string; readonly revision: number })[]> {
  const { rooms } = await roomsOfShoot(database, shootId);
  const shots = await database.getRepository(ShotEntity).find({ where: { shootId, retired: false }, order: { position: 'ASC' } });
  const looks = new Map((await database.getRepository(ShotLookEntity).findBy({ shotId: In(shots.map(({ id }) => id)) })).map((kept) => [kept.shotId, kept]));
  return shots.flatMap(({ id, label }) => {
    const kept = looks.get(id);
    return kept?.look && kept.revision !== null ? [{ id, label, room: rooms.get(id)?.name ?? null, look: kept.look, revision: kept.revision }] : [];
  });
}

/** Brings chosen pictures of a shoot towards what each one's room has in common, each as a step of its own history, and remembers them as one thing that can be taken back. */
export async function setTogether(database: DataSource, shootId: string, chosen: 'all' | readonly string[], wanted: Wanted): Promise<Together> {
  const members = await measuredMembers(database, shootId);
  const targets = targetsOf(members);
  const [done, left]: [{ shot: string; revision: number }[], Together['left'][number][]] = [[], []];
  let alike = 0;
  for (const member of members) {
    if (chosen !== 'all' && !chosen.includes(member.id)) continue;
    const stands = await database.getRepository(MixEntity).findOne({ where: { shotId: member.id }, select: { shotId: true, revision: true } as never });
    const why = stands && stands.revision !== member.revision ? CHANGED_SINCE : await applyStep(database, member.id, (mix) => {
      const command = bringTowards(mix, member, targets.get(member.id)!, wanted);
      if (!command) throw new AsItIs();
      return command;
    }, { ...ANYBODY, base: member.revision }).then(({ revision }) => {
      done.push({ shot: member.id, revision });
      return null;
    }, (error: unknown) => {
      if (error instanceof AsItIs) return 'alike';
      if (error instanceof StaleChange) return CHANGED_SINCE;
      if (error instanceof NoSuchMix) return 'it has no picture';
      if (error instanceof InvalidMix) return error.message;
      throw error;
    });
    if (why === 'alike') alike++;
    else if (why !== null) left.push({ shot: member.id, label: member.label, why });
  }
  // Where nothing was changed, there is nothing to take back.
  const run = done.length > 0 ? randomUUID() : null;
  if (run) await database.getRepository(SetRunEntity).insert({ id: run, shootId, shots: done } as never);
  return { run, changed: done.length, alike, left };
}

/** Takes back what was brought together in one go: shots that somebody went on with since are left as they are. */
export async function takeTogetherBack(database: DataSource, run: SetRun): Promise<{ readonly back: number; readonly left: number }> {
  const result = { back: 0, left: 0 };
  for (const { shot, revision } of run.shots) {
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: shot });
    if (mix?.revision !== revision) {
      result.left++;
      continue;
    }
    const undone = await moveInHistory(database, shot, 'undo', { ...ANYBODY, base: revision }).then(() => true, (error: unknown) => { if (error instanceof StaleChange) return false; throw error; });
    if (undone) result.back++;
    else result.left++;
  }
  await database.getRepository(SetRunEntity).update({ id: run.id }, { takenBack: true });
  return result;
}
