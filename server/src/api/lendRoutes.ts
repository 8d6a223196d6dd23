import { Router, type Request } from 'express';
import { stat } from 'node:fs/promises';
import { resolve } from 'node:path';
import { DeliveryEntity, BatchEntity } from '../data/entities';
import type { Derived } from '../data/fileStore';
import type { ServerWorkshop } from '../jobs/workshop';
import { editionOf } from '../lend/edition';
import { bearerOf, computerOf } from '../lend/openDoor';
import type { NetworkKeys } from '../lend/networkKeys';
import { isUuid, notFound, Problem } from './problem';

/** Derived files that another computer may ask for, or bring. */
const KINDS: readonly Derived[] = ['proxy', 'half', 'structure', 'thumbnail', 'found', 'preview', 'wide', 'delivery'];
/** Ids as we make them, with what tells findings apart. */
const NAME = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}(-[0-9a-z-]{1,60})?$/i;
/** Largest file that is brought: layers of a very large frame. */
const LARGEST = 8e9;

/** What computers that lend their cores ask for: files by content, and their own made ones taken. Each asks with its key. */
export function lendRoutes({ database, store, putIntoFolder }: ServerWorkshop, keys: NetworkKeys): Router {
  const router = Router();
  const asked = ({ params }: Request): { kind: Derived; id: string } => {
    const { kind, id } = params as { kind: string; id: string };
    if (!KINDS.includes(kind as Derived) || !NAME.test(id)) throw notFound('file');
    return { kind: kind as Derived, id };
  };
  const tagOf = async (kind: Derived, id: string): Promise<string> => {
    const found = await stat(store.derived(kind, id), { bigint: true }).catch(() => { throw notFound('file'); });
    return `"${found.ino.toString(36)}z${found.mtimeNs.toString(36)}z${found.size.toString(36)}"`;
  };

  router.use('/lend', async (request, _response, next) => {
    const key = await keys.held(bearerOf(request), 'work', computerOf(request));
    if (!key) throw new Problem(401, 'Key missing', 'Whoever works for this server shows a key for work. Make one on its page, under Network.');
    keys.letIn(key, request.socket);
    next();
  });
  router.get('/lend/hello', async (_request, response) => {
    response.json({ edition: editionOf(database) });
  });
  router.get('/lend/originals/:id', async (request, response, next) => {
    if (!/^[0-9a-f]{64}$/.test(request.params.id) || !(await store.hasOriginal(request.params.id))) throw notFound('file');
    response.sendFile(resolve(store.original(request.params.id)), { etag: false, lastModified: false, cacheControl: false, dotfiles: 'allow' }, (error) => error && next(error));
  });
  router.get('/lend/derived/:kind/:id', async (request, response, next) => {
    const { kind, id } = asked(request);
    response.set('ETag', await tagOf(kind, id));
    response.sendFile(resolve(store.derived(kind, id)), { etag: false, lastModified: false, cacheControl: false, dotfiles: 'allow' }, (error) => error && next(error));
  });
  router.put('/lend/derived/:kind/:id', async (request, response) => {
    const { kind, id } = asked(request);
    await store.takeDerived(kind, id, await store.putIncoming(request, LARGEST));
    response.set('ETag', await tagOf(kind, id)).status(204).end();
  });
  router.delete('/lend/derived/:kind/:id', async (request, response) => {
    const { kind, id } = asked(request);
    await store.removeDerived(kind, id);
    response.status(204).end();
  });
  router.post('/lend/deliveries/:id/folder', async (request, response) => {
    const { id } = request.params;
    const delivery = isUuid(id) ? await database.getRepository(DeliveryEntity).findOneBy({ id }) : null;
    if (!delivery) throw notFound('delivery');
    const { folder } = await database.getRepository(BatchEntity).findOneByOrFail({ id: delivery.batchId });
    if (folder !== null) await putIntoFolder(delivery, folder);
    response.status(204).end();
  });

  return router;
}
