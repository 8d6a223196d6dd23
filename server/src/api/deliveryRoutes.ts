import { stat } from 'node:fs/promises';
import { resolve } from 'node:path';
import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { fileNames, told, type Order } from '@zaddle/document';
import { announce } from '../data/events';
import { DeliveryEntity, MixEntity, OrderEntity, ShotEntity } from '../data/entities';
import { namedPictures, type NamedShot } from '../data/namedPictures';
import type { Workshop } from '../jobs/workshop';
import { addBatch, sendAgain, tryAgain, type Ordered } from '../outbox/batches';
import { deliverTo, folderNames } from '../outbox/deliveredFolder';
import { receivers } from '../outbox/receivers';
import { fileKind, namingOf, ORDERS, QUALITY } from '../picture/orders';
import { isUuid, notFound, Problem, typed, uuid, valid } from './problem';

/** Deliveries that are listed, the latest first. */
const MOST_LISTED = 1000;
/** Orders that a picture is delivered by at once. */
const MOST_ORDERS = 20;
const order = Joi.object({
  shots: Joi.array().items(uuid).min(1).max(500).required(),
  orders: Joi.array().items(Joi.valid(...Object.keys(ORDERS)), uuid).min(1).max(MOST_ORDERS).unique().default(['full']),
  quality: Joi.number().integer().min(50).max(100).default(QUALITY),
  folder: typed(200).min(1).allow(null).default(null),
  receiver: typed(40).min(1).allow(null).default(null),
});

/** An order that pictures are to be delivered by: what it is called, and what it asks for. */
interface Wanted {
  readonly name: string;
  readonly asked: Order;
  /** The plain one: its files are called as pictures are. */
  readonly alone: boolean;
}

/** For each shot, what its files are called and what its pictures are, order by order. Each shoot has names of its own. */
function namesOf(pictures: readonly NamedShot[], orders: readonly Wanted[]): Map<string, { readonly file: string; readonly title: string }[]> {
  const names = new Map<string, { file: string; title: string }[]>();
  for (const shoot of new Set(pictures.map((each) => each.shoot))) {
    const own = pictures.filter((each) => each.shoot === shoot);
    const files = fileNames(own.map(({ picture }) => picture), orders.map(({ name, asked, alone }) => namingOf(name, asked, alone)));
    own.forEach(({ shot, picture }, at) => names.set(shot, orders.map(({ name, asked }, k) => ({ file: files[k][at], title: told(asked.words.title, picture, name) }))));
  }
  return names;
}

/** Delivering finished pictures by way of the queue. */
export function deliveryRoutes(workshop: Workshop): Router {
  const { database, store } = workshop;
  const router = Router();
  const deliveries = database.getRepository(DeliveryEntity);
  const find = async (id: string) => {
    const delivery = isUuid(id) ? await deliveries.findOneBy({ id }) : null;
    if (!delivery) throw notFound('delivery');
    return delivery;
  };

  /** Orders by their names, or by the ids of those that are kept. */
  const wanted = async (ids: readonly string[]): Promise<Wanted[]> => {
    const kept = new Map((await database.getRepository(OrderEntity).findBy({ id: In(ids.filter(isUuid)) })).map((each) => [each.id, each]));
    return ids.map((id) => {
      if (Object.hasOwn(ORDERS, id)) return { name: id, asked: ORDERS[id], alone: id === 'full' };
      const own = kept.get(id);
      if (!own) throw notFound('order');
      return { name: own.name, asked: own.asked, alone: false };
    });
  };

  router.get('/deliveries', async (_request, response) => {
    response.json(await deliveries.find({ order: { createdAt: 'DESC', name: 'ASC' }, take: MOST_LISTED }));
  });

  router.post('/deliveries', async (request, response) => {
    const body = valid<{ shots: string[]; orders: string[]; quality: number; folder: string | null; receiver: string | null }>(order, request.body);
    const folder = body.folder === null ? null : folderNames(body.folder);
    if (folder !== null && !deliverTo()) throw new Problem(409, 'No folder for deliveries', 'Start the server with --deliver-to and a folder of this machine; pictures can be put below it then.');
    const { receiver } = body;
    if (receiver !== null && !Object.hasOwn(receivers(), receiver)) throw new Problem(409, 'No such receiver', `This server knows no receiver ${receiver}. Start it with --receiver, a name and an address.`);
    const shots = await database.getRepository(ShotEntity).findBy({ id: In(body.shots), retired: false });
    if (shots.length !== new Set(body.shots).size) throw notFound('shot');
    const unready = shots.filter((shot) => shot.state !== 'mixed');
    if (unready.length > 0) throw new Problem(409, 'Not ready', `${unready.map((s) => s.label).join(', ')}: not lined up yet. Wait until the shot shows its picture.`);
    const orders = await wanted(body.orders);
    // Of all pictures of a shoot, so that a name is the same whichever of them are delivered.
    const pictures = await namedPictures(database.manager, [...new Set(shots.map((s) => s.shootId))]);
    const names = namesOf(pictures, orders);
    const made = await database.transaction(async (manager) => {
      const pictures: Ordered[] = [];
      for (const shot of shots.sort((a, b) => a.position - b.position)) {
        // What is ordered is what is made, whatever is changed until its turn comes.
        const mix = await manager.getRepository(MixEntity).findOneBy({ shotId: shot.id });
        if (!mix) throw new Problem(409, 'Not ready', `${shot.label} is being lined up again. Wait until it shows its picture.`);
        for (const [k, { name, asked }] of orders.entries()) {
          const { file, title } = names.get(shot.id)![k];
          pictures.push({ shotId: shot.id, document: mix.document, name: file, order: name, asked: { ...asked, words: { ...asked.words, title } }, quality: asked.quality ?? body.quality });
        }
      }
      return addBatch(workshop, manager, pictures, { folder, receiver });
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

  // The same picture from the same document, to the byte, whatever became of the mix since.
  router.post('/deliveries/:id/again', async (request, response) => {
    const { id: of } = await find(request.params.id);
    const delivery = await deliveries.createQueryBuilder('d').addSelect('d.document').where('d.id = :of', { of }).getOneOrFail();
    if (!delivery.document) throw new Problem(409, 'Not kept', 'This delivery is from before documents were kept with them. Deliver the shot again.');
    const { shotId, document, name, order: as, asked, quality } = delivery;
    const { ids } = await database.transaction((manager) => addBatch(workshop, manager, [{ shotId, document, name, order: as, asked, quality }]));
    response.status(202).json({ id: ids[0] });
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
