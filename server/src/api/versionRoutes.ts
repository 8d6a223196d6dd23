import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { readTrusted } from '@zaddle/document';
import { announce, announceIn } from '../data/events';
import { MixEntity, MixVersionEntity, ShotEntity, type MixVersion } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, typed, valid } from './problem';

const named = Joi.object({ name: typed(80).min(1).required() });
/** Versions that a shot may have: more than anybody names, fewer than what fills a disk. */
const MOST = 100;

const headOf = ({ id, name, createdAt }: MixVersion): Omit<MixVersion, 'document' | 'shotId'> => ({ id, name, createdAt });

/** Named versions of a shot's mix: kept as it stands, renamed, thrown away. Going back to one is a step of the mix (`mixRoutes`). */
export function versionRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const versions = database.getRepository(MixVersionEntity);
  const shotOf = async (id: string): Promise<{ id: string; shootId: string }> => {
    const shot = isUuid(id) ? await database.getRepository(ShotEntity).findOneBy({ id, retired: false }) : null;
    if (!shot) throw notFound('shot');
    return shot;
  };

  router.get('/shots/:id/versions', async (request, response) => {
    const shot = await shotOf(request.params.id);
    response.json((await versions.find({ where: { shotId: shot.id }, order: { createdAt: 'ASC' } })).map(headOf));
  });

  // A version as it is, to be compared with what stands now.
  router.get('/shots/:id/versions/:version', async (request, response) => {
    const { version } = await find(request.params.id, request.params.version);
    response.json({ ...headOf(version), document: readTrusted(version.document) });
  });

  router.post('/shots/:id/versions', async (request, response) => {
    const { name } = valid<{ name: string }>(named, request.body);
    const shot = await shotOf(request.params.id);
    const kept = await database.transaction(async (manager) => {
      // Held, so that what is kept is one state of it, and nobody else keeps one too many meanwhile.
      const mix = await manager.getRepository(MixEntity).findOne({ where: { shotId: shot.id }, lock: { mode: 'pessimistic_write' } });
      if (!mix) throw notFound('mix');
      if ((await manager.getRepository(MixVersionEntity).countBy({ shotId: shot.id })) >= MOST) throw new Problem(409, 'Too many versions', `A shot may have ${MOST} versions. Throw away one that you do not need any more.`);
      const version: MixVersion = { id: randomUUID(), shotId: shot.id, name, document: mix.document, createdAt: new Date() };
      await manager.getRepository(MixVersionEntity).insert(version as never);
      await announceIn(manager, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
      return version;
    });
    response.status(201).json(headOf(kept));
  });

  router.patch('/shots/:id/versions/:version', async (request, response) => {
    const { name } = valid<{ name: string }>(named, request.body);
    const { version, tell } = await find(request.params.id, request.params.version);
    await versions.update({ id: version.id }, { name });
    await tell();
    response.json(headOf({ ...version, name }));
  });

  router.delete('/shots/:id/versions/:version', async (request, response) => {
    const { version, tell } = await find(request.params.id, request.params.version);
    await versions.delete({ id: version.id });
    await tell();
    response.status(204).end();
  });

  /** A version, and how other windows, which list it, too, hear of what is done to it. */
  async function find(shotId: string, id: string): Promise<{ version: MixVersion; tell: () => Promise<void> }> {
    const shot = await shotOf(shotId);
    const version = isUuid(id) ? await versions.findOneBy({ id, shotId }) : null;
    if (!version) throw notFound('version');
    return { version, tell: () => announce(database, { kind: 'shot', shoot: shot.shootId, shot: shot.id }) };
  }

  return router;
}
