import { Router, type Request } from 'express';
import Joi from 'joi';
import type { Opens } from '../data/entities';
import { addressesOf, isFromNetwork, type Listening } from '../lend/openDoor';
import { MOST_KEYS, type NetworkKeys } from '../lend/networkKeys';
import { isUuid, notFound, Problem, typed, valid } from './problem';

const made = Joi.object({ name: typed(60).required(), opens: Joi.string().valid('pages', 'work').required() });

/** Keys for use over a network: told, made and revoked on the server's own computer. */
export function keyRoutes(keys: NetworkKeys, listening: Listening | null): Router {
  const router = Router();
  const here = (request: Request): void => {
    if (isFromNetwork(request)) throw new Problem(403, 'Not from here', 'Keys are made and revoked on the computer that Zaddle runs on.');
  };

  router.get('/keys', async (request, response) => {
    response.json({ addresses: listening ? addressesOf(listening) : [], encrypted: Boolean(listening?.certificate), away: isFromNetwork(request), keys: await keys.list() });
  });
  router.post('/keys', async (request, response) => {
    here(request);
    const { name, opens } = valid<{ name: string; opens: Opens }>(made, request.body);
    const key = await keys.make(name, opens);
    if (!key) throw new Problem(409, 'Too many keys', `There are ${MOST_KEYS} keys. Revoke those that nobody needs.`);
    response.status(201).set('Cache-Control', 'no-store').json({ ...key.key, secret: key.secret });
  });
  router.delete('/keys/:id', async (request, response) => {
    here(request);
    if (!isUuid(request.params.id) || !(await keys.revoke(request.params.id))) throw notFound('key');
    response.status(204).end();
  });

  return router;
}
