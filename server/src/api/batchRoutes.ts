import { Router } from 'express';
import { stat } from 'node:fs/promises';
import Joi from 'joi';
import yazl from 'yazl';
import { announce } from '../data/events';
import { BatchEntity, DeliveryEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { addBatch, moveBatch, pauseBatch, stopBatch, tryAgain } from '../outbox/batches';
import { archiveNames } from '../outbox/archiveNames';
import { deliverTo } from '../outbox/deliveredFolder';
import { receivers } from '../outbox/receivers';
import { QUALITY } from '../picture/orders';
import { againFields, destinationOf, orderedAgain, type Again } from './orderedPictures';
import { isUuid, notFound, Problem, valid } from './problem';

/** All batches, in their turn, with the shoots that their pictures are of. */
const BATCHES = `
  SELECT b.id, b.place, b.paused, b.folder, b.receiver, b.created_at AS "createdAt", (SELECT json_agg(DISTINCT jsonb_build_object('id', s.id, 'name', s.name)) FROM deliveries d JOIN shots t ON t.id = d.shot_id JOIN shoots s ON s.id = t.shoot_id WHERE d.batch_id = b.id) AS shoots
  FROM batches b WHERE EXISTS (SELECT FROM deliveries d WHERE d.batch_id = b.id) ORDER BY b.place, b.created_at`;
const change = Joi.object({ paused: Joi.boolean(), move: Joi.valid('first', 'earlier', 'later') }).or('paused', 'move');

/** Batches of deliveries: their turn, resting, stopping, and all their files in one. */
export function batchRoutes(workshop: ServerWorkshop): Router {
  const { database, store } = workshop;
  const router = Router();
  const find = async (id: string) => {
    const batch = isUuid(id) ? await database.getRepository(BatchEntity).findOneBy({ id }) : null;
    if (!batch) throw notFound('batch');
    return batch;
  };

  // The same as long as the server runs: pages with nothing to do with batches ask for it, too.
  router.get('/destinations', (_request, response) => {
    response.json({ deliverTo: deliverTo(), receivers: Object.keys(receivers()) });
  });

  router.get('/batches', async (_request, response) => {
    response.json({ batches: await database.query(BATCHES) });
  });

  router.patch('/batches/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    const { paused, move } = valid<{ paused?: boolean; move?: 'first' | 'earlier' | 'later' }>(change, request.body);
    if (paused !== undefined) await pauseBatch(workshop, id, paused);
    if (move !== undefined) await moveBatch(workshop, id, move);
    response.json(await find(id));
  });

  router.post('/batches/:id/stop', async (request, response) => {
    const { id } = await find(request.params.id);
    response.json({ stopped: await stopBatch(workshop, id) });
  });

  router.post('/batches/:id/retry', async (request, response) => {
    const { id } = await find(request.params.id);
    const again = await tryAgain(workshop, id);
    if (again === 0) throw new Problem(409, 'Nothing to try again', 'No picture of this batch failed or was stopped.');
    response.status(202).json({ again });
  });

  // All that is made of it, the same or by other orders, from what it was made of.
  router.post('/batches/:id/again', async (request, response) => {
    const { id } = await find(request.params.id);
    const { orders, ...destination } = valid<Again>(againFields, request.body ?? {});
    const made = await database.transaction(async (manager) => {
      const done = await manager.getRepository(DeliveryEntity).find({ where: { batchId: id, state: 'done' }, select: { id: true } });
      if (done.length === 0) throw new Problem(409, 'Nothing is made yet', 'No picture of this batch is made yet. Wait for it, or order the shots themselves.');
      return addBatch(workshop, manager, await orderedAgain(manager, done, orders, QUALITY), destinationOf(destination));
    });
    response.status(202).json(made);
  });

  // Only the list and what lies in the store: shots, mixes, and what was put into a folder stay.
  router.delete('/batches/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    await stopBatch(workshop, id);
    const files = await database.getRepository(DeliveryEntity).find({ where: { batchId: id }, select: { id: true } });
    await database.getRepository(BatchEntity).delete({ id });
    for (const { id: delivery } of files) await store.removeDerived('delivery', delivery);
    await announce(database, { kind: 'delivery', delivery: id });
    response.status(204).end();
  });

  // One file that any system opens; pictures are packed already, so they are stored as they are, and streamed.
  router.get('/batches/:id/archive', async (request, response) => {
    const { id, createdAt } = await find(request.params.id);
    const done = await database.getRepository(DeliveryEntity).find({ where: { batchId: id, state: 'done' }, order: { place: 'ASC' } });
    const there = (await Promise.all(done.map(async (each) => ((await stat(store.derived('delivery', each.id)).catch(() => null)) ? [each] : [])))).flat();
    if (there.length === 0) throw new Problem(409, 'Nothing to download', 'No picture of this batch is made yet.');
    const archive = new yazl.ZipFile();
    for (const [name, { id: delivery, doneAt }] of archiveNames(there)) archive.addFile(store.derived('delivery', delivery), name, { compress: false, mtime: doneAt ?? createdAt });
    response.attachment(`delivery-${createdAt.toISOString().slice(0, 10)}.zip`).type('application/zip');
    archive.outputStream.on('error', (error) => response.destroy(error as Error)).pipe(response);
    archive.end();
  });

  return router;
}
