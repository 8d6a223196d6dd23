import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { hasMethod, methodStep } from '@zaddle/core/method/methodStep';
import type { Lacking, MethodChoice } from '@zaddle/core/method/placeMethod';
import { toldStance } from '@zaddle/core/read/leaningReading';
import { InvalidMix, readTrusted } from '@zaddle/document';
import { MethodRunEntity, MixEntity, ShootEntity, ShotEntity, type MethodRun, type Shot } from '../data/entities';
import { ANYBODY, applyStep, moveInHistory, NoSuchMix, StaleChange } from '../data/mixHistory';

/** What came of giving a method to shots. */
export interface Given {
  readonly run: string;
  readonly changed: number;
  /** Shots that are not lined up yet: they get it when they are. */
  readonly waiting: number;
  /** Parts that shots have no use for, and shots that could not be given it. */
  readonly lacking: readonly (Lacking & { readonly shot: string; readonly label: string })[];
  readonly failed: readonly { readonly shot: string; readonly label: string; readonly why: string }[];
}

/** Gives a method to shots of a shoot, each as a step of its own history, and remembers them as one thing that can be taken back. @param later shots that come later begin with it, too */
export async function giveMethod(database: DataSource, shootId: string, choice: MethodChoice, shots: readonly Shot[], later: boolean): Promise<Given> {
  const [lacking, failed, done]: [Given['lacking'][number][], Given['failed'][number][], { shot: string; revision: number }[]] = [[], [], []];
  const { method: former } = await database.getRepository(ShootEntity).findOneByOrFail({ id: shootId });
  if (later) await database.getRepository(ShootEntity).update({ id: shootId }, { method: choice as never });
  let waiting = 0;
  for (const shot of shots) {
    const { id, label } = shot;
    let without: readonly Lacking[] = [];
    try {
      const { revision } = await applyStep(database, id, (mix) => {
        const step = methodStep(mix, choice, toldStance(shot.readings));
        without = step.lacking;
        return step.command;
      });
      done.push({ shot: id, revision });
      lacking.push(...without.map((each) => ({ ...each, shot: id, label })));
    } catch (error) {
      if (error instanceof NoSuchMix) waiting++;
      else if (error instanceof InvalidMix) failed.push({ shot: id, label, why: error.message });
      else throw error;
    }
  }
  const run = randomUUID();
  await database.getRepository(MethodRunEntity).insert({ id: run, shootId, choice, former: later ? { choice: former } : null, shots: done } as never);
  return { run, changed: done.length, waiting, lacking, failed };
}

/**
 * Takes back what was given to shots together: where nothing was changed since, to the step before; where somebody went on, the
 * method is taken off and what they did stays; where they took another, or none, nothing is done.
 */
export async function takeBack(database: DataSource, run: MethodRun): Promise<{ readonly back: number; readonly tuned: number; readonly left: number }> {
  const told = new Map(run.shots.map(({ shot, revision }) => [shot, revision]));
  const result = { back: 0, tuned: 0, left: 0 };
  for (const shot of await database.getRepository(ShotEntity).findBy({ shootId: run.shootId })) {
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: shot.id });
    if (!mix) continue;
    // Shots that began with it have no step of it.
    const revision = told.get(shot.id) ?? (run.former && mix.position === 0 ? null : undefined);
    if (revision === undefined) continue;
    const isSame = hasMethod(readTrusted(mix.document), run.choice.method);
    if (revision !== null && mix.revision === revision) {
      const undone = await moveInHistory(database, shot.id, 'undo', { ...ANYBODY, base: revision }).then(() => true, (error: unknown) => { if (error instanceof StaleChange) return false; throw error; });
      if (undone) result.back++;
      else result.left++;
    } else if (isSame) {
      await applyStep(database, shot.id, (now) => methodStep(now, null, toldStance(shot.readings)).command);
      result.tuned++;
    } else if (revision !== null) result.left++;
  }
  if (run.former) await database.getRepository(ShootEntity).update({ id: run.shootId }, { method: run.former.choice as never });
  await database.getRepository(MethodRunEntity).update({ id: run.id }, { takenBack: true });
  return result;
}
