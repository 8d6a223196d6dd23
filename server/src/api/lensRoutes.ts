import { Router } from 'express';
import { readTrusted } from '@zaddle/document';
import { FrameEntity, LensProfileEntity, MixEntity } from '../data/entities';
import { keptProfile, lensOf } from '../data/lensProfiles';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem } from './problem';

/** What is kept of a shot's camera and lens, for all shots that come. */
export function lensRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const find = async (shotId: string) => {
    const mix = isUuid(shotId) ? await database.getRepository(MixEntity).findOneBy({ shotId }) : null;
    if (!mix) throw notFound('mix');
    const document = readTrusted(mix.document);
    const reference = await database.getRepository(FrameEntity).findOneBy({ id: document.reference });
    if (!reference?.facts) throw new Problem(409, 'Frame gone', 'The reference of this mix was deleted. Start the mix anew.');
    return { document, facts: reference.facts };
  };

  router.get('/shots/:id/lens', async (request, response) => {
    const { facts } = await find(request.params.id);
    response.json({ lens: lensOf(facts), kept: await keptProfile(database, facts) });
  });

  router.put('/shots/:id/lens', async (request, response) => {
    const { document, facts } = await find(request.params.id);
    const key = lensOf(facts);
    if (!key) throw new Problem(409, 'No camera known', 'The files of this shot do not say which camera took them, so nothing can be kept for it.');
    await database.getRepository(LensProfileEntity).upsert({ ...key, optics: document.lens, response: document.response, keptAt: new Date() } as never, ['camera', 'lens', 'focalLength']);
    response.json({ lens: key, kept: await keptProfile(database, facts) });
  });

  router.delete('/shots/:id/lens', async (request, response) => {
    const { facts } = await find(request.params.id);
    const key = lensOf(facts);
    if (key) await database.getRepository(LensProfileEntity).delete(key);
    response.json({ lens: key, kept: null });
  });

  return router;
}
