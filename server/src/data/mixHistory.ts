import Joi from 'joi';
import type { DataSource, EntityManager } from 'typeorm';
import { applyCommand, openMix, type Command, type MixDocument } from '@zaddle/document';
import { MixEntity, MixStepEntity, type StoredMix } from './entities';

/** What the desk gets to know of a mix and its history. */
export interface MixView {
  readonly document: MixDocument;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

/** Why a mix could not be changed. */
export class NoSuchMix extends Error {}
export class NoSuchStep extends Error {}

export async function viewMix(manager: EntityManager, mix: StoredMix): Promise<MixView> {
  const last = await manager.getRepository(MixStepEntity).countBy({ shotId: mix.shotId });
  return { document: openMix(mix.document), canUndo: mix.position > 0, canRedo: mix.position < last };
}

/** Runs a change with the mix locked, so that two windows cannot tear its history. @throws NoSuchMix */
function change(database: DataSource, shotId: string, act: (manager: EntityManager, mix: StoredMix) => Promise<StoredMix>): Promise<MixView> {
  return database.transaction(async (manager) => {
    if (Joi.string().uuid().validate(shotId).error) throw new NoSuchMix();
    const mix = await manager.getRepository(MixEntity).findOne({ where: { shotId }, lock: { mode: 'pessimistic_write' } });
    if (!mix) throw new NoSuchMix();
    const next = await act(manager, { ...mix, document: openMix(mix.document) });
    await manager.getRepository(MixEntity).update({ shotId }, { document: next.document as never, position: next.position });
    return viewMix(manager, next);
  });
}

/** Applies a command and keeps it in the history; a new step after an undo takes the place of what was undone. @throws NoSuchMix, InvalidMix */
export function applyStep(database: DataSource, shotId: string, commandFor: (document: MixDocument) => Command): Promise<MixView> {
  return change(database, shotId, async (manager, mix) => {
    const command = commandFor(mix.document);
    const { document, inverse } = applyCommand(mix.document, command);
    const steps = manager.getRepository(MixStepEntity);
    await steps.createQueryBuilder().delete().where('shot_id = :shot AND step > :position', { shot: mix.shotId, position: mix.position }).execute();
    await steps.insert({ shotId: mix.shotId, step: mix.position + 1, command, inverse } as never);
    return { shotId: mix.shotId, document, position: mix.position + 1 };
  });
}

/** Goes one step back or forth in the history. @throws NoSuchMix, NoSuchStep */
export function moveInHistory(database: DataSource, shotId: string, direction: 'undo' | 'redo'): Promise<MixView> {
  return change(database, shotId, async (manager, mix) => {
    const step = direction === 'undo' ? mix.position : mix.position + 1;
    const found = await manager.getRepository(MixStepEntity).findOneBy({ shotId, step });
    if (!found) throw new NoSuchStep();
    const { document } = applyCommand(mix.document, direction === 'undo' ? found.inverse : found.command);
    return { shotId, document, position: direction === 'undo' ? step - 1 : step };
  });
}
