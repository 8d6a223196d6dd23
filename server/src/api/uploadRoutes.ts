import { Router } from 'express';
import Joi from 'joi';
import { wholeText } from '@zaddle/document';
import { addFrame } from '../data/frames';
import { announce } from '../data/events';
import { ShootEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { MAX_FILE } from '../picture/limits';
import { isUuid, notFound, Problem, valid } from './problem';

const fileName = Joi.string().min(1).max(255).custom(wholeText).required();

/** A file's name without folders and without what is no text for people. */
const plainName = (name: string): string => name.replace(/^.*[\\/]/, '').replace(/\p{Cc}/gu, ' ').trim() || 'unnamed';

/** Taking files in. They are streams of bytes: what type a sender says they have does not matter. */
export function uploadRoutes(workshop: ServerWorkshop): Router {
  const { database, store } = workshop;
  const router = Router();

  router.post('/shoots/:id/frames', async (request, response) => {
    const shoot = request.params.id;
    if (!isUuid(shoot) || !(await database.getRepository(ShootEntity).existsBy({ id: shoot }))) throw notFound('shoot');
    const name = plainName(valid<string>(fileName, request.query.name));
    if (Number(request.headers['content-length'] ?? 0) > MAX_FILE) throw new Problem(413, 'File too large', `Files may have at most ${MAX_FILE / 1e6} MB.`);
    const stored = await store.putOriginal(request, MAX_FILE);
    const id = await addFrame(workshop, shoot, name, stored);
    if (id === null) throw notFound('shoot');
    await announce(database, { kind: 'shoot', shoot });
    response.status(201).json({ id, sha256: stored.sha256 });
  });

  return router;
}
