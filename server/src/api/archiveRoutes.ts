import { Router } from 'express';
import Joi from 'joi';
import { ShootEntity } from '../data/entities';
import { outputName } from '@zaddle/document';
import { duplicateShoot, restoreArchive } from '../archive/restoreArchive';
import { diskUse, shootFiles, type ShootFile } from '../archive/shootFiles';
import { readShootRecord, type ShootRecord } from '../archive/shootRecord';
import { writeArchive } from '../archive/writeArchive';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, valid } from './problem';

/** Largest archive that is taken in, bytes. */
const MOST_BYTES = 200e9;
const choice = Joi.object({ originals: Joi.valid('yes', 'no').default('yes'), delivered: Joi.valid('yes', 'no').default('yes') });

/** A shoot as one file, a shoot of such a file, a second one of the same, and what each takes on the disk. */
export function archiveRoutes(workshop: ServerWorkshop): Router {
  const { database, store } = workshop;
  const router = Router();
  const find = async (id: string) => {
    const shoot = isUuid(id) ? await database.getRepository(ShootEntity).findOneBy({ id }) : null;
    if (!shoot) throw notFound('shoot');
    return shoot;
  };
  const lookAt = async (id: string): Promise<{ record: ShootRecord; files: ShootFile[] }> => {
    const record = await database.transaction('REPEATABLE READ', (manager) => readShootRecord(manager, id));
    return { record, files: await shootFiles(store, record) };
  };

  router.get('/shoots/:id/disk', async (request, response) => {
    const { id } = await find(request.params.id);
    response.json(diskUse((await lookAt(id)).files));
  });

  router.get('/shoots/:id/archive', async (request, response) => {
    const { id, name } = await find(request.params.id);
    const { originals, delivered } = valid<{ originals: string; delivered: string }>(choice, request.query);
    const { record, files } = await lookAt(id);
    const chosen = files.filter(({ kind }) => (originals === 'yes' || kind !== 'original') && (delivered === 'yes' || kind !== 'delivery'));
    response.attachment(`${outputName(name)}.zip`).type('application/zip');
    const stream = writeArchive(store, record, chosen);
    stream.on('error', (error) => response.destroy(error as Error)).pipe(response);
  });

  router.post('/shoots/archive', async (request, response) => {
    if (Number(request.headers['content-length'] ?? 0) > MOST_BYTES) throw new Problem(413, 'File too large', `Archives may have at most ${MOST_BYTES / 1e9} GB.`);
    response.status(201).json(await restoreArchive(workshop, request, MOST_BYTES));
  });

  router.post('/shoots/:id/duplicate', async (request, response) => {
    const { id } = await find(request.params.id);
    const { record, files } = await lookAt(id);
    response.status(201).json({ id: await duplicateShoot(workshop, record, files) });
  });

  return router;
}
