import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import type { EntityManager } from 'typeorm';
import { partsOf } from '@zaddle/core/method/partsOf';
import { draftOf, methodSchema, PART_NAMES, readStep, readTrusted, type Method, type MixDocument, type PartName } from '@zaddle/document';
import { MethodEntity, MethodRunEntity, MixEntity, MixStepEntity, ShootEntity, ShotEntity, type KeptMethod, type Shot } from '../data/entities';
import { keepTable, unknownTables } from '../data/colourTables';
import { announce } from '../data/events';
import type { ServerWorkshop } from '../jobs/workshop';
import { giveMethod, takeBack } from '../method/giveMethod';
import { methodFile, methodFileSchema, opened, tablesOfMethod, type MethodFile } from '../method/methodFile';
import { isUuid, notFound, Problem, uuid, valid } from './problem';
import { asTable } from './tableRoutes';

/** Methods that are kept: more than anybody finds his way in. */
const MOST = 200;

const given = Joi.object({
  method: methodSchema.required(),
  strength: Joi.number().min(0).max(1).required(),
  off: Joi.array().items(Joi.valid(...PART_NAMES)).unique().required(),
  shots: Joi.alternatives().try(Joi.valid('all'), Joi.array().items(uuid).min(1).max(2000).unique()).required(),
  later: Joi.boolean().required(),
});
interface Asked { readonly method: Method; readonly strength: number; readonly off: readonly PartName[]; readonly shots: 'all' | readonly string[]; readonly later: boolean }
const ordered = Joi.object({ ids: Joi.array().items(uuid).max(MOST).unique().required() });

/** A name of a file that every system takes. */
const fileName = (name: string): string => `${name.normalize('NFKD').replace(/\p{M}/gu, '').replace(/[^A-Za-z0-9]+/g, '-').replace(/^-+|-+$/g, '').toLowerCase() || 'method'}.json`;

/** Methods: kept, ordered, exchanged as files, made of what was done on a shot, given to shots of a shoot and taken back everywhere. */
export function methodRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  const methods = database.getRepository(MethodEntity);
  const changed = (): Promise<void> => announce(database, { kind: 'methods' });
  const find = async (id: unknown): Promise<KeptMethod> => {
    const kept = isUuid(id) ? await methods.findOneBy({ id }) : null;
    if (!kept) throw notFound('method');
    return kept;
  };
  /** @throws Problem where a method goes through a colour table that is not here */
  const mustKnowTables = async (method: Method, manager: EntityManager = database.manager): Promise<void> => {
    const unknown = await unknownTables(manager, tablesOfMethod(method));
    if (unknown.length > 0) throw new Problem(409, 'Colour table missing', `“${method.name}” goes through a colour table that is not here. Add its .cube file at the desk (Tone, Colour table), then take the method again.`);
  };
  const listed = (): Promise<KeptMethod[]> => methods.find({ order: { position: 'ASC', createdAt: 'ASC' }, select: { id: true, method: true } as never });

  router.get('/methods', async (_request, response) => void response.json(await listed()));

  router.post('/methods', async (request, response) => {
    const { method, tables } = opened(valid<MethodFile>(methodFileSchema, request.body));
    if ((await methods.count()) >= MOST) throw new Problem(409, 'Too many methods', `${MOST} methods are kept at most. Throw away one that you do not need any more.`);
    const last = (await methods.maximum('position')) ?? -1;
    const kept = { id: randomUUID(), position: last + 1, method };
    await database.transaction(async (manager) => {
      for (const { name, text } of tables) await asTable(() => keepTable(manager, name, text));
      await mustKnowTables(method, manager);
      await manager.getRepository(MethodEntity).insert(kept as never);
    });
    if (tables.length > 0) await announce(database, { kind: 'tables' });
    await changed();
    response.status(201).json(kept);
  });

  router.put('/methods/order', async (request, response) => {
    const { ids } = valid<{ ids: string[] }>(ordered, request.body);
    // Those that are not named, since they were made meanwhile, come after.
    await database.transaction(async (manager) => {
      const all = await manager.getRepository(MethodEntity).find({ order: { position: 'ASC' }, lock: { mode: 'pessimistic_write' } });
      const sorted = [...ids.flatMap((id) => all.filter((kept) => kept.id === id)), ...all.filter(({ id }) => !ids.includes(id))];
      for (const [position, { id }] of sorted.entries()) await manager.getRepository(MethodEntity).update({ id }, { position });
    });
    await changed();
    response.json(await listed());
  });

  router.put('/methods/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    const method = valid<Method>(methodSchema, request.body);
    await mustKnowTables(method);
    await methods.update({ id }, { method: method as never });
    await changed();
    response.json({ id, method });
  });

  router.delete('/methods/:id', async (request, response) => {
    const { id } = await find(request.params.id);
    await methods.delete({ id });
    await changed();
    response.status(204).end();
  });

  // To be exchanged: the same that is taken by a POST.
  router.get('/methods/:id/file', async (request, response) => {
    const { method } = await find(request.params.id);
    response.attachment(fileName(method.name)).type('application/json').send(`${JSON.stringify(await methodFile(database, method), null, 2)}\n`);
  });

  // What was decided on a shot, to choose from: told against how it was proposed, which the inverses of its steps lead back to.
  router.get('/shots/:id/method-parts', async (request, response) => {
    const mix = isUuid(request.params.id) ? await database.getRepository(MixEntity).findOneBy({ shotId: request.params.id }) : null;
    if (!mix) throw notFound('mix');
    const now = readTrusted(mix.document);
    const steps = await database.getRepository(MixStepEntity).find({ where: { shotId: mix.shotId }, order: { step: 'DESC' } });
    const proposed = steps.filter(({ step }) => step <= mix.position).reduce((document: MixDocument, { inverse }) => draftOf(document, readStep(inverse)), now);
    response.json(partsOf(now, proposed));
  });

  const shootOf = async (id: unknown) => {
    const shoot = isUuid(id) ? await database.getRepository(ShootEntity).findOneBy({ id }) : null;
    if (!shoot) throw notFound('shoot');
    return shoot;
  };

  router.get('/shoots/:id/method', async (request, response) => {
    const shoot = await shootOf(request.params.id);
    const [run] = await database.getRepository(MethodRunEntity).find({ where: { shootId: shoot.id }, order: { createdAt: 'DESC' }, take: 1 });
    response.json({ later: shoot.method, last: run && !run.takenBack ? { id: run.id, name: run.choice.method.name, strength: run.choice.strength, shots: run.shots.length } : null });
  });

  router.post('/shoots/:id/method', async (request, response) => {
    const shoot = await shootOf(request.params.id);
    const { method, strength, off, shots, later } = valid<Asked>(given, request.body);
    await mustKnowTables(method);
    const all: Shot[] = await database.getRepository(ShotEntity).find({ where: { shootId: shoot.id, retired: false }, order: { position: 'ASC' } });
    const chosen = shots === 'all' ? all : all.filter((shot) => shots.includes(shot.id));
    if (shots !== 'all' && chosen.length < shots.length) throw notFound('shot in this shoot');
    response.json(await giveMethod(database, shoot.id, { method, strength, off }, chosen, later));
  });

  router.post('/method-runs/:id/back', async (request, response) => {
    const run = isUuid(request.params.id) ? await database.getRepository(MethodRunEntity).findOneBy({ id: request.params.id }) : null;
    if (!run) throw notFound('application of a method');
    if (run.takenBack) throw new Problem(409, 'Taken back already', 'This was taken back already.');
    response.json(await takeBack(database, run));
  });

  return router;
}
