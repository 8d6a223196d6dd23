import { Router } from 'express';
import Joi from 'joi';
import type { EntityManager } from 'typeorm';
import { applyCommand, commandSchema, openMix, type Command, type MixDocument } from '@zaddle/document';
import { FrameEntity, MixEntity, MixStepEntity, ShotEntity, type StoredMix } from '../data/entities';
import type { Workshop } from '../jobs/workshop';
import { notFound, Problem, valid } from './problem';

/** What the desk gets to know of a mix and its history. */
interface MixView {
  readonly document: MixDocument;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

async function view(manager: EntityManager, mix: StoredMix): Promise<MixView> {
  const last = await manager.getRepository(MixStepEntity).countBy({ shotId: mix.shotId });
  return { document: mix.document, canUndo: mix.position > 0, canRedo: mix.position < last };
}

/** The mix of a shot: read, change by commands, undo, redo. History lies in the database and survives everything. */
export function mixRoutes({ database }: Workshop): Router {
  const router = Router();

  /** Runs a change with the mix locked, so that two windows cannot tear its history. */
  const change = (shotId: string, act: (manager: EntityManager, mix: StoredMix) => Promise<StoredMix>): Promise<MixView> =>
    database.transaction(async (manager) => {
      if (Joi.string().uuid().validate(shotId).error) throw notFound('shot');
      const mix = await manager.getRepository(MixEntity).findOne({ where: { shotId }, lock: { mode: 'pessimistic_write' } });
      if (!mix) throw notFound('mix');
      const next = await act(manager, mix);
      await manager.getRepository(MixEntity).update({ shotId }, { document: next.document as never, position: next.position });
      return view(manager, next);
    });

  const step = async (manager: EntityManager, shotId: string, number: number): Promise<{ command: Command; inverse: Command }> => {
    const found = await manager.getRepository(MixStepEntity).findOneBy({ shotId, step: number });
    if (!found) throw new Problem(409, 'Nothing there', 'There is no further step in this direction.');
    return found;
  };

  router.get('/shots/:id', async (request, response) => {
    const shot = Joi.string().uuid().validate(request.params.id).error ? null : await database.getRepository(ShotEntity).findOneBy({ id: request.params.id });
    if (!shot) throw notFound('shot');
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: shot.id });
    const frames = await database.getRepository(FrameEntity).find({ where: { shotId: shot.id }, order: { name: 'ASC' } });
    response.json({ shot, frames, mix: mix ? await view(database.manager, mix) : null });
  });

  router.post('/shots/:id/mix/commands', async (request, response) => {
    const command = valid<Command>(commandSchema, request.body);
    response.json(
      await change(request.params.id, async (manager, mix) => {
        const { document, inverse } = applyCommand(openMix(mix.document), command);
        const steps = manager.getRepository(MixStepEntity);
        // A new step after an undo takes the place of what was undone.
        await steps.createQueryBuilder().delete().where('shot_id = :shot AND step > :position', { shot: mix.shotId, position: mix.position }).execute();
        await steps.insert({ shotId: mix.shotId, step: mix.position + 1, command, inverse } as never);
        return { shotId: mix.shotId, document, position: mix.position + 1 };
      }),
    );
  });

  router.post('/shots/:id/mix/undo', async (request, response) => {
    response.json(
      await change(request.params.id, async (manager, mix) => {
        const { inverse } = await step(manager, mix.shotId, mix.position);
        return { shotId: mix.shotId, document: applyCommand(mix.document, inverse).document, position: mix.position - 1 };
      }),
    );
  });

  router.post('/shots/:id/mix/redo', async (request, response) => {
    response.json(
      await change(request.params.id, async (manager, mix) => {
        const { command } = await step(manager, mix.shotId, mix.position + 1);
        return { shotId: mix.shotId, document: applyCommand(mix.document, command).document, position: mix.position + 1 };
      }),
    );
  });

  return router;
}
