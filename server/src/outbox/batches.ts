import { randomUUID } from 'node:crypto';
import { In, type EntityManager } from 'typeorm';
import { announceIn } from '../data/events';
import { BatchEntity, DeliveryEntity, type Batch, type Delivery } from '../data/entities';
import { send } from '../jobs/queues';
import type { ServerWorkshop } from '../jobs/workshop';
import { dropJobs, orderJobs } from './jobOrder';

/** What is known of a picture when it is ordered. */
export type Ordered = Pick<Delivery, 'shotId' | 'document' | 'name' | 'order' | 'asked' | 'quality'>;

/** Batches of which something is still to be made: their order matters, and no two change it at once. */
async function openBatches(manager: EntityManager): Promise<Batch[]> {
  await manager.query('SELECT pg_advisory_xact_lock(hashtext($1))', ['batches']);
  const open: { id: string }[] = await manager.query(`SELECT DISTINCT batch_id AS id FROM deliveries WHERE state IN ('waiting', 'running')`);
  return manager.getRepository(BatchEntity).find({ where: { id: In(open.map(({ id }) => id)) }, order: { place: 'ASC', createdAt: 'ASC' } });
}

/** Queues what waits of a batch, in its turn. */
async function queueWaiting({ boss }: ServerWorkshop, manager: EntityManager, batch: string): Promise<void> {
  const waiting = await manager.getRepository(DeliveryEntity).find({ where: { batchId: batch, state: 'waiting' }, order: { place: 'ASC' }, select: { id: true } });
  for (const { id } of waiting) {
    await send(boss, 'deliver', { delivery: id }, { within: manager });
    await announceIn(manager, { kind: 'delivery', delivery: id });
  }
  await orderJobs(manager);
}

/** Orders pictures as one batch, behind all others. @returns ids of its deliveries, in the order given */
export async function addBatch(workshop: ServerWorkshop, manager: EntityManager, pictures: readonly Ordered[], { folder = null, receiver = null }: Pick<Partial<Batch>, 'folder' | 'receiver'> = {}): Promise<{ readonly batch: string; readonly ids: readonly string[] }> {
  const open = await openBatches(manager);
  const batch = randomUUID();
  await manager.getRepository(BatchEntity).insert({ id: batch, place: (open.at(-1)?.place ?? 0) + 1, folder, receiver });
  const ids: string[] = [];
  for (const [place, picture] of pictures.entries()) {
    const id = randomUUID();
    await manager.getRepository(DeliveryEntity).insert({ ...(picture as object), id, batchId: batch, place, state: 'waiting', progress: 0, why: '', bytes: null, attempts: 0 } as never);
    ids.push(id);
  }
  await queueWaiting(workshop, manager, batch);
  return { batch, ids };
}

/** Sends a picture once more that its receiver refused, or that waits for it. */
export function sendAgain({ database, boss }: ServerWorkshop, id: string): Promise<void> {
  return database.transaction(async (manager) => {
    await manager.getRepository(DeliveryEntity).update({ id }, { sending: 'waiting', sendingWhy: '', sendingTimes: 0 });
    await manager.query(`DELETE FROM pgboss.job WHERE name = 'upload' AND singleton_key = $1 AND state = 'created'`, [id]);
    await send(boss, 'upload', { delivery: id }, { within: manager });
    await announceIn(manager, { kind: 'delivery', delivery: id });
  });
}

/** Puts deliveries of a batch that failed or were stopped back into its queue. @param ids those that are meant; all where left out. @returns how many */
export function tryAgain(workshop: ServerWorkshop, batch: string, ids?: readonly string[]): Promise<number> {
  return workshop.database.transaction(async (manager) => {
    const { affected } = await manager.getRepository(DeliveryEntity).update({ batchId: batch, state: In(['failed', 'stopped']), ...(ids ? { id: In([...ids]) } : {}) }, { state: 'waiting', progress: 0, why: '', attempts: 0 });
    const { paused } = await manager.getRepository(BatchEntity).findOneByOrFail({ id: batch });
    if (!paused) await queueWaiting(workshop, manager, batch);
    return affected ?? 0;
  });
}

/** Lets a batch rest, or go on. A picture that is being made is finished. */
export function pauseBatch(workshop: ServerWorkshop, batch: string, paused: boolean): Promise<void> {
  return workshop.database.transaction(async (manager) => {
    await manager.getRepository(BatchEntity).update({ id: batch }, { paused });
    if (paused) await dropJobs(manager, batch);
    else await queueWaiting(workshop, manager, batch);
    await announceIn(manager, { kind: 'delivery', delivery: batch });
  });
}

/** Stops a batch: what is not made yet is not made, the picture in hand included. @returns how many pictures that are */
export function stopBatch(workshop: ServerWorkshop, batch: string): Promise<number> {
  return workshop.database.transaction(async (manager) => {
    const { affected } = await manager.getRepository(DeliveryEntity).update({ batchId: batch, state: In(['waiting', 'running']) }, { state: 'stopped', progress: 0, why: '' });
    await manager.getRepository(BatchEntity).update({ id: batch }, { paused: false });
    await dropJobs(manager, batch);
    await announceIn(manager, { kind: 'delivery', delivery: batch });
    return affected ?? 0;
  });
}

/** Changes the turn of a batch among those that are open. One that has nothing left to make stays where it is. */
export function moveBatch(workshop: ServerWorkshop, batch: string, to: 'first' | 'earlier' | 'later'): Promise<void> {
  return workshop.database.transaction(async (manager) => {
    const open = await openBatches(manager);
    const from = open.findIndex(({ id }) => id === batch);
    if (from < 0) return;
    const at = to === 'first' ? 0 : Math.max(0, Math.min(open.length - 1, from + (to === 'earlier' ? -1 : 1)));
    open.splice(at, 0, ...open.splice(from, 1));
    for (const [place, { id }] of open.entries()) await manager.getRepository(BatchEntity).update({ id }, { place: place + 1 });
    await orderJobs(manager);
    await announceIn(manager, { kind: 'delivery', delivery: batch });
  });
}
