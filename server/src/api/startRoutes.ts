import { Router } from 'express';
import Joi from 'joi';
import { choosesStart, startCommand, startOf, STARTS, type Start } from '@zaddle/core/propose/starts';
import { readStep, readTrusted } from '@zaddle/document';
import { MixEntity, MixStepEntity, ShootEntity, ShotEntity, type StoredMix } from '../data/entities';
import { applyStep } from '../data/mixHistory';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, valid } from './problem';

const chosen = Joi.object({ start: Joi.valid(...STARTS).required(), others: Joi.boolean().required() });

/** How the shots of a shoot begin: what was chosen for one is remembered for those to come, and can be given to those that nobody has changed. */
export function startRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const shoots = database.getRepository(ShootEntity);

  /** Mixes of a shoot in which nobody did more than choose a start. */
  const untouched = async (shootId: string): Promise<StoredMix[]> => {
    const out: StoredMix[] = [];
    for (const { id } of await database.getRepository(ShotEntity).findBy({ shootId, retired: false, state: 'mixed' })) {
      const mix = await database.getRepository(MixEntity).findOneBy({ shotId: id });
      if (!mix || startOf(readTrusted(mix.document).passes) === null) continue;
      const steps = await database.getRepository(MixStepEntity).findBy({ shotId: id });
      if (steps.every(({ step, command }) => step > mix.position || choosesStart(readStep(command)))) out.push(mix);
    }
    return out;
  };

  router.get('/shoots/:id/start', async (request, response) => {
    const shoot = isUuid(request.params.id) ? await shoots.findOneBy({ id: request.params.id }) : null;
    if (!shoot) throw notFound('shoot');
    response.json({ start: shoot.start, untouched: (await untouched(shoot.id)).map(({ shotId, document }) => ({ shot: shotId, start: startOf(readTrusted(document).passes) })) });
  });

  router.put('/shoots/:id/start', async (request, response) => {
    const { start, others } = valid<{ start: Start; others: boolean }>(chosen, request.body);
    if (!isUuid(request.params.id) || !((await shoots.update({ id: request.params.id }, { start })).affected ?? 0)) throw notFound('shoot');
    let changed = 0;
    for (const { shotId, document } of others ? await untouched(request.params.id) : []) {
      if (startOf(readTrusted(document).passes) === start) continue;
      // Made on what stands then: somebody may have begun to work meanwhile.
      await applyStep(database, shotId, ({ passes }) => startCommand(passes, start)!);
      changed++;
    }
    response.json({ changed });
  });

  return router;
}
