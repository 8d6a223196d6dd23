import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { announce } from '../data/events';
import { DeliveryEntity, ShotEntity } from '../data/entities';
import { send } from '../jobs/queues';
import type { Workshop } from '../jobs/workshop';
import { notFound, Problem, valid } from './problem';

const order = Joi.object({
  shots: Joi.array().items(Joi.string().uuid()).min(1).max(500).required(),
  quality: Joi.number().integer().min(50).max(100).default(95),
});

const safeName = (label: string): string => label.normalize('NFC').replace(/[^\p{L}\p{N} _-]+/gu, '').trim().replace(/\s+/g, '-') || 'picture';

/** Delivering finished pictures by way of the queue. */
export function deliveryRoutes({ database, boss, store }: Workshop): Router {
  const router = Router();
  const deliveries = database.getRepository(DeliveryEntity);
  const find = async (id: string) => {
    const delivery = Joi.string().uuid().validate(id).error ? null : await deliveries.findOneBy({ id });
    if (!delivery) throw notFound('delivery');
    return delivery;
  };

  router.get('/deliveries', async (_request, response) => {
    response.json(await deliveries.find({ order: { createdAt: 'DESC' }, take: 500 }));
  });

  router.post('/deliveries', async (request, response) => {
    const body = valid<{ shots: string[]; quality: number }>(order, request.body);
    const shots = await database.getRepository(ShotEntity).findBy({ id: In(body.shots) });
    if (shots.length !== new Set(body.shots).size) throw notFound('shot');
    const unready = shots.filter((shot) => shot.state !== 'mixed');
    if (unready.length > 0) throw new Problem(409, 'Not ready', `${unready.map((s) => s.label).join(', ')}: not lined up yet. Wait until the shot shows its picture.`);
    const ids: string[] = [];
    for (const shot of shots.sort((a, b) => a.position - b.position)) {
      const id = randomUUID();
      await deliveries.insert({ id, shotId: shot.id, name: `${safeName(shot.label)}.jpg`, quality: body.quality, state: 'waiting', progress: 0, why: '', bytes: null, attempts: 0 });
      await send(boss, 'deliver', { delivery: id });
      await announce(database, { kind: 'delivery', delivery: id });
      ids.push(id);
    }
    response.status(202).json({ ids });
  });

  router.post('/deliveries/:id/retry', async (request, response) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'failed') throw new Problem(409, 'Not failed', 'Only a failed delivery can be tried again.');
    await deliveries.update({ id: delivery.id }, { state: 'waiting', progress: 0, why: '' });
    await send(boss, 'deliver', { delivery: delivery.id });
    response.status(202).json({ id: delivery.id });
  });

  router.get('/deliveries/:id/file', async (request, response) => {
    const delivery = await find(request.params.id);
    if (delivery.state !== 'done') throw new Problem(409, 'Not done', 'This picture is still being made.');
    response.attachment(delivery.name).type('image/jpeg').send(await store.readDerived('delivery', delivery.id));
  });

  return router;
}
