import PgBoss from 'pg-boss';
import type { EntityManager } from 'typeorm';
import { PatientDatabase } from '../data/patientDatabase';

/** What each queue's jobs carry. */
export interface JobData {
  readonly gather: { readonly frame: string };
  readonly sort: { readonly shoot: string };
  readonly propose: { readonly shot: string };
  readonly preview: { readonly shot: string };
  readonly deliver: { readonly delivery: string };
  readonly upload: { readonly delivery: string };
}
export type QueueName = keyof JobData;
export const QUEUES: readonly QueueName[] = ['gather', 'sort', 'propose', 'preview', 'deliver', 'upload'];

/** Opens the job queue in the database; `supervise` for the one process that does its housekeeping. */
export async function openQueue(url: string, supervise: boolean): Promise<PgBoss> {
  const db = new PatientDatabase(url);
  const boss = new PgBoss({ db: db as never, supervise, schedule: false, monitorStateIntervalSeconds: 5, maintenanceIntervalSeconds: 10 });
  boss.on('error', () => undefined);
  boss.on('stopped', () => void db.close());
  await boss.start();
  // Whoever only takes jobs finds the queues there, and need not be allowed to make any.
  for (const name of supervise ? QUEUES : []) {
    // 'short': of jobs with one key, one waits at a time.
    const options = { name, retryLimit: 20, retryDelay: 0, retryBackoff: false, expireInSeconds: 1800, policy: 'short' as const };
    await boss.createQueue(name, options);
    // Queues of a database from before were made without.
    await boss.updateQueue(name, options);
  }
  return boss;
}

/** When and how a job is queued. */
interface SendOptions {
  /** Seconds until it may be taken. */
  readonly after?: number;
  /** The transaction that notes what is to be done: the job is queued when that is committed, and only then. */
  readonly within?: EntityManager;
}

/** Queues a job; a second one for the same thing is dropped while the first waits. */
export async function send<Q extends QueueName>(boss: PgBoss, queue: Q, data: JobData[Q], { after = 0, within }: SendOptions = {}): Promise<void> {
  const [thing] = Object.values(data) as string[];
  const db = within && { executeSql: async (text: string, values: unknown[]) => ({ rows: (await within.query(text, values)) as unknown[] }) };
  await boss.send(queue, data as object, { singletonKey: thing, ...(after ? { startAfter: after } : {}), ...(db ? { db } : {}) });
}
