import express, { Router } from 'express';
import Joi from 'joi';
import { InvalidCube } from '@zaddle/core/finish/readCube';
import { wholeText } from '@zaddle/document';
import { keepTable, tableText, usersOf } from '../data/colourTables';
import { ColourTableEntity } from '../data/entities';
import { announce } from '../data/events';
import type { ServerWorkshop } from '../jobs/workshop';
import { notFound, Problem, valid } from './problem';

/** Tables that are kept at most, and the largest file: a cube of 65 with room to spare. */
const MOST = 500;
const LARGEST = '16mb';

const called = Joi.object({ name: Joi.string().trim().min(1).max(120).custom(wholeText).required() });
const isDigest = (text: unknown): text is string => typeof text === 'string' && /^[0-9a-f]{64}$/.test(text);

/** Does something with the text of a table; where it is none, the line that is wrong is told. */
export async function asTable<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof InvalidCube) throw new Problem(422, 'No colour table', `${error.message} Mend the file, or choose another one.`);
    throw error;
  }
}

/** Colour tables: kept by content as the text files that they came in, listed, read back, thrown away while nothing needs them. */
export function tableRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const tables = database.getRepository(ColourTableEntity);

  router.get('/tables', async (_request, response) => void response.json(await tables.find({ order: { name: 'ASC', createdAt: 'ASC' } })));

  router.post('/tables', express.text({ type: () => true, limit: LARGEST }), async (request, response) => {
    const { name } = valid<{ name: string }>(called, { name: request.query.name });
    if (typeof request.body !== 'string' || request.body === '') throw new Problem(422, 'No colour table', 'The file is empty. Choose a .cube file.');
    if ((await tables.count()) >= MOST) throw new Problem(409, 'Too many colour tables', `${MOST} colour tables are kept at most. Throw away one that you do not need any more.`);
    const { body } = request;
    const kept = await asTable(() => keepTable(database, name, body));
    await announce(database, { kind: 'tables' });
    response.status(201).json(kept);
  });

  router.get('/tables/:digest', async (request, response) => {
    const kept = isDigest(request.params.digest) ? await tableText(database, request.params.digest) : null;
    if (!kept) throw notFound('colour table');
    response.attachment(`${kept.name.replace(/[^\w .-]+/g, '-')}.cube`).type('text/plain').set('Cache-Control', 'private, max-age=31536000, immutable').send(kept.body);
  });

  router.delete('/tables/:digest', async (request, response) => {
    const { digest } = request.params;
    if (!isDigest(digest) || !(await tables.existsBy({ digest }))) throw notFound('colour table');
    const users = await usersOf(database, digest);
    if (users.length > 0) throw new Problem(409, 'Still needed', `This colour table is used by ${users.join(', ')}. Take it out there first.`);
    await tables.delete({ digest });
    await announce(database, { kind: 'tables' });
    response.status(204).end();
  });

  return router;
}
