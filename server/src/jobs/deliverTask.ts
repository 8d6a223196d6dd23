import { makeGuides } from '@zaddle/core/mix/guides';
import { prepareMix } from '@zaddle/core/mix/prepareMix';
import type { Pixels } from '@zaddle/core/image/plane';
import { openMix } from '@zaddle/document';
import { In } from 'typeorm';
import { announce } from '../data/events';
import { DeliveryEntity, FrameEntity, MixEntity } from '../data/entities';
import { unpackPixels } from '../data/proxyFile';
import { openable } from '../picture/openFrame';
import { encodeJpeg } from '../picture/encodePicture';
import { newTools } from '../picture/kernels';
import { framesToRender, renderPicture, shelveFrames } from '../picture/renderPicture';
import type { Workshop } from './workshop';

const exifDate = (milliseconds: number | null): string | null => (milliseconds === null ? null : new Date(milliseconds).toISOString().slice(0, 19).replace(/-/g, ':').replace('T', ' '));

/** Renders a shot at full size as its mix stands now, and keeps the JPEG in the store. Doing it twice gives the same bytes. */
export async function deliverTask({ database, store }: Workshop, id: string): Promise<void> {
  const deliveries = database.getRepository(DeliveryEntity);
  const delivery = await deliveries.findOneBy({ id });
  if (!delivery || delivery.state === 'done') return;
  const progress = async (value: number): Promise<void> => {
    await deliveries.update({ id }, { state: 'running', progress: value });
    await announce(database, { kind: 'delivery', delivery: id });
  };
  await deliveries.increment({ id }, 'attempts', 1);
  await progress(0.05);
  const stored = await database.getRepository(MixEntity).findOneByOrFail({ shotId: delivery.shotId });
  const mix = openMix(stored.document);
  // All lined-up frames, as the screen has them: what is found in the picture rests on every one.
  const members = await database.getRepository(FrameEntity).findBy({ id: In(Object.keys(mix.frames)) });
  const proxies = new Map<string, Pixels>();
  for (const frame of members) proxies.set(frame.id, unpackPixels(await store.readDerived('proxy', frame.id)));
  const { kernels, arena } = newTools(64_000_000);
  const { prepared } = prepareMix(mix, makeGuides(kernels, arena, mix, proxies));
  await progress(0.3);
  const frames = new Map(members.map((frame) => [frame.id, openable(store.original(frame.sha256), frame.facts!)]));
  const size = { width: mix.width, height: mix.height };
  const shelf = await shelveFrames(prepared, (frame) => frames.get(frame)!, size, 'encoded');
  await progress(0.6);
  const pixels = await renderPicture(prepared, shelf, size, 'encoded');
  await progress(0.8);
  const reference = members.find((frame) => frame.id === mix.reference);
  const file = await encodeJpeg(pixels, delivery.quality, { description: `Joined from ${framesToRender(prepared).length} frames`, taken: exifDate(reference?.facts?.takenAt ?? null), longerSide: null });
  await store.putDerived('delivery', id, file);
  await deliveries.update({ id }, { state: 'done', progress: 1, bytes: String(file.length), why: '' });
  await announce(database, { kind: 'delivery', delivery: id });
}
