import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import Joi from 'joi';
import { In, type EntityManager } from 'typeorm';
import { regroup, RegroupError, type Grouping, type GroupingCommand } from '@zaddle/core/intake/regroup';
import { announce, announceIn } from '../data/events';
import { FrameEntity, GroupingStepEntity, ShootEntity, ShotEntity, type Shoot } from '../data/entities';
import { dropMix, keepWorkedMix, readGrouping, writeGrouping } from '../data/grouping';
import { send } from '../jobs/queues';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, uuid, valid } from './problem';

const id = uuid;
const ids = Joi.array().items(id).min(1).max(5000).unique().required();
const command = Joi.alternatives().try(
  Joi.object({ kind: Joi.valid('move').required(), frames: ids, to: id.required() }),
  Joi.object({ kind: Joi.valid('gather').required(), frames: ids }),
  Joi.object({ kind: Joi.valid('split').required(), before: id.required() }),
  Joi.object({ kind: Joi.valid('join').required(), shots: ids }),
  Joi.object({ kind: Joi.valid('singles').required(), shot: id.required() }),
  Joi.object({ kind: Joi.valid('every').required(), frames: ids, count: Joi.number().integer().min(1).max(40).required() }),
  Joi.object({ kind: Joi.valid('drop').required(), frames: ids }),
);
const marks = Joi.object({ frames: ids, marked: Joi.boolean().required() });

/** Correcting shots by hand, with undo; marking frames; starting a mix anew. */
export function groupingRoutes({ database, boss }: ServerWorkshop): Router {
  const router = Router();

  /** Runs a change of the grouping with the shoot locked, then has changed shots proposed. */
  const change = async (shootId: string, act: (manager: EntityManager, shoot: Shoot) => Promise<{ target: Grouping; position: number }>): Promise<{ canUndo: boolean; canRedo: boolean }> => {
    return database.transaction(async (manager) => {
      const shoot = !isUuid(shootId) ? null : await manager.getRepository(ShootEntity).findOne({ where: { id: shootId }, lock: { mode: 'pessimistic_write' } });
      if (!shoot) throw notFound('shoot');
      const { target, position } = await act(manager, shoot);
      const shots = await writeGrouping(manager, shootId, target);
      await manager.getRepository(ShootEntity).update({ id: shootId }, { groupingPosition: position });
      const steps = await manager.getRepository(GroupingStepEntity).countBy({ shootId });
      for (const shot of shots) await send(boss, 'propose', { shot }, { within: manager });
      await announceIn(manager, { kind: 'shoot', shoot: shootId });
      return { canUndo: position > 0, canRedo: position < steps };
    });
  };

  router.post('/shoots/:id/grouping/commands', async (request, response) => {
    const asked = valid<GroupingCommand>(command, request.body);
    response.json(
      await change(request.params.id, async (manager, shoot) => {
        const { grouping, order } = await readGrouping(manager, shoot.id);
        let target: Grouping;
        try {
          target = regroup(grouping, asked, order, randomUUID);
        } catch (error) {
          throw error instanceof RegroupError ? new Problem(409, 'Not possible', error.message) : error;
        }
        const position = shoot.groupingPosition + 1;
        const steps = manager.getRepository(GroupingStepEntity);
        // A new step after an undo takes the place of what was undone.
        await steps.createQueryBuilder().delete().where('shoot_id = :shoot AND step >= :position', { shoot: shoot.id, position }).execute();
        await steps.insert({ shootId: shoot.id, step: position, before: grouping, after: target } as never);
        return { target, position };
      }),
    );
  });

  const step = async (manager: EntityManager, shootId: string, number: number): Promise<{ before: Grouping; after: Grouping }> => {
    const found = await manager.getRepository(GroupingStepEntity).findOneBy({ shootId, step: number });
    if (!found) throw new Problem(409, 'Nothing there', 'There is no further step in this direction.');
    return found;
  };
  /** Frames that came after a step was made stay where they are; those that were deleted since are left out. */
  const withLater = async (manager: EntityManager, shootId: string, stored: Grouping): Promise<Grouping> => {
    const { grouping, order } = await readGrouping(manager, shootId);
    const there = new Set(order);
    const known = new Set([...stored.shots.flatMap((s) => s.frames), ...stored.dropped]);
    const shots = stored.shots.map(({ id: shot, frames }) => ({ id: shot, frames: frames.filter((f) => there.has(f)) })).filter((s) => s.frames.length > 0);
    for (const { id: shot, frames } of grouping.shots) {
      const late = frames.filter((f) => !known.has(f));
      if (late.length === 0) continue;
      const home = shots.find((s) => s.id === shot);
      if (home) home.frames.push(...late);
      else shots.push({ id: shot, frames: late });
    }
    return { shots, dropped: [...stored.dropped.filter((f) => there.has(f)), ...grouping.dropped.filter((f) => !known.has(f))] };
  };

  router.post('/shoots/:id/grouping/undo', async (request, response) => {
    response.json(await change(request.params.id, async (manager, shoot) => ({ target: await withLater(manager, shoot.id, (await step(manager, shoot.id, shoot.groupingPosition)).before), position: shoot.groupingPosition - 1 })));
  });

  router.post('/shoots/:id/grouping/redo', async (request, response) => {
    response.json(await change(request.params.id, async (manager, shoot) => ({ target: await withLater(manager, shoot.id, (await step(manager, shoot.id, shoot.groupingPosition + 1)).after), position: shoot.groupingPosition + 1 })));
  });

  router.post('/shoots/:id/marks', async (request, response) => {
    const asked = valid<{ frames: string[]; marked: boolean }>(marks, request.body);
    const shootId = valid<string>(id.required(), request.params.id);
    const { affected } = await database.getRepository(FrameEntity).update({ id: In(asked.frames), shootId }, { marked: asked.marked });
    if (!affected) throw notFound('frame');
    await announce(database, { kind: 'shoot', shoot: shootId });
    response.status(204).end();
  });

  // Of two files of one exposure, the one to work with.
  router.post('/frames/:id/want', async (request, response) => {
    const frame = !isUuid(request.params.id) ? null : await database.getRepository(FrameEntity).findOneBy({ id: request.params.id });
    if (!frame) throw notFound('frame');
    const main = frame.facts?.twinOf;
    if (!main) throw new Problem(409, 'Nothing to change', 'This file is worked with already, or is no second file of an exposure.');
    await database.transaction(async (manager) => {
      const frames = manager.getRepository(FrameEntity);
      for (const other of await frames.findBy({ shootId: frame.shootId, state: 'gathered' })) {
        const facts = other.facts!;
        if (other.id === frame.id) await frames.update({ id: other.id }, { facts: { ...facts, twinOf: null, wanted: true } as never });
        else if (other.id === main || facts.twinOf === main) await frames.update({ id: other.id }, { facts: { ...facts, twinOf: frame.id, wanted: false } as never });
      }
      await announceIn(manager, { kind: 'shoot', shoot: frame.shootId });
      if (!frame.shotId || (await keepWorkedMix(manager, frame.shotId))) return;
      await manager.getRepository(ShotEntity).update({ id: frame.shotId }, { state: 'sorted', readings: [] as never, attempts: 0 });
      await send(boss, 'propose', { shot: frame.shotId }, { within: manager });
    });
    response.status(204).end();
  });

  router.post('/shots/:id/mix/anew', async (request, response) => {
    const shot = isUuid(request.params.id) ? await database.getRepository(ShotEntity).findOneBy({ id: request.params.id, retired: false }) : null;
    if (!shot) throw notFound('shot');
    await database.transaction(async (manager) => {
      await dropMix(manager, shot.id);
      await manager.getRepository(ShotEntity).update({ id: shot.id }, { state: 'sorted', readings: [] as never, attempts: 0 });
      await send(boss, 'propose', { shot: shot.id }, { within: manager });
      await announceIn(manager, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
    });
    response.status(202).json({ id: shot.id });
  });

  return router;
}
