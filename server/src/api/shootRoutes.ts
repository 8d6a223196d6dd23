import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { In, Not } from 'typeorm';
import { announce } from '../data/events';
import { FrameEntity, GroupingStepEntity, ShootEntity, ShotEntity } from '../data/entities';
import { deleteFrame, deleteShoot } from '../data/frames';
import type { ServerWorkshop } from '../jobs/workshop';
import { inReach, isUuid, notFound, Problem, typed, valid } from './problem';

const newShoot = Joi.object({ name: typed(120).min(1).required(), address: typed(200).allow('').default(''), dueAt: Joi.string().isoDate().custom(inReach).allow(null).default(null) });
const known = Joi.object({ hashes: Joi.array().items(Joi.string().hex().length(64)).max(2000).required() });
const changeShot = Joi.object({ label: typed(80).min(1).required() });

/** All shoots with what the list shows of each, in one statement: there may be hundreds. */
const SUMMARIES = `
  SELECT s.id, s.name, s.address, s.due_at AS "dueAt", s.created_at AS "createdAt", s.live, s.grouping_position AS "groupingPosition",
    json_build_object('waiting', coalesce(f.waiting, 0), 'gathered', coalesce(f.gathered, 0), 'rejected', coalesce(f.rejected, 0)) AS frames,
    coalesce(t.shots, 0) AS shots, coalesce(t.mixed, 0) AS mixed, coalesce(t.delivered, 0) AS delivered, coalesce(t.approved, 0) AS approved, coalesce(t."sentBack", 0) AS "sentBack", f.cover
  FROM shoots s
  LEFT JOIN (SELECT shoot_id, count(*) FILTER (WHERE state = 'waiting')::int AS waiting, count(*) FILTER (WHERE state = 'gathered')::int AS gathered, count(*) FILTER (WHERE state = 'rejected')::int AS rejected,
      (array_agg(id ORDER BY name) FILTER (WHERE state = 'gathered' AND used))[1] AS cover FROM frames GROUP BY shoot_id) f ON f.shoot_id = s.id
  LEFT JOIN (SELECT shoot_id, count(*)::int AS shots, count(*) FILTER (WHERE state = 'mixed')::int AS mixed,
      count(*) FILTER (WHERE EXISTS (SELECT FROM deliveries d WHERE d.shot_id = shots.id AND d.state = 'done'))::int AS delivered,
      count(*) FILTER (WHERE EXISTS (SELECT FROM reviews r JOIN mixes m USING (shot_id) WHERE r.shot_id = shots.id AND r.state = 'approved' AND r.revision = m.revision))::int AS approved,
      count(*) FILTER (WHERE EXISTS (SELECT FROM reviews r WHERE r.shot_id = shots.id AND r.state = 'sent back'))::int AS "sentBack" FROM shots WHERE NOT retired GROUP BY shoot_id) t ON t.shoot_id = s.id
  ORDER BY s.created_at DESC`;

/** Shoots, their frames and shots. */
export function shootRoutes(workshop: ServerWorkshop): Router {
  const { database } = workshop;
  const router = Router();
  const shoots = database.getRepository(ShootEntity);
  const frames = database.getRepository(FrameEntity);
  const shots = database.getRepository(ShotEntity);
  const mustExist = async (id: string): Promise<void> => {
    if (isUuid(id) && (await shoots.existsBy({ id }))) return;
    throw notFound('shoot');
  };

  router.get('/shoots', async (_request, response) => {
    response.json(await database.query(SUMMARIES));
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
    response.json({ ...shoot, canUndo: shoot.groupingPosition > 0, canRedo: shoot.groupingPosition < steps, frames: list, shots: await shots.find({ where: { shootId, retired: false }, order: { position: 'ASC' } }) });
  });

  // Room labels that were used before, most often first, and not yet in this shoot.
  router.get('/shoots/:id/labels', async (request, response) => {
    await mustExist(request.params.id);
    const rows: { label: string }[] = await database.query(
      `SELECT label FROM shots WHERE NOT retired AND label !~ '^Shot [0-9]+$' AND label NOT IN (SELECT label FROM shots WHERE shoot_id = $1) GROUP BY label ORDER BY count(*) DESC, label LIMIT 40`,
      [request.params.id],
    );
    response.json(rows.map((row) => row.label));
  });

  // Which files need not be sent again: dropping a card a second time goes on where it stopped.
  router.post('/shoots/:id/frames/known', async (request, response) => {
    await mustExist(request.params.id);
    const { hashes } = valid<{ hashes: string[] }>(known, request.body);
    // Rejected ones may be sent again: they are tried again then.
    const there = hashes.length === 0 ? [] : await frames.find({ where: { shootId: request.params.id, sha256: In(hashes), state: Not('rejected') }, select: { sha256: true } });
    // Of a shoot that came from an archive without its files, they can be sent again.
    const stored = await Promise.all(there.map(({ sha256 }) => workshop.store.hasOriginal(sha256)));
    response.json({ known: there.filter((_, k) => stored[k]).map((f) => f.sha256) });
  });

  router.delete('/shoots/:id', async (request, response) => {
    await mustExist(request.params.id);
    await deleteShoot(workshop, request.params.id);
    await announce(database, { kind: 'shoot', shoot: request.params.id });
    response.status(204).end();
  });

  // Only what no picture is made from: a frame is dropped from its shot first, or was rejected.
  router.delete('/frames/:id', async (request, response) => {
    const frame = isUuid(request.params.id) ? await frames.findOneBy({ id: request.params.id }) : null;
    if (!frame) throw notFound('frame');
    if (frame.shotId !== null || (frame.state === 'gathered' && !frame.dropped)) throw new Problem(409, 'Still in a shot', `${frame.name} lies in a shot. Drop it from there first.`);
    await deleteFrame(workshop, frame);
    await announce(database, { kind: 'shoot', shoot: frame.shootId });
    response.status(204).end();
  });

  router.patch('/shots/:id', async (request, response) => {
    const { label } = valid<{ label: string }>(changeShot, request.body);
    const shot = isUuid(request.params.id) ? await shots.findOneBy({ id: request.params.id, retired: false }) : null;
    if (!shot) throw notFound('shot');
    await shots.update({ id: shot.id }, { label });
    await announce(database, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
    response.json({ ...shot, label });
  });

  return router;
}
