import { Router } from 'express';
import Joi from 'joi';
import { announce } from '../data/events';
import { ShootEntity } from '../data/entities';
import { readForecast } from '../forecast/readForecast';
import type { ServerWorkshop } from '../jobs/workshop';
import { inReach, isUuid, notFound, valid } from './problem';

/** A day for one picture is more than anybody has. */
const MOST_SECONDS = 24 * 3600;
const plan = Joi.object({ dueAt: Joi.string().isoDate().custom(inReach).allow(null), handSeconds: Joi.number().min(0).max(MOST_SECONDS).allow(null) }).or('dueAt', 'handSeconds');

/** Whether shoots will be done in time, and what a person says about that. */
export function forecastRoutes({ database }: ServerWorkshop): Router {
  const router = Router();

  router.get('/forecast', async (_request, response) => {
    response.json(await readForecast(database));
  });

  router.patch('/shoots/:id', async (request, response) => {
    const shoots = database.getRepository(ShootEntity);
    const { id } = request.params;
    if (!isUuid(id) || !(await shoots.existsBy({ id }))) throw notFound('shoot');
    const { dueAt, handSeconds } = valid<{ dueAt?: string | null; handSeconds?: number | null }>(plan, request.body);
    await shoots.update({ id }, { ...(dueAt === undefined ? {} : { dueAt: dueAt === null ? null : new Date(dueAt) }), ...(handSeconds === undefined ? {} : { handSeconds }) });
    await announce(database, { kind: 'shoot', shoot: id });
    response.json(await shoots.findOneByOrFail({ id }));
  });

  return router;
}
