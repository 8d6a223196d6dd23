import { Router, type Response } from 'express';
import Joi from 'joi';
import sharp from 'sharp';
import type { Pixels } from '@zaddle/core/image/plane';
import { FrameEntity, type Frame } from '../data/entities';
import { packPixels, unpackPixels } from '../data/proxyFile';
import type { Workshop } from '../jobs/workshop';
import { decodeFrame } from '../picture/decodeFrame';
import { notFound, valid } from './problem';

const box = Joi.object({ x: Joi.number().integer().min(0), y: Joi.number().integer().min(0), w: Joi.number().integer().min(1).max(4096), h: Joi.number().integer().min(1).max(4096) }).options({ presence: 'required', convert: true });

/** Decoded originals kept for looking at 1:1, up to this many bytes. */
const CACHE = 700_000_000;

/** Keeps the latest decoded frames, since decoding starts at the top of a file for every part of it. */
class DecodedFrames {
  private readonly frames = new Map<string, Promise<Pixels>>();

  get(id: string, path: string): Promise<Pixels> {
    const found = this.frames.get(id) ?? decodeFrame(path);
    this.frames.delete(id);
    this.frames.set(id, found);
    found.then((pixels) => this.trim(pixels.data.byteLength), () => this.frames.delete(id));
    return found;
  }

  private trim(bytes: number): void {
    while (this.frames.size > 1 && this.frames.size * bytes > CACHE) this.frames.delete(this.frames.keys().next().value!);
  }
}

function crop(pixels: Pixels, x: number, y: number, w: number, h: number): Pixels {
  const width = Math.max(0, Math.min(w, pixels.width - x));
  const height = Math.max(0, Math.min(h, pixels.height - y));
  const data = new Uint8Array(width * height * 3);
  for (let row = 0; row < height; row++) data.set((pixels.data as Uint8Array).subarray(((y + row) * pixels.width + x) * 3, ((y + row) * pixels.width + x + width) * 3), row * width * 3);
  return { width, height, data };
}

/** Pictures of frames: thumbnails, previews, proxies, and full-size pixels of a part. They never change, so browsers may keep them. */
export function frameRoutes({ database, store }: Workshop): Router {
  const router = Router();
  const decoded = new DecodedFrames();
  const find = async (id: string): Promise<Frame> => {
    const frame = Joi.string().uuid().validate(id).error ? null : await database.getRepository(FrameEntity).findOneBy({ id });
    if (!frame || frame.state !== 'gathered') throw notFound('frame');
    return frame;
  };
  const keep = (response: Response): Response => response.set('Cache-Control', 'private, max-age=31536000, immutable');

  router.get('/frames/:id/thumbnail', async (request, response) => {
    const frame = await find(request.params.id);
    keep(response).type('image/jpeg').send(await store.readDerived('thumbnail', frame.id));
  });

  router.get('/frames/:id/picture', async (request, response) => {
    const frame = await find(request.params.id);
    const { width, height, data } = unpackPixels(await store.readDerived('proxy', frame.id));
    keep(response).type('image/jpeg').send(await sharp(data as Uint8Array, { raw: { width, height, channels: 3 } }).jpeg({ quality: 88 }).toBuffer());
  });

  router.get('/frames/:id/proxy', async (request, response) => {
    const frame = await find(request.params.id);
    keep(response).type('application/octet-stream').send(await store.readDerived('proxy', frame.id));
  });

  router.get('/frames/:id/pixels', async (request, response) => {
    const frame = await find(request.params.id);
    const { x, y, w, h } = valid<{ x: number; y: number; w: number; h: number }>(box, Object.fromEntries(Object.entries(request.query).map(([k, v]) => [k, Number(v)])));
    const pixels = await decoded.get(frame.id, store.original(frame.sha256));
    keep(response).type('application/octet-stream').send(Buffer.from(packPixels(crop(pixels, x, y, w, h))));
  });

  return router;
}
