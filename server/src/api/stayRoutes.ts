import { Router } from 'express';
import Joi from 'joi';
import { ShotEntity } from '../data/entities';
import { announceIn } from '../data/events';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, valid } from './problem';

type Place = readonly [number, number];

/** Places nearer to each other than this, in longer sides of the reference, are one. */
const SAME = 0.005;
/** Places of a shot that may be let stay: more than are ever found. */
const MOST = 500;

const share = Joi.number().min(0).max(1).required();
const told = Joi.object({ at: Joi.array().ordered(share, share).required(), stays: Joi.boolean().required() });

/** Places that were found to show something, and that a person lets stay as they are. */
export function stayRoutes({ database }: ServerWorkshop): Router {
  const router = Router();

  router.put('/shots/:id/stays', async (request, response) => {
    const { at, stays } = valid<{ at: Place; stays: boolean }>(told, request.body);
    const { id } = request.params;
    const places = await database.transaction(async (manager) => {
      const shots = manager.getRepository(ShotEntity);
      const shot = isUuid(id) ? await shots.findOne({ where: { id, retired: false }, lock: { mode: 'pessimistic_write' } }) : null;
      if (!shot) throw notFound('shot');
      const others = shot.stays.filter(([x, y]) => Math.hypot(x - at[0], y - at[1]) >= SAME);
      if (stays && others.length >= MOST) throw new Problem(409, 'Too many places', `No more than ${MOST} places of a shot can be let stay. Take one back first.`);
      const next = stays ? [...others, at] : others;
      await shots.update({ id }, { stays: next as never });
      await announceIn(manager, { kind: 'shot', shoot: shot.shootId, shot: id });
      return next;
    });
    response.json({ stays: places });
  });

  return router;
}
