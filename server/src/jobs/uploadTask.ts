import { announceIn } from '../data/events';
import { BatchEntity, DeliveryEntity, type Delivery } from '../data/entities';
import { receivers } from '../outbox/receivers';
import { sendFile, type Sent } from '../outbox/sendFile';
import { ALONE, type Claim } from './claims';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Seconds until the next try after so many that came to nothing. */
const pause = (times: number): number => Math.min(600, 5 * 2 ** Math.min(times, 10));

/** What is told of a file that is not there any more. */
function lost(error: NodeJS.ErrnoException): Sent {
  if (error.code !== 'ENOENT') throw error;
  return { kind: 'refused', why: 'its file is not in the store any more. Make the picture again.' };
}

/** Sends a delivered picture to the receiver of its batch. One that does not answer is asked again, later and later; what it refuses is told in its words. */
export async function uploadTask(workshop: Workshop, id: string, claim: Claim = ALONE): Promise<void> {
  const { database, store } = workshop;
  const deliveries = database.getRepository(DeliveryEntity);
  const delivery = await deliveries.findOneBy({ id });
  if (delivery?.sending !== 'waiting' || delivery.state !== 'done') return;
  const { receiver } = await database.getRepository(BatchEntity).findOneByOrFail({ id: delivery.batchId });
  const endpoint = receiver === null ? undefined : receivers()[receiver];
  const keepPlace = async (uploadUrl: string): Promise<void> => void (await deliveries.update({ id }, { uploadUrl }));
  const sent: Sent = endpoint === undefined ? { kind: 'refused', why: `this server was started without a receiver ${receiver ?? ''}. Start it with --receiver, then send again.` } : await store.bringDerived('delivery', id).then((file) => sendFile(endpoint, { file, name: delivery.name, reference: id, url: delivery.uploadUrl }, keepPlace)).catch(lost);
  await database.transaction(async (manager) => {
    if (!(await claim.isMine(manager))) return;
    const change: Partial<Pick<Delivery, 'sending' | 'sendingWhy' | 'sendingTimes' | 'sentAt' | 'uploadUrl'>> = sent.kind === 'taken' ? { sending: 'sent', sendingWhy: '', sentAt: new Date() } : { sending: sent.kind === 'refused' ? 'refused' : 'waiting', sendingWhy: sent.why, sendingTimes: delivery.sendingTimes + 1, ...(sent.kind === 'refused' ? { uploadUrl: null } : {}) };
    await manager.getRepository(DeliveryEntity).update({ id, sending: 'waiting' }, change);
    if (sent.kind === 'later') await send(workshop.boss, 'upload', { delivery: id }, { after: pause(delivery.sendingTimes), within: manager });
    await announceIn(manager, { kind: 'delivery', delivery: id });
  });
}
