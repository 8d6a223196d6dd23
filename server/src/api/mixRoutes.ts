import { Router } from 'express';
import Joi from 'joi';
import { changeReference } from '@zaddle/core/mix/changeReference';
import { commandSchema, InvalidMix, type Command, type MixDocument } from '@zaddle/document';
import { FrameEntity, MixEntity, ShotEntity } from '../data/entities';
import { applyStep, moveInHistory, NoSuchMix, NoSuchStep, viewMix, type MixView } from '../data/mixHistory';
import type { Workshop } from '../jobs/workshop';
import { notFound, Problem, valid } from './problem';

const otherReference = Joi.object({ frame: Joi.string().uuid().required() });

/** What the history refuses, as a problem of the request. */
const asked = (work: Promise<MixView>): Promise<MixView> =>
  work.catch((error: unknown) => {
    if (error instanceof NoSuchMix) throw notFound('mix');
    if (error instanceof NoSuchStep) throw new Problem(409, 'Nothing there', 'There is no further step in this direction.');
    throw error;
  });

/** The same mix on another of its frames, as one step of the history. @throws InvalidMix */
function onReference(document: MixDocument, frame: string): Command {
  if (!(frame in document.frames)) throw new InvalidMix('This frame could not be lined up, so nothing can be lined up to it. Line it up by hand first.');
  const { reference, frames, passes, geometry } = changeReference(document, frame) as MixDocument;
  return { kind: 'changeMix', changes: { reference, frames, passes, geometry } };
}

/** The mix of a shot: read, change by commands, undo, redo. History lies in the database and survives everything. */
export function mixRoutes({ database }: Workshop): Router {
  const router = Router();

  router.get('/shots/:id', async (request, response) => {
    const shot = Joi.string().uuid().validate(request.params.id).error ? null : await database.getRepository(ShotEntity).findOneBy({ id: request.params.id });
    if (!shot) throw notFound('shot');
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: shot.id });
    const frames = await database.getRepository(FrameEntity).find({ where: { shotId: shot.id }, order: { name: 'ASC' } });
    response.json({ shot, frames, mix: mix ? await viewMix(database.manager, mix) : null });
  });

  router.post('/shots/:id/mix/commands', async (request, response) => {
    const command = valid<Command>(commandSchema, request.body);
    response.json(await asked(applyStep(database, request.params.id, () => command)));
  });

  router.post('/shots/:id/mix/reference', async (request, response) => {
    const { frame } = valid<{ frame: string }>(otherReference, request.body);
    response.json(await asked(applyStep(database, request.params.id, (document) => onReference(document, frame))));
  });

  router.post('/shots/:id/mix/undo', async (request, response) => void response.json(await asked(moveInHistory(database, request.params.id, 'undo'))));
  router.post('/shots/:id/mix/redo', async (request, response) => void response.json(await asked(moveInHistory(database, request.params.id, 'redo'))));

  return router;
}
