import { Router } from 'express';
import Joi from 'joi';
import { announce } from '../data/events';
import { ShootEntity, type StandingOrder } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { QUALITY } from '../picture/orders';
import { destinationFields, destinationOf, orderedPictures, orderNames } from './orderedPictures';
import { isUuid, notFound, valid } from './problem';

const asked = Joi.object({ orders: orderNames.required(), quality: Joi.number().integer().min(50).max(100).default(QUALITY), ...destinationFields });

/** Ordering a shoot before it is ready: it is delivered once it is, with nobody at the desk. */
export function standingRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const put = async (id: string, standing: StandingOrder | null): Promise<void> => {
    if (!isUuid(id) || !((await database.getRepository(ShootEntity).update({ id }, { standing: standing as never })).affected ?? 0)) throw notFound('shoot');
    await announce(database, { kind: 'shoot', shoot: id });
  };

  router.put('/shoots/:id/standing', async (request, response) => {
    const { orders, quality, ...place } = valid<Pick<StandingOrder, 'orders' | 'quality' | 'folder' | 'receiver'>>(asked, request.body);
    const destination = destinationOf(place);
    // Orders that are not there are told of now, not in the middle of the night.
    await orderedPictures(database.manager, [], orders, quality);
    const standing = { orders, quality, ...destination, batches: [], made: {}, fault: null };
    await put(request.params.id, standing);
    response.json(standing);
  });

  router.delete('/shoots/:id/standing', async (request, response) => {
    await put(request.params.id, null);
    response.status(204).end();
  });

  return router;
}
