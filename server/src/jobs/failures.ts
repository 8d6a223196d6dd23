import { DeliveryEntity, FrameEntity, ShotEntity } from '../data/entities';
import { announce } from '../data/events';
import { send, type JobData, type QueueName } from './queues';
import type { Workshop } from './workshop';

/** Seconds after which work that found no room is tried again. */
const WAIT_FOR_ROOM = 15;
const NO_ROOM = 'The disk of this server is full. Nothing is lost: make room, and it goes on by itself.';

/** Whether a write failed for want of room. */
export const isFull = (error: unknown): boolean => ['ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException).code ?? '');

/** Says on the thing itself why its job is not done, so that a person sees it. */
async function explain({ database }: Workshop, queue: QueueName, data: JobData[QueueName], why: string, waits: boolean): Promise<void> {
  if (queue === 'gather') {
    const id = (data as JobData['gather']).frame;
    await database.getRepository(FrameEntity).update({ id, state: 'waiting' }, { why });
    const frame = await database.getRepository(FrameEntity).findOneBy({ id });
    if (frame) await announce(database, { kind: 'shoot', shoot: frame.shootId });
  }
  if (queue === 'deliver') {
    const id = (data as JobData['deliver']).delivery;
    await database.getRepository(DeliveryEntity).update({ id }, { state: waits ? 'waiting' : 'failed', why });
    await announce(database, { kind: 'delivery', delivery: id });
  }
  if (queue === 'propose') {
    const id = (data as JobData['propose']).shot;
    if (!waits) await database.getRepository(ShotEntity).update({ id }, { state: 'failed', why });
    const shot = await database.getRepository(ShotEntity).findOneBy({ id });
    if (shot) await announce(database, { kind: 'shot', shoot: shot.shootId, shot: id });
  }
}

/**
 * What becomes of a job that went wrong.
 * @returns 'later' when it was queued again for when there is room, 'failed' when the queue is to decide.
 */
export async function handleFailure<Q extends QueueName>(workshop: Workshop, queue: Q, data: JobData[Q], error: Error): Promise<'later' | 'failed'> {
  const full = isFull(error);
  await explain(workshop, queue, data, full ? NO_ROOM : error.message, full);
  if (!full) return 'failed';
  await send(workshop.boss, queue, data, WAIT_FOR_ROOM);
  return 'later';
}
