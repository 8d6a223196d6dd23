import { Router, type Response } from 'express';
import Joi from 'joi';
import sharp from 'sharp';
import { FrameEntity, type Frame } from '../data/entities';
import type { Derived } from '../data/fileStore';
import { packPixels, unpackPixels } from '../data/proxyFile';
import type { ServerWorkshop } from '../jobs/workshop';
import { LEVELS, type Level } from '../levels/levelSize';
import type { LevelStore, Part } from '../levels/levelStore';
import { halved } from '../picture/makeProxy';
import { isUuid, notFound, Problem, valid } from './problem';

const side = Joi.number().integer().min(0).max(100_000).required();
const box = Joi.object({ x: side, y: side, w: side.min(1), h: side.min(1), level: Joi.number().valid(...LEVELS).default(0) });
const proxySize = Joi.object({ half: Joi.number().valid(0, 1).required() });
/** Most pixels of an answer: a screen of 8000 × 6000. */
const MOST = 48_000_000;

/** Pictures of frames: thumbnails, previews, proxies, and pixels of a part at a level (0 is the original, each further one half as large). They never change, so browsers may keep them. */
export function frameRoutes({ database, store }: ServerWorkshop, levels: LevelStore): Router {
  const router = Router();
  const find = async (id: string): Promise<Frame> => {
    const frame = isUuid(id) ? await database.getRepository(FrameEntity).findOneBy({ id }) : null;
    if (!frame || frame.state !== 'gathered') throw notFound('frame');
    return frame;
  };
  /** What gathering made of a frame; gone, it is made again when the shot is next worked with. */
  const derived = (kind: Derived, id: string): Promise<Buffer> => store.readDerived(kind, id).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'ENOENT' ? new Problem(404, 'Not found', 'This frame’s picture is gone from the store. Drop its file again.') : error;
  });
  const keep = (response: Response): Response => response.set('Cache-Control', 'private, max-age=31536000, immutable');

  router.get('/frames/:id/thumbnail', async (request, response) => {
    const frame = await find(request.params.id);
    keep(response).type('image/jpeg').send(await derived('thumbnail', frame.id));
  });

  router.get('/frames/:id/picture', async (request, response) => {
    const frame = await find(request.params.id);
    const { width, height, data } = unpackPixels(await derived('proxy', frame.id));
    keep(response).type('image/jpeg').send(await sharp(data as Uint8Array, { raw: { width, height, channels: 3 } }).jpeg({ quality: 88 }).toBuffer());
  });

  /** A proxy at half its size; made now for frames that were gathered before it was kept. */
  const halfProxy = async (id: string): Promise<Uint8Array> => {
    const kept = await store.readDerived('half', id).catch(() => null);
    if (kept) return kept;
    const proxy = unpackPixels(await derived('proxy', id));
    const packed = packPixels(halved(proxy));
    // Without room it is made again the next time.
    await store.putDerived('half', id, packed).catch(() => undefined);
    return packed;
  };

  router.get('/frames/:id/proxy', async (request, response) => {
    const frame = await find(request.params.id);
    const { half } = valid<{ half: number }>(proxySize, { half: Number(request.query.half ?? 0) });
    const packed = half ? await halfProxy(frame.id) : await derived('proxy', frame.id);
    // Ended by hand: a digest of megabytes that never change would cost more than sending them.
    keep(response).type('application/octet-stream').end(packed);
  });

  router.get('/frames/:id/pixels', async (request, response) => {
    const frame = await find(request.params.id);
    const { level, ...part } = valid<Part & { level: Level }>(box, Object.fromEntries(Object.entries(request.query).map(([k, v]) => [k, typeof v === 'string' && v !== '' ? Number(v) : v])));
    if (part.w * part.h > MOST) throw new Problem(400, 'Too large', `At most ${MOST / 1e6} megapixels can be asked for at once; ask for a smaller level.`);
    const { width, height, deep = false } = frame.facts!;
    const pixels = await levels.read({ id: frame.id, sha256: frame.sha256, width, height, deep }, level, part);
    keep(response).type('application/octet-stream').end(packPixels(pixels));
  });

  return router;
}
