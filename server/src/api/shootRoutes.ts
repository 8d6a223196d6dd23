import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { announce } from '../data/events';
import { DeliveryEntity, FrameEntity, GroupingStepEntity, ShootEntity, ShotEntity } from '../data/entities';
import { send } from '../jobs/queues';
import type { Workshop } from '../jobs/workshop';
import { notFound, Problem, valid } from './problem';

const MAX_FILE = 400_000_000;
const newShoot = Joi.object({ name: Joi.string().trim().min(1).max(120).required(), address: Joi.string().trim().max(200).allow('').default(''), dueAt: Joi.string().isoDate().allow(null).default(null) });
const known = Joi.object({ hashes: Joi.array().items(Joi.string().hex().length(64)).max(2000).required() });
const fileName = Joi.string().min(1).max(255).required();
const changeShot = Joi.object({ label: Joi.string().trim().min(1).max(80).required() });

/** Notes a file that is in the store as a frame of a shoot; the same content twice is one frame. */
export async function addFrame({ database, boss }: Workshop, shootId: string, name: string, stored: { sha256: string; bytes: number }): Promise<string> {
  const frames = database.getRepository(FrameEntity);
  const there = await frames.findOneBy({ shootId, sha256: stored.sha256 });
  if (there) return there.id;
  const id = randomUUID();
  await frames.insert({ id, shootId, shotId: null, sha256: stored.sha256, name, bytes: String(stored.bytes), state: 'waiting', why: '', facts: null, role: 'spare', used: false, residualPx: null, parts: [], marked: false, dropped: false, stats: null });
  await send(boss, 'gather', { frame: id });
  return id;
}

/** Shoots, their frames and shots. */
export function shootRoutes(workshop: Workshop): Router {
  const { database, store } = workshop;
  const router = Router();
  const shoots = database.getRepository(ShootEntity);
  const frames = database.getRepository(FrameEntity);
  const shots = database.getRepository(ShotEntity);
  const mustExist = async (id: string): Promise<void> => {
    if (!Joi.string().uuid().validate(id).error && (await shoots.existsBy({ id }))) return;
    throw notFound('shoot');
  };

  router.get('/shoots', async (_request, response) => {
    const list = await shoots.find({ order: { createdAt: 'DESC' } });
    const out = [];
    for (const shoot of list) {
      const own = await shots.findBy({ shootId: shoot.id });
      const delivered = own.length === 0 ? [] : await database.getRepository(DeliveryEntity).find({ where: { shotId: In(own.map((s) => s.id)), state: 'done' }, select: { shotId: true } });
      const count = (state: 'waiting' | 'gathered' | 'rejected'): Promise<number> => frames.countBy({ shootId: shoot.id, state });
      const cover = await frames.findOne({ where: { shootId: shoot.id, state: 'gathered', used: true }, order: { name: 'ASC' } });
      out.push({ ...shoot, frames: { waiting: await count('waiting'), gathered: await count('gathered'), rejected: await count('rejected') }, shots: own.length, mixed: own.filter((s) => s.state === 'mixed').length, delivered: new Set(delivered.map((d) => d.shotId)).size, cover: cover?.id ?? null });
    }
    response.json(out);
  });

  router.post('/shoots', async (request, response) => {
    const body = valid<{ name: string; address: string; dueAt: string | null }>(newShoot, request.body);
    const id = randomUUID();
    await shoots.insert({ id, name: body.name, address: body.address, dueAt: body.dueAt ? new Date(body.dueAt) : null });
    response.status(201).location(`/api/shoots/${id}`).json({ id });
  });

  router.get('/shoots/:id', async (request, response) => {
    await mustExist(request.params.id);
    const shootId = request.params.id;
    const list = await frames.find({ where: { shootId }, order: { name: 'ASC' } });
    const shoot = await shoots.findOneByOrFail({ id: shootId });
    const steps = await database.getRepository(GroupingStepEntity).countBy({ shootId });
    response.json({ ...shoot, canUndo: shoot.groupingPosition > 0, canRedo: shoot.groupingPosition < steps, frames: list, shots: await shots.find({ where: { shootId }, order: { position: 'ASC' } }) });
  });

  // Room labels that were used before, most often first, and not yet in this shoot.
  router.get('/shoots/:id/labels', async (request, response) => {
    await mustExist(request.params.id);
    const rows: { label: string }[] = await database.query(
      `SELECT label FROM shots WHERE label !~ '^Shot [0-9]+$' AND label NOT IN (SELECT label FROM shots WHERE shoot_id = $1) GROUP BY label ORDER BY count(*) DESC, label LIMIT 40`,
      [request.params.id],
    );
    response.json(rows.map((row) => row.label));
  });

  // Which files need not be sent again: dropping a card a second time goes on where it stopped.
  router.post('/shoots/:id/frames/known', async (request, response) => {
    await mustExist(request.params.id);
    const { hashes } = valid<{ hashes: string[] }>(known, request.body);
    const there = hashes.length === 0 ? [] : await frames.find({ where: { shootId: request.params.id, sha256: In(hashes) }, select: { sha256: true } });
    response.json({ known: there.map((f) => f.sha256) });
  });

  router.post('/shoots/:id/frames', async (request, response) => {
    await mustExist(request.params.id);
    const name = valid<string>(fileName, request.query.name).replace(/^.*[\\/]/, '');
    if (Number(request.headers['content-length'] ?? 0) > MAX_FILE) throw new Problem(413, 'File too large', `Files may have at most ${MAX_FILE / 1e6} MB.`);
    const stored = await store.putOriginal(request, MAX_FILE);
    const id = await addFrame(workshop, request.params.id, name, stored);
    await announce(database, { kind: 'shoot', shoot: request.params.id });
    response.status(201).json({ id, sha256: stored.sha256 });
  });

  router.patch('/shots/:id', async (request, response) => {
    const { label } = valid<{ label: string }>(changeShot, request.body);
    const shot = Joi.string().uuid().validate(request.params.id).error ? null : await shots.findOneBy({ id: request.params.id });
    if (!shot) throw notFound('shot');
    await shots.update({ id: shot.id }, { label });
    await announce(database, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
    response.json({ ...shot, label });
  });

  return router;
}
