import { rm } from 'node:fs/promises';
import { readyBytes, readyMix } from '@zaddle/core/graph/readyMix';
import type { Pixels } from '@zaddle/core/image/plane';
import { inOrder } from '@zaddle/core/mix/orderMix';
import { openMix, type MixDocument } from '@zaddle/document';
import { In } from 'typeorm';
import { announce, announceIn } from '../data/events';
import { BatchEntity, DeliveryEntity, FrameEntity, MixEntity } from '../data/entities';
import { unpackPixels } from '../data/proxyFile';
import { foundOf } from '../found/foundStore';
import { openable } from '../picture/openFrame';
import { changedLines } from '../picture/changedLines';
import { newTools } from '../picture/kernels';
import { fileKind, fileOfOrder, ORDERS } from '../picture/orders';
import { withRendering } from '../picture/rendering';
import { framesToRender } from '../picture/renderPicture';
import { PlainError } from '../picture/limits';
import { ALONE, type Claim } from './claims';
import { tablesFor } from '../data/colourTables';
import { readGathered } from './derivedFiles';
import { send } from './queues';
import { ENDED_EACH_TIME, failDelivery, MOST_ATTEMPTS } from './failures';
import type { Workshop } from './workshop';

/** By the camera's clock, as EXIF has it: moments count as if its zone were UTC. */
const exifDate = (milliseconds: number | null): string | null => (milliseconds === null ? null : new Date(milliseconds).toISOString().slice(0, 19).replace(/-/g, ':').replace('T', ' '));

/** The delivery was stopped or deleted while it was made. */
class NotWanted extends Error {}

/**
 * Renders a delivery as the mix stood when it was ordered, cropped and sized by its order, keeps the file in the store, and puts it into the folder
 * of its batch. Doing it twice gives the same bytes.
 */
export async function deliverTask(workshop: Workshop, id: string, claim: Claim = ALONE): Promise<void> {
  try {
    await deliver(workshop, id, claim);
  } catch (error) {
    if (!(error instanceof NotWanted)) throw error;
    await workshop.store.removeDerived('delivery', id);
  }
}

async function deliver(workshop: Workshop, id: string, claim: Claim): Promise<void> {
  const { database, boss, store } = workshop;
  const deliveries = database.getRepository(DeliveryEntity);
  const delivery = await deliveries.findOneBy({ id });
  if (!delivery || (delivery.state !== 'waiting' && delivery.state !== 'running')) return;
  const batch = await database.getRepository(BatchEntity).findOneByOrFail({ id: delivery.batchId });
  // Put back into the queue when the batch goes on.
  if (batch.paused) return;
  await deliveries.increment({ id }, 'attempts', 1);
  if (delivery.attempts >= MOST_ATTEMPTS) return failDelivery(workshop, id, ENDED_EACH_TIME.deliver);
  const progress = async (value: number): Promise<void> => {
    const { affected } = await deliveries.update({ id, state: In(['waiting', 'running']) }, { state: 'running', progress: value, why: '' });
    if (!affected) throw new NotWanted();
    await announce(database, { kind: 'delivery', delivery: id });
  };
  await progress(0.05);
  const order = delivery.asked ?? ORDERS[delivery.order];
  const mix = inOrder(await mixOf(workshop, id, delivery.shotId), order);
  const members = await database.getRepository(FrameEntity).findBy({ id: In(Object.keys(mix.frames)) });
  const missing = Object.keys(mix.frames).length - members.length;
  if (missing > 0) throw new PlainError(`${missing === 1 ? 'A frame' : `${missing} frames`} that this picture is made from ${missing === 1 ? 'was' : 'were'} deleted. Add the file again and start the mix anew.`);
  const originals = new Map<string, string>();
  const absent: string[] = [];
  for (const { sha256, name } of members) {
    const path = await store.bringOriginal(sha256);
    if (path === null) absent.push(name);
    else originals.set(sha256, path);
  }
  if (absent.length > 0) throw new PlainError(`${absent.slice(0, 3).join(', ')}${absent.length > 3 ? ` and ${absent.length - 3} more` : ''}: the camera’s files are not on this server. Drop the card on the shoot again, then try again.`);
  const proxies = new Map<string, Pixels>();
  for (const frame of members) proxies.set(frame.id, await readGathered(workshop, 'proxy', frame.id, unpackPixels));
  const { found } = await foundOf(store, delivery.shotId, mix);
  const { prepared } = readyMix(newTools(readyBytes(mix)), mix, found, proxies, undefined, await tablesFor(database, mix.passes));
  await progress(0.3);
  const frames = new Map(members.map((frame) => [frame.id, openable(originals.get(frame.sha256)!, frame.facts!)]));
  const size = { width: mix.width, height: mix.height };
  const reference = members.find((frame) => frame.id === mix.reference);
  const changed = changedLines(mix, (id) => members.find((frame) => frame.id === id)?.name ?? 'a frame');
  const meta = { changed, description: `Joined from ${framesToRender(prepared).length} frames`, taken: exifDate(reference?.facts?.takenAt ?? null) };
  const { file } = await withRendering(prepared, (frame) => frames.get(frame)!, { size, kind: fileKind(order).kind, folder: store.incoming(''), opened: () => progress(0.6) }, (rendering) => fileOfOrder(rendering, order, delivery.quality, meta, store.incoming('')));
  if (!(await claim.isMine(database.manager))) {
    if (typeof file === 'string') await rm(file, { force: true });
    return;
  }
  const bytes = typeof file === 'string' ? await store.takeDerived('delivery', id, file) : await store.putDerived('delivery', id, file);
  await progress(0.95);
  if (batch.folder !== null) await workshop.putIntoFolder(delivery, batch.folder);
  await database.transaction(async (manager) => {
    const { affected } = await manager.getRepository(DeliveryEntity).update({ id, state: In(['waiting', 'running']) }, { state: 'done', progress: 1, bytes: String(bytes), why: '', doneAt: new Date(), ...(batch.receiver === null || delivery.sending === 'sent' ? {} : { sending: 'waiting' as const }) });
    if (affected && batch.receiver !== null && delivery.sending !== 'sent') await send(boss, 'upload', { delivery: id }, { within: manager });
    // Stopped or deleted meanwhile.
    if (!affected && !(await manager.getRepository(DeliveryEntity).existsBy({ id, state: 'done' }))) await store.removeDerived('delivery', id);
    await announceIn(manager, { kind: 'delivery', delivery: id });
  });
}

/** The mix that a delivery was ordered with. Orders from before that was kept take it as it stands. */
async function mixOf({ database }: Workshop, id: string, shotId: string): Promise<MixDocument> {
  const [{ document }] = (await database.query('SELECT document FROM deliveries WHERE id = $1', [id])) as { document: unknown }[];
  if (document) return openMix(document);
  const stored = await database.getRepository(MixEntity).findOneBy({ shotId });
  if (!stored) throw new PlainError('This shot has no picture yet. Wait until it has, then deliver it again.');
  return openMix(stored.document);
}
