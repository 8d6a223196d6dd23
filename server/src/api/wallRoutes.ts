import { Router } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { leaningState } from '@zaddle/core/read/leaningReading';
import type { Reading } from '@zaddle/core/read/readings';
import { handGain } from '@zaddle/core/set/handGain';
import { setReadings } from '@zaddle/core/set/setReadings';
import type { Look } from '@zaddle/core/set/lookOf';
import { wholeText } from '@zaddle/document';
import { onTour } from '../data/onTour';
import { announce } from '../data/events';
import { noteHand } from '../data/mixHistory';
import { ReviewEntity, SetRunEntity, ShootEntity, ShotEntity, ShotLookEntity, type Review, type Shoot, type Shot } from '../data/entities';
import { MOST_TRIES } from '../jobs/previewTask';
import { send } from '../jobs/queues';
import type { ServerWorkshop } from '../jobs/workshop';
import { roomsOfShoot } from '../set/shotViews';
import { measuredMembers, setTogether, takeTogetherBack } from '../set/setTogether';
import { isUuid, notFound, Problem, uuid, valid } from './problem';

const review = Joi.object({
  state: Joi.valid('approved', 'sent back', 'later', null).required(),
  note: Joi.string().allow('').max(1000).custom(wholeText).default(''),
  revision: Joi.number().integer().min(0).required(),
});
const tour = Joi.object({ shots: Joi.array().items(uuid).min(1).max(2000).unique().required() });
const together = Joi.object({
  shots: Joi.alternatives().try(Joi.valid('all'), Joi.array().items(uuid).min(1).max(2000).unique()).required(),
  light: Joi.boolean().required(), colour: Joi.boolean().required(), strength: Joi.number().min(0).max(1).required(),
});

/** Readings of a shot with how its picture leans as it was drawn last. */
const nowReadings = (readings: readonly Reading[], look: Look | null): Reading[] => readings.map((reading) => (reading.kind === 'leaning' && look && look.leaning !== null ? { ...reading, value: look.leaning, state: leaningState(look.leaning) } : reading));

/** What is to be known of a mix without its document. */
interface Standing { readonly shot: string; readonly revision: number; readonly position: number; readonly reference: string }

/** The wall: all pictures of a shoot as a set, what people think of each, and bringing them together. */
export function wallRoutes({ database, boss, store }: ServerWorkshop): Router {
  const router = Router();
  const shootOf = async (id: unknown): Promise<Shoot> => {
    const shoot = isUuid(id) ? await database.getRepository(ShootEntity).findOneBy({ id }) : null;
    if (!shoot) throw notFound('shoot');
    return shoot;
  };
  const shotOf = async (id: unknown): Promise<Shot> => {
    const shot = isUuid(id) ? await database.getRepository(ShotEntity).findOneBy({ id, retired: false }) : null;
    if (!shot) throw notFound('shot');
    return shot;
  };
  const shotsOf = (shootId: string): Promise<Shot[]> => database.getRepository(ShotEntity).find({ where: { shootId, retired: false }, order: { position: 'ASC' } });

  router.get('/shoots/:id/wall', async (request, response) => {
    const shoot = await shootOf(request.params.id);
    const shots = (await shotsOf(shoot.id)).sort(onTour);
    const ids = shots.map(({ id }) => id);
    const [mixes, looks, reviews] = await Promise.all([database.query(`SELECT shot_id AS shot, revision, position, document->>'reference' AS reference FROM mixes WHERE shot_id = ANY($1)`, [ids]) as Promise<Standing[]>, database.getRepository(ShotLookEntity).findBy({ shotId: In(ids) }), database.getRepository(ReviewEntity).findBy({ shotId: In(ids) })]);
    const [set, { rooms, described }] = [setReadings(await measuredMembers(database, shoot.id)), await roomsOfShoot(database, shoot.id)];
    const wall = [];
    for (const shot of shots) {
      const mix = mixes.find((each) => each.shot === shot.id);
      const look = looks.find(({ shotId }) => shotId === shot.id);
      const given = reviews.find(({ shotId }) => shotId === shot.id);
      const isDrawn = mix !== undefined && look?.revision === mix.revision;
      const isGivenUp = mix !== undefined && look?.tried === mix.revision && look.attempts >= MOST_TRIES;
      // Who looks at the wall wants pictures as they stand. What was drawn long ago, or came from an archive, was not described.
      if (mix && !(isDrawn && described.has(shot.id)) && !isGivenUp) await send(boss, 'preview', { shot: shot.id });
      const readings = mix ? nowReadings(shot.readings, look?.look ?? null) : [];
      const ofSet = set.get(shot.id) ?? [];
      wall.push({
        id: shot.id, label: shot.label, room: rooms.get(shot.id) ?? null, state: shot.state, why: shot.why, reference: mix?.reference ?? null, revision: mix?.revision ?? null,
        preview: look?.revision ?? null, drawing: mix !== undefined && !isDrawn && !isGivenUp, touched: (mix?.position ?? 0) > 0,
        review: given ? { state: given.state, note: given.note, changedSince: given.revision !== mix?.revision } : null,
        readings: readings.filter(({ state }) => state !== 'good').map(({ kind, state, text }) => ({ kind, state, text })), set: ofSet, gain: handGain(readings, ofSet),
        places: look?.look?.places ?? {}, ratio: look?.look?.ratio ?? null,
      });
    }
    const [run] = await database.getRepository(SetRunEntity).find({ where: { shootId: shoot.id }, order: { createdAt: 'DESC' }, take: 1 });
    response.json({ name: shoot.name, dueAt: shoot.dueAt, shots: wall, last: run && !run.takenBack && run.shots.length > 0 ? { id: run.id, shots: run.shots.length } : null });
  });

  router.get('/shots/:id/preview', async (request, response) => {
    const shot = await shotOf(request.params.id);
    const kept = await database.getRepository(ShotLookEntity).findOneBy({ shotId: shot.id });
    if (!kept || kept.revision === null) throw notFound('picture of this shot yet');
    const file = await store.readDerived('preview', shot.id);
    // Asked for by the revision that it shows, it stays the same.
    response.set('Cache-Control', request.query.revision === String(kept.revision) ? 'private, max-age=31536000, immutable' : 'no-store').type('image/jpeg').send(file);
  });

  router.put('/shots/:id/review', async (request, response) => {
    const shot = await shotOf(request.params.id);
    const { state, note, revision } = valid<{ state: Review['state'] | null; note: string; revision: number }>(review, request.body);
    const reviews = database.getRepository(ReviewEntity);
    if (state === null) await reviews.delete({ shotId: shot.id });
    else await reviews.upsert({ shotId: shot.id, state, note, revision, at: new Date() }, ['shotId']);
    await noteHand(database.manager, shot.id);
    await announce(database, { kind: 'wall', shoot: shot.shootId });
    response.json({ state, note, revision });
  });

  router.put('/shoots/:id/tour', async (request, response) => {
    const shoot = await shootOf(request.params.id);
    const { shots } = valid<{ shots: string[] }>(tour, request.body);
    const all = (await shotsOf(shoot.id)).sort(onTour).map(({ id }) => id);
    if (shots.some((id) => !all.includes(id))) throw notFound('shot in this shoot');
    // Those that are not named, since they came meanwhile, come after.
    const order = [...shots, ...all.filter((id) => !shots.includes(id))];
    await database.transaction(async (manager) => {
      for (const [place, id] of order.entries()) await manager.getRepository(ShotEntity).update({ id }, { tour: place });
    });
    await announce(database, { kind: 'wall', shoot: shoot.id });
    response.json({ shots: order });
  });

  router.post('/shoots/:id/together', async (request, response) => {
    const shoot = await shootOf(request.params.id);
    const { shots, ...wanted } = valid<{ shots: 'all' | string[]; light: boolean; colour: boolean; strength: number }>(together, request.body);
    const made = await setTogether(database, shoot.id, shots, wanted);
    await announce(database, { kind: 'wall', shoot: shoot.id });
    response.json(made);
  });

  router.post('/set-runs/:id/back', async (request, response) => {
    const run = isUuid(request.params.id) ? await database.getRepository(SetRunEntity).findOneBy({ id: request.params.id }) : null;
    if (!run) throw notFound('bringing together');
    if (run.takenBack) throw new Problem(409, 'Taken back already', 'This was taken back already.');
    const back = await takeTogetherBack(database, run);
    await announce(database, { kind: 'wall', shoot: run.shootId });
    response.json(back);
  });

  return router;
}
