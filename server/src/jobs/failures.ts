import { In, type DataSource } from 'typeorm';
import { announce } from '../data/events';
import { DeliveryEntity, FrameEntity, ShotEntity } from '../data/entities';
import { isAway } from '../data/patientDatabase';
import { orderJobs } from '../outbox/jobOrder';
import { PlainError } from '../picture/limits';
import { send, type JobData, type QueueName } from './queues';
import type { Workshop } from './workshop';

/** Seconds after which work that found no room is tried again. */
const WAIT_FOR_ROOM = 15;
const NO_ROOM = 'The disk of this server is full. Nothing is lost: make room, and it goes on by itself.';

/** Times that a thing is begun before it is given up. A program that ends in the middle counts too: nobody else knows why it did. */
export const MOST_ATTEMPTS = 10;
/** Times that it is begun when it fails with an error: the same error comes again. */
const MOST_FAILURES = 2;

/** Whether the database went away in the middle of a job. A broken pipe by itself may be a decoder's, which breaks each time. */
const databaseLeft = (error: Error): boolean => isAway(error) && (error.name === 'QueryFailedError' || !['EPIPE', 'ECONNRESET'].includes((error as NodeJS.ErrnoException).code ?? ''));

/** Whether a write failed for want of room: of a file, or of the database's own. */
export const isFull = (error: unknown): boolean => ['ENOSPC', 'EDQUOT', '53100'].includes((error as NodeJS.ErrnoException).code ?? '');

/** What is told of something that was begun too often without an end. */
export const ENDED_EACH_TIME: Readonly<Record<'gather' | 'propose' | 'deliver', string>> = {
  gather: 'reading it did not come to an end in several tries; copy it from the card again, or leave it out',
  propose: 'Lining these frames up did not come to an end in several tries. Take out frames that look odd; the shot is then tried again.',
  deliver: 'Making this picture did not come to an end in several tries. Look at the shot at the desk, then try again.',
};

/** What is told of an error that nobody foresaw; the log has what it was. */
const UNFORESEEN: Readonly<Record<'gather' | 'propose' | 'deliver', string>> = {
  gather: 'could not be read, though it looks like a picture; copy it from the card again, or leave it out',
  propose: 'These frames could not be worked with. Take out frames that look odd; the shot is then tried again.',
  deliver: 'This picture could not be made. Look at the shot at the desk, then try again; the server’s log tells more.',
};

/** An error as a sentence for the person. */
const plainly = (error: Error, queue: 'gather' | 'propose' | 'deliver'): string => (error instanceof PlainError ? error.message : UNFORESEEN[queue]);

/** Gives a frame up: it is rejected with the reason, and sorting goes on without it. */
export async function rejectFrame({ database, boss }: Workshop, id: string, why: string): Promise<void> {
  const shoot = await database.transaction(async (manager) => {
    const frames = manager.getRepository(FrameEntity);
    const frame = await frames.findOneBy({ id });
    if (!frame) return null;
    await frames.update({ id, state: 'waiting' }, { state: 'rejected', why });
    await send(boss, 'sort', { shoot: frame.shootId }, { within: manager });
    return frame.shootId;
  });
  if (shoot) await announce(database, { kind: 'shoot', shoot });
}

/** Gives a shot up until its frames change. */
export async function failShot({ database }: Workshop, id: string, why: string): Promise<void> {
  await database.getRepository(ShotEntity).update({ id }, { state: 'failed', why });
  const shot = await database.getRepository(ShotEntity).findOneBy({ id });
  if (shot) await announce(database, { kind: 'shot', shoot: shot.shootId, shot: id });
}

/** Gives a delivery up, or says why it waits. */
export async function failDelivery({ database }: Workshop, id: string, why: string, state: 'failed' | 'waiting' = 'failed'): Promise<void> {
  // Stopped meanwhile, it stays so.
  await database.getRepository(DeliveryEntity).update({ id, state: In(['waiting', 'running']) }, { state, why });
  await announce(database, { kind: 'delivery', delivery: id });
}

/** Lets no attempt so far count. */
async function countNothing({ database }: Workshop, queue: QueueName, data: JobData[QueueName]): Promise<void> {
  if (queue === 'gather') await database.getRepository(FrameEntity).update({ id: (data as JobData['gather']).frame, state: 'waiting' }, { attempts: 0 });
  if (queue === 'propose') await database.getRepository(ShotEntity).update({ id: (data as JobData['propose']).shot }, { attempts: 0 });
  if (queue === 'deliver') await database.getRepository(DeliveryEntity).update({ id: (data as JobData['deliver']).delivery }, { attempts: 0 });
}

/** Says on the thing itself that it waits for room, and lets no attempt count: it is nobody's fault. */
async function waitForRoom(workshop: Workshop, queue: QueueName, data: JobData[QueueName]): Promise<void> {
  const { database } = workshop;
  await countNothing(workshop, queue, data);
  if (queue === 'gather') {
    const { frame: id } = data as JobData['gather'];
    await database.getRepository(FrameEntity).update({ id, state: 'waiting' }, { why: NO_ROOM });
    const frame = await database.getRepository(FrameEntity).findOneBy({ id });
    if (frame) await announce(database, { kind: 'shoot', shoot: frame.shootId });
  }
  if (queue === 'deliver') await failDelivery(workshop, (data as JobData['deliver']).delivery, NO_ROOM, 'waiting');
}

/** How often it is looked whether a database that was away is there again, and the pause between, milliseconds. */
const LOOKS = 40;
const LOOK_AGAIN = 500;

/** The database went away in the middle: once it is there again no attempt counts. */
async function forgiveAway(workshop: Workshop, queue: QueueName, data: JobData[QueueName]): Promise<void> {
  for (let k = 1; ; k++) {
    try {
      return await countNothing(workshop, queue, data);
    } catch (error) {
      if (k === LOOKS || !isAway(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN));
    }
  }
}

/** Whatever was begun before a server was started is begun anew: what ended it was most likely what ended the server. */
export async function freshTries(database: DataSource): Promise<void> {
  await database.getRepository(FrameEntity).update({ state: 'waiting' }, { attempts: 0 });
  await database.getRepository(ShotEntity).update({ state: 'sorted' }, { attempts: 0 });
  await database.getRepository(DeliveryEntity).update({ state: In(['waiting', 'running']) }, { attempts: 0 });
}

/** Gives up what failed often enough. Returns whether it did. */
async function giveUp(workshop: Workshop, queue: QueueName, data: JobData[QueueName], error: Error): Promise<boolean> {
  const { database } = workshop;
  // A reason that was thought of comes again; anything else gets a second try.
  const most = error instanceof PlainError ? 1 : MOST_FAILURES;
  if (queue === 'gather') {
    const frame = await database.getRepository(FrameEntity).findOneBy({ id: (data as JobData['gather']).frame });
    if (frame && frame.attempts < most) return false;
    if (frame) await rejectFrame(workshop, frame.id, plainly(error, queue));
    return true;
  }
  if (queue === 'propose') {
    const shot = await database.getRepository(ShotEntity).findOneBy({ id: (data as JobData['propose']).shot });
    if (shot && shot.attempts < most) return false;
    if (shot) await failShot(workshop, shot.id, plainly(error, queue));
    return true;
  }
  if (queue === 'deliver') {
    const delivery = await database.getRepository(DeliveryEntity).findOneBy({ id: (data as JobData['deliver']).delivery });
    if (delivery && delivery.attempts < most) return false;
    if (delivery) await failDelivery(workshop, delivery.id, plainly(error, queue));
    return true;
  }
  return false;
}

/**
 * What becomes of a job that went wrong.
 * @returns 'later' when it was queued again for when there is room, 'given up' when that was said on the thing, 'failed' when the queue is to try again.
 */
export async function handleFailure<Q extends QueueName>(workshop: Workshop, queue: Q, data: JobData[Q], error: Error): Promise<'later' | 'given up' | 'failed'> {
  if (databaseLeft(error)) {
    await forgiveAway(workshop, queue, data);
    return 'failed';
  }
  if (!isFull(error)) return (await giveUp(workshop, queue, data, error)) ? 'given up' : 'failed';
  await waitForRoom(workshop, queue, data);
  await send(workshop.boss, queue, data, { after: WAIT_FOR_ROOM });
  if (queue === 'deliver') await orderJobs(workshop.database.manager);
  return 'later';
}
