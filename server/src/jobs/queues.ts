import PgBoss from 'pg-boss';

/** What each queue's jobs carry. */
export interface JobData {
  readonly gather: { readonly frame: string };
  readonly sort: { readonly shoot: string };
  readonly propose: { readonly shot: string };
  readonly deliver: { readonly delivery: string };
}
export type QueueName = keyof JobData;
export const QUEUES: readonly QueueName[] = ['gather', 'sort', 'propose', 'deliver'];

/** Opens the job queue in the database; `supervise` for the one process that does its housekeeping. */
export async function openQueue(url: string, supervise: boolean): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: url, supervise, schedule: false, monitorStateIntervalSeconds: 5, maintenanceIntervalSeconds: 10 });
  boss.on('error', () => undefined);
  await boss.start();
  for (const name of QUEUES) await boss.createQueue(name, { name, retryLimit: 5, retryDelay: 0, retryBackoff: false, expireInSeconds: 1800, policy: 'standard' });
  return boss;
}

/** How a job is queued. */
export interface SendOptions {
  /** A second job for the same thing is dropped while the first waits. */
  readonly once?: string;
  /** Seconds until it may be taken. */
  readonly after?: number;
}

/** Queues a job. */
export async function send<Q extends QueueName>(boss: PgBoss, queue: Q, data: JobData[Q], { once, after }: SendOptions = {}): Promise<void> {
  await boss.send(queue, data as object, { ...(once ? { singletonKey: once } : {}), ...(after ? { startAfter: after } : {}) });
}
