import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { announce, announceIn } from '../data/events';
import { DeliveryEntity, MixEntity, ShotEntity, type Shot } from '../data/entities';
import { send } from '../jobs/queues';
import type { Workshop } from '../jobs/workshop';
import { fileKind, fileName, ORDERS, QUALITY } from '../picture/orders';
import { isUuid, notFound, Problem, uuid, valid } from './problem';

const order = Joi.object({
  shots: Joi.array().items(uuid).min(1).max(500).required(),
  orders: Joi.array().items(Joi.valid(...Object.keys(ORDERS))).min(1).max(Object.keys(ORDERS).length).unique().default(['full']),
  quality: Joi.number().integer().min(50).max(100).default(QUALITY),
});

const safeName = (label: string): string => label.normalize('NFC').replace(/[^\p{L}\p{N} _-]+/gu, '').trim().replace(/\s+/g, '-') || 'picture';

/** Names of a shoot's pictures by shot and order: shots that are labelled alike get distinct ones, in the order of the shoot. */
function pictureNames(shots: readonly Shot[]): Map<string, Readonly<Record<string, string>>> {
  const names = new Map<string, Readonly<Record<string, string>>>();
  const all = (stem: string): Record<string, string> => Object.fromEntries(Object.keys(ORDERS).map((each) => [each, fileName(stem, ORDERS[each], each === 'full' ? null : each)]));
  const taken = new Set<string>();
  for (const { id, label } of [...shots].sort((a, b) => a.position - b.position || a.id.localeCompare(b.id))) {
    const stem = safeName(label);
    let own = all(stem);
    // Case does not make files distinct everywhere.
    const isTaken = (): boolean => Object.values(own).some((name) => taken.has(name.toLowerCase()));
    for (let n = 2; isTaken(); n++) own = all(`${stem}-${n}`);
    Object.values(own).forEach((name) => taken.add(name.toLowerCase()));
    names.set(id, own);
  }
  return names;
}

/** Delivering finished pictures by way of the queue. */
export function deliveryRoutes({ database, boss, store }: Workshop): Router {
  const router = Router();
  const deliveries = database.getRepository(DeliveryEntity);
  const find = async (id: string) => {
    const delivery = isUuid(id) ? await deliveries.findOneBy({ id }) : null;
    if (!delivery) throw notFound('delivery');
    return delivery;
  };

  router.get('/deliveries', async (_request, response) => {
    response.json(await deliveries.find({ order: { createdAt: 'DESC', name: 'ASC' }, take: 500 }));
  });

  router.post('/deliveries', async (request, response) => {
    const body = valid<{ shots: string[]; orders: string[]; quality: number }>(order, request.body);
    const shots = await database.getRepository(ShotEntity).findBy({ id: In(body.shots), retired: false });
    if (shots.length !== new Set(body.shots).size) throw notFound('shot');
    const unready = shots.filter((shot) => shot.state !== 'mixed');
    if (unready.length > 0) throw new Problem(409, 'Not ready', `${unready.map((s) => s.label).join(', ')}: not lined up yet. Wait until the shot shows its picture.`);
    const names = pictureNames(await database.getRepository(ShotEntity).findBy({ shootId: In([...new Set(shots.map((s) => s.shootId))]), retired: false }));
    const ids = await database.transaction(async (manager) => {
      const made: string[] = [];
      for (const shot of shots.sort((a, b) => a.position - b.position)) {
        // What is ordered is what is made, whatever is changed until its turn comes.
        const mix = await manager.getRepository(MixEntity).findOneBy({ shotId: shot.id });
        if (!mix) throw new Problem(409, 'Not ready', `${shot.label} is being lined up again. Wait until it shows its picture.`);
        for (const each of body.orders) {
          const id = randomUUID();
          await manager.getRepository(DeliveryEntity).insert({ id, shotId: shot.id, document: mix.document as never, name: names.get(shot.id)![each], order: each, quality: body.quality, state: 'waiting', progress: 0, why: '', bytes: null, attempts: 0 });
          await send(boss, 'deliver', { delivery: id }, { within: manager });
          await announceIn(manager, { kind: 'delivery', delivery: id });
          made.push(id);
        }
      }
      return made;
    });
    response.status(202).json({ ids });
  });

  router.post('/deliveries/:id/retry', async (request, response) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'failed') throw new Problem(409, 'Not failed', 'Only a failed delivery can be tried again.');
    await database.transaction(async (manager) => {
      await manager.getRepository(DeliveryEntity).update({ id: delivery.id }, { state: 'waiting', progress: 0, why: '', attempts: 0 });
      await send(boss, 'deliver', { delivery: delivery.id }, { within: manager });
      await announceIn(manager, { kind: 'delivery', delivery: delivery.id });
    });
    response.status(202).json({ id: delivery.id });
  });

  // The same picture from the same document, to the byte, whatever became of the mix since.
  router.post('/deliveries/:id/again', async (request, response) => {
    const { id: of } = await find(request.params.id);
    const delivery = await deliveries.createQueryBuilder('d').addSelect('d.document').where('d.id = :of', { of }).getOneOrFail();
    if (!delivery.document) throw new Problem(409, 'Not kept', 'This delivery is from before documents were kept with them. Deliver the shot again.');
    const id = randomUUID();
    await database.transaction(async (manager) => {
      const { shotId, document, name, order: as, quality } = delivery;
      await manager.getRepository(DeliveryEntity).insert({ id, shotId, document: document as never, name, order: as, quality, state: 'waiting', progress: 0, why: '', bytes: null, attempts: 0 });
      await send(boss, 'deliver', { delivery: id }, { within: manager });
      await announceIn(manager, { kind: 'delivery', delivery: id });
    });
    response.status(202).json({ id });
  });

  router.delete('/deliveries/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    await deliveries.delete({ id });
    await store.removeDerived('delivery', id);
    await announce(database, { kind: 'delivery', delivery: id });
    response.status(204).end();
  });

  router.get('/deliveries/:id/file', async (request, response) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'done') throw new Problem(409, 'Not done', 'This picture is still being made.');
    const file = await store.readDerived('delivery', delivery.id).catch((error: NodeJS.ErrnoException) => {
      throw error.code === 'ENOENT' ? new Problem(410, 'Gone', 'This file is not in the store any more. Deliver the shot again.') : error;
    });
    response.attachment(delivery.name).type(fileKind(ORDERS[delivery.order]).type).send(file);
  });

  return router;
}
