import { stat } from 'node:fs/promises';
import { resolve } from 'node:path';
import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { announce } from '../data/events';
import { DeliveryEntity, MixEntity, ShotEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { addBatch, sendAgain, tryAgain } from '../outbox/batches';
import { fileKind, ORDERS, QUALITY } from '../picture/orders';
import { againFields, destinationFields, destinationOf, orderedAgain, orderedPictures, orderNames, type Again, type ShotDocument } from './orderedPictures';
import { isUuid, notFound, Problem, uuid, valid } from './problem';

/** Deliveries that are listed, the latest first. */
const MOST_LISTED = 1000;
const order = Joi.object({
  shots: Joi.array().items(uuid).min(1).max(500).required(),
  orders: orderNames.default(['full']),
  quality: Joi.number().integer().min(50).max(100).default(QUALITY),
  ...destinationFields,
});

/** Delivering finished pictures by way of the queue. */
export function deliveryRoutes(workshop: ServerWorkshop): Router {
  const { database, store } = workshop;
  const router = Router();
  const deliveries = database.getRepository(DeliveryEntity);
  const find = async (id: string) => {
    const delivery = isUuid(id) ? await deliveries.findOneBy({ id }) : null;
    if (!delivery) throw notFound('delivery');
    return delivery;
  };

  router.get('/deliveries', async (_request, response) => {
    response.json(await deliveries.find({ order: { createdAt: 'DESC', name: 'ASC' }, take: MOST_LISTED }));
  });

  router.post('/deliveries', async (request, response) => {
    const body = valid<{ shots: string[]; orders: string[]; quality: number; folder: string | null; receiver: string | null }>(order, request.body);
    const destination = destinationOf(body);
    const shots = await database.getRepository(ShotEntity).findBy({ id: In(body.shots), retired: false });
    if (shots.length !== new Set(body.shots).size) throw notFound('shot');
    const unready = shots.filter((shot) => shot.state !== 'mixed');
    if (unready.length > 0) throw new Problem(409, 'Not ready', `${unready.map((s) => s.label).join(', ')}: not lined up yet. Wait until the shot shows its picture.`);
    const made = await database.transaction(async (manager) => {
      const documents: ShotDocument[] = [];
      for (const { id, shootId, label } of shots.sort((a, b) => a.position - b.position)) {
        // What is ordered is what is made, whatever is changed until its turn comes.
        const mix = await manager.getRepository(MixEntity).findOneBy({ shotId: id });
        if (!mix) throw new Problem(409, 'Not ready', `${label} is being lined up again. Wait until it shows its picture.`);
        documents.push({ shotId: id, document: mix.document, shoot: shootId });
      }
      return addBatch(workshop, manager, await orderedPictures(manager, documents, body.orders, body.quality), destination);
    });
    response.status(202).json(made);
  });

  router.post('/deliveries/:id/retry', async (request, response) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'failed' && delivery.state !== 'stopped') throw new Problem(409, 'Not failed', 'Only a delivery that failed or was stopped can be tried again.');
    await tryAgain(workshop, delivery.batchId, [delivery.id]);
    response.status(202).json({ id: delivery.id });
  });

  router.post('/deliveries/:id/send', async (request, response) => {
    const { id, state, sending } = await find(request.params.id);
    if (state !== 'done' || sending === null || sending === 'sent') throw new Problem(409, 'Nothing to send', 'This picture is not made yet, was sent already, or is to be sent to nobody.');
    await sendAgain(workshop, id);
    response.status(202).json({ id });
  });

  // From the same document, to the byte where the order is the same, whatever became of the mix since.
  router.post('/deliveries/:id/again', async (request, response) => {
    const delivery = await find(request.params.id);
    const { orders, ...destination } = valid<Again>(againFields, request.body ?? {});
    const { ids } = await database.transaction(async (manager) => addBatch(workshop, manager, await orderedAgain(manager, [delivery], orders, QUALITY), destinationOf(destination)));
    response.status(202).json({ id: ids[0], ids });
  });

  router.delete('/deliveries/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    await deliveries.delete({ id });
    await store.removeDerived('delivery', id);
    await database.query('DELETE FROM batches b WHERE NOT EXISTS (SELECT FROM deliveries d WHERE d.batch_id = b.id)');
    await announce(database, { kind: 'delivery', delivery: id });
    response.status(204).end();
  });

  router.get('/deliveries/:id/file', async (request, response, next) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'done') throw new Problem(409, 'Not done', 'This picture is still being made.');
    const path = resolve(store.derived('delivery', delivery.id));
    if (!(await stat(path).catch(() => null))) throw new Problem(410, 'Gone', 'This file is not in the store any more. Deliver the shot again.');
    // Streamed: layers are hundreds of megabytes.
    response.attachment(delivery.name).type(fileKind(delivery.asked ?? ORDERS[delivery.order]).type).sendFile(path, { dotfiles: 'allow', cacheControl: false }, (error) => { if (error && !response.headersSent) next(error); });
  });

  return router;
}
