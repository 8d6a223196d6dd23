import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { orderJobs } from '../outbox/jobOrder';
import { send, type JobData, type QueueName } from './queues';

/** Nothing waits or runs for a thing. The name of the queue and the thing's id go in. */
const noJob = (queue: QueueName, id: string): string => `NOT EXISTS (SELECT FROM pgboss.job j WHERE j.name = '${queue}' AND j.singleton_key = ${id}::text AND j.state IN ('created', 'retry', 'active'))`;

/** Things that wait for work of a kind, and for which no job is there. */
const WAITING: { readonly [Q in QueueName]: { readonly key: keyof JobData[Q] & string; readonly sql: string } } = {
  gather: { key: 'frame', sql: `SELECT id FROM frames f WHERE state = 'waiting' AND ${noJob('gather', 'f.id')}` },
  sort: {
    key: 'shoot',
    sql: `SELECT DISTINCT f.shoot_id AS id FROM frames f WHERE state = 'gathered' AND shot_id IS NULL AND NOT dropped
      AND NOT EXISTS (SELECT FROM frames w WHERE w.shoot_id = f.shoot_id AND w.state = 'waiting') AND ${noJob('sort', 'f.shoot_id')}`,
  },
  propose: { key: 'shot', sql: `SELECT id FROM shots s WHERE state = 'sorted' AND NOT retired AND EXISTS (SELECT FROM frames f WHERE f.shot_id = s.id) AND ${noJob('propose', 's.id')}` },
  // A picture that was never drawn small. Those that were changed since are drawn when somebody looks at the wall.
  preview: { key: 'shot', sql: `SELECT shot_id AS id FROM mixes m WHERE NOT EXISTS (SELECT FROM shot_looks l WHERE l.shot_id = m.shot_id) AND ${noJob('preview', 'm.shot_id')}` },
  deliver: { key: 'delivery', sql: `SELECT d.id FROM deliveries d JOIN batches b ON b.id = d.batch_id WHERE d.state IN ('waiting', 'running') AND NOT b.paused AND ${noJob('deliver', 'd.id')}` },
  upload: { key: 'delivery', sql: `SELECT id FROM deliveries d WHERE sending = 'waiting' AND state = 'done' AND ${noJob('upload', 'd.id')}` },
};

/** Finds work that is noted but has no job (the process that was to queue it ended, or its job is gone) and queues it. Returns how much. */
export async function queueForgotten(database: DataSource, boss: PgBoss): Promise<number> {
  let count = 0;
  for (const queue of Object.keys(WAITING) as QueueName[]) {
    const { key, sql } = WAITING[queue];
    for (const { id } of (await database.query(sql)) as { id: string }[]) {
      await send(boss, queue, { [key]: id } as never);
      count++;
    }
  }
  if (count > 0) await orderJobs(database.manager);
  return count;
}
