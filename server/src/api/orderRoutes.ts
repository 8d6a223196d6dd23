import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { QueryFailedError } from 'typeorm';
import { asFile, fromFile, namedOrderSchema, outputName, SHIPPED_ORDERS, type OrderAsFile } from '@zaddle/document';
import { OrderEntity, type KeptOrder } from '../data/entities';
import { announce } from '../data/events';
import { namedPictures } from '../data/namedPictures';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, valid } from './problem';

/** Orders that are kept: more than anybody finds his way in. */
const MOST = 200;
const SHIPPED = Object.entries(SHIPPED_ORDERS);
/** Class of a unique constraint that was broken, of PostgreSQL's error codes. */
const TWICE = '23505';

/** Orders: kept, changed, exchanged as files; and what names of files are made of. */
export function orderRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const orders = database.getRepository(OrderEntity);
  const changed = (): Promise<void> => announce(database, { kind: 'orders' });
  const find = async (id: unknown): Promise<KeptOrder> => {
    const kept = isUuid(id) ? await orders.findOneBy({ id }) : null;
    if (!kept) throw notFound('order');
    return kept;
  };
  const read = (body: unknown): { name: string; asked: KeptOrder['asked'] } => {
    const { name, order } = fromFile(valid<OrderAsFile>(namedOrderSchema, body));
    if (SHIPPED.some(([key, { label }]) => [key, label.toLowerCase()].includes(name.toLowerCase()) || key === outputName(name))) throw new Problem(409, 'Taken', `“${name}” is an order that ships. Give yours another name: files are named after it.`);
    return { name, asked: order };
  };
  /** Two that are written at a moment: the database decides. */
  const alone = async (name: string, write: () => Promise<unknown>): Promise<void> => {
    try {
      await write();
    } catch (error) {
      if (error instanceof QueryFailedError && (error.driverError as { code?: string }).code === TWICE) throw new Problem(409, 'Taken', `There is an order called “${name}” already. Give this one another name, or change that one.`);
      throw error;
    }
  };

  router.get('/orders', async (_request, response) => void response.json((await orders.find({ order: { name: 'ASC' } })).map(({ id, name, asked }) => ({ id, name, order: asked }))));

  router.post('/orders', async (request, response) => {
    const { name, asked } = read(request.body);
    if ((await orders.count()) >= MOST) throw new Problem(409, 'Too many orders', `${MOST} orders are kept at most. Throw away one that you do not need any more.`);
    const id = randomUUID();
    await alone(name, () => orders.insert({ id, name, asked: asked as never }));
    await changed();
    response.status(201).json({ id, name, order: asked });
  });

  router.put('/orders/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    const { name, asked } = read(request.body);
    await alone(name, () => orders.update({ id }, { name, asked: asked as never }));
    await changed();
    response.json({ id, name, order: asked });
  });

  router.delete('/orders/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    await orders.delete({ id });
    await changed();
    response.status(204).end();
  });

  // To be exchanged: the same that is taken by a POST, and by `process --order`.
  router.get('/orders/:id/file', async (request, response) => {
    const shipped = SHIPPED.find(([key]) => key === request.params.id)?.[1];
    const { name, asked } = shipped ? { name: shipped.label, asked: shipped.order } : await find(request.params.id);
    response.attachment(`${outputName(name)}.json`).type('application/json').send(`${JSON.stringify(asFile(name, asked), null, 2)}\n`);
  });

  router.get('/shoots/:id/named-pictures', async (request, response) => {
    const { id } = request.params;
    if (!isUuid(id)) throw notFound('shoot');
    response.json((await namedPictures(database.manager, [id])).map(({ shot, picture }) => ({ shot, picture })));
  });

  return router;
}
