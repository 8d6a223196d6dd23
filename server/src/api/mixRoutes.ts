import { createHash } from 'node:crypto';
import { Router, type Request } from 'express';
import Joi from 'joi';
import { In } from 'typeorm';
import { changeReference } from '@zaddle/core/mix/changeReference';
import { commandSchema, InvalidMix, readTrusted, tablesOf, type Command, type FrameUse, type MixChanges, type MixDocument } from '@zaddle/document';
import { unknownTables } from '../data/colourTables';
import { ReviewEntity, FrameEntity, MixEntity, MixVersionEntity, ShotEntity, type Frame } from '../data/entities';
import { applyStep, moveInHistory, NoSuchMix, NoSuchStep, StaleChange, viewMix, type Asker, type MixView } from '../data/mixHistory';
import { dustOf } from '../found/dust';
import { foundOf } from '../found/foundStore';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound, Problem, uuid, valid } from './problem';

const otherReference = Joi.object({ frame: uuid.required() });
const otherVersion = Joi.object({ version: uuid.required() });
const revision = Joi.number().integer().min(0).max(2 ** 31 - 1);

/**
 * Who asks: `Base-Revision`, which a change was made on; `Known-Revision`, whose document they have; `Editor-Id`, who they are;
 * `Idempotency-Key`, a name of the request, so that one that is repeated is done once.
 */
function askerOf({ headers }: Request): Asker {
  const number = (name: string): number | null => (headers[name] === undefined ? null : valid<number>(revision, Number(headers[name])));
  const name = (header: string): string | null => (headers[header] === undefined ? null : valid<string>(uuid, headers[header]));
  return { base: number('base-revision'), known: number('known-revision'), request: name('idempotency-key'), editor: name('editor-id') };
}

/** What the history refuses, as a problem of the request. */
const asked = (work: Promise<MixView>): Promise<MixView> =>
  work.catch((error: unknown) => {
    if (error instanceof NoSuchMix) throw notFound('mix');
    if (error instanceof NoSuchStep) throw new Problem(409, 'Nothing there', 'There is no further step in this direction.');
    if (error instanceof StaleChange) throw new Problem(409, 'Changed meanwhile', error.message, { mix: error.view });
    throw error;
  });

/** What a document may leave out, and this one has: where a version has none, none is there after going back to it. */
const leftOutOf = (version: object, document: MixDocument): MixChanges => Object.fromEntries(Object.keys(document).filter((key) => !(key in version)).map((key) => [key, null]));

/** Frames that a command brings into a mix. */
const broughtIn = (command: Command): { id: string; use: FrameUse }[] => (command.kind === 'addFrame' ? [command] : command.kind === 'several' ? command.commands.flatMap(broughtIn) : []);

/** Colour tables that a command puts colours through. */
function tablesIn(command: Command): string[] {
  switch (command.kind) {
    case 'several': return command.commands.flatMap(tablesIn);
    case 'addPass': return tablesOf([command.pass]);
    case 'changePass': return tablesOf([command.changes]);
    case 'changeMix': return tablesOf(Array.isArray(command.changes.passes) ? command.changes.passes : []);
    default: return [];
  }
}

/** The same mix on another of its frames, as one step of the history. @throws InvalidMix */
function onReference(document: MixDocument, frame: string): Command {
  if (!Object.hasOwn(document.frames, frame)) throw new InvalidMix('This frame could not be lined up, so nothing can be lined up to it. Line it up by hand first.');
  const { reference, frames, passes, geometry, framing = null } = changeReference(document, frame) as MixDocument;
  return { kind: 'changeMix', changes: { reference, frames, passes, geometry, framing } };
}

/** The mix of a shot: read, change by commands, undo, redo. History lies in the database and survives everything. */
export function mixRoutes({ database, store }: ServerWorkshop): Router {
  const router = Router();

  /** The id of a shot that has a mix. */
  const shotOf = (id: string): string => {
    if (!isUuid(id)) throw notFound('mix');
    return id;
  };
  /** Frames that come in must be there, in the same shoot, and as large as they are said to be. */
  const checkFrames = async (shot: string, command: Command): Promise<void> => {
    const uses = broughtIn(command);
    if (uses.length === 0) return;
    const found: Frame[] = await database.getRepository(FrameEntity).createQueryBuilder('f')
      .where('f.id::text = ANY(:ids) AND f.state = :state AND f.shoot_id = (SELECT s.shoot_id FROM shots s WHERE s.id = :shot)', { ids: uses.map((u) => u.id), state: 'gathered', shot }).getMany();
    for (const { id, use } of uses) {
      const facts = found.find((f) => f.id === id)?.facts;
      if (!facts) throw new InvalidMix('This frame is not there, or belongs to another shoot.');
      if (facts.width !== use.width || facts.height !== use.height) throw new InvalidMix(`This frame has ${facts.width} × ${facts.height} pixels.`);
    }
  };

  /** Colour tables that come in must be there. */
  const checkTables = async (command: Command): Promise<void> => {
    if ((await unknownTables(database, tablesIn(command))).length > 0) throw new InvalidMix('This colour table is not here. Add its .cube file first.');
  };

  /** @throws Problem when a frame was deleted since. */
  const mustHold = async (ids: readonly string[]): Promise<void> => {
    const held = await database.getRepository(FrameEntity).countBy({ id: In([...ids]), state: 'gathered' });
    if (held < ids.length) throw new Problem(409, 'Frames gone', 'Frames of this version were deleted, so it cannot be made again.');
  };

  router.get('/shots/:id', async (request, response) => {
    const shot = isUuid(request.params.id) ? await database.getRepository(ShotEntity).findOneBy({ id: request.params.id, retired: false }) : null;
    if (!shot) throw notFound('shot');
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: shot.id });
    const frames = await database.getRepository(FrameEntity).find({ where: { shotId: shot.id }, order: { name: 'ASC' } });
    response.json({ shot, frames, mix: mix ? await viewMix(database.manager, mix) : null, review: await database.getRepository(ReviewEntity).findOne({ where: { shotId: shot.id }, select: { shotId: true, state: true, note: true } as never }), dust: mix ? await dustOf(database, shot, readTrusted(mix.document)) : [] });
  });

  // What the masks of a shot's mix refer to, packed: it is found once, by the server.
  router.get('/shots/:id/found', async (request, response) => {
    const id = shotOf(request.params.id);
    const mix = await database.getRepository(MixEntity).findOneBy({ shotId: id });
    if (!mix) throw notFound('mix');
    const { packed } = await foundOf(store, id, readTrusted(mix.document));
    // The browser asks each time, and gets it only where it changed.
    response.set({ 'Cache-Control': 'private, no-cache', ETag: `"${createHash('sha1').update(packed).digest('base64url')}"` });
    if (request.fresh) response.status(304).end();
    else response.type('application/octet-stream').end(packed);
  });

  // What was worked out in a wide context when the shot's picture was drawn last: only to be sooner.
  router.get('/shots/:id/wide', async (request, response) => {
    const packed = await store.readDerived('wide', shotOf(request.params.id)).catch(() => null);
    if (packed) response.set('Cache-Control', 'private, no-cache').type('application/octet-stream').send(packed);
    else response.status(204).end();
  });

  router.post('/shots/:id/mix/commands', async (request, response) => {
    const shot = shotOf(request.params.id);
    const command = valid<Command>(commandSchema, request.body);
    await checkFrames(shot, command);
    await checkTables(command);
    response.json(await asked(applyStep(database, shot, () => command, askerOf(request))));
  });

  router.post('/shots/:id/mix/reference', async (request, response) => {
    const { frame } = valid<{ frame: string }>(otherReference, request.body);
    response.json(await asked(applyStep(database, shotOf(request.params.id), (document) => onReference(document, frame), askerOf(request))));
  });

  // Back to a version, as one step: what stands now is an undo away.
  router.post('/shots/:id/mix/version', async (request, response) => {
    const shotId = shotOf(request.params.id);
    const { version: id } = valid<{ version: string }>(otherVersion, request.body);
    const kept = await database.getRepository(MixVersionEntity).findOneBy({ id, shotId });
    if (!kept) throw notFound('version');
    const { version: _, ...state } = readTrusted(kept.document);
    await mustHold(Object.keys(state.frames));
    response.json(await asked(applyStep(database, shotId, (document) => ({ kind: 'changeMix', changes: { ...leftOutOf(kept.document, document), ...state } }), askerOf(request))));
  });

  router.post('/shots/:id/mix/undo', async (request, response) => void response.json(await asked(moveInHistory(database, shotOf(request.params.id), 'undo', askerOf(request)))));
  router.post('/shots/:id/mix/redo', async (request, response) => void response.json(await asked(moveInHistory(database, shotOf(request.params.id), 'redo', askerOf(request)))));

  return router;
}
