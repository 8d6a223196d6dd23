import { randomUUID } from 'node:crypto';
import { openDatabase } from '../data/database';
import { FileStore } from '../data/fileStore';
import { closeRenderPool } from '../picture/renderPool';
import { releaseLostJobs, withClaim } from './claims';
import { deliverTask } from './deliverTask';
import { handleFailure } from './failures';
import { gatherTask } from './gatherTask';
import { proposeTask } from './proposeTask';
import { openQueue, QUEUES, type JobData, type QueueName } from './queues';
import { sortTask } from './sortTask';
import type { Workshop } from './workshop';

const TASKS: { readonly [Q in QueueName]: (workshop: Workshop, data: JobData[Q]) => Promise<void> } = {
  gather: (workshop, { frame }) => gatherTask(workshop, frame),
  sort: (workshop, { shoot }) => sortTask(workshop, shoot),
  propose: (workshop, { shot }) => proposeTask(workshop, shot),
  deliver: (workshop, { delivery }) => deliverTask(workshop, delivery),
};

/** Takes jobs of the given kinds until the returned function is called. Any number of these may run, on any machine that shares database and store. */
export async function runWorker(databaseUrl: string, storeFolder: string, only: readonly QueueName[] = QUEUES): Promise<() => Promise<void>> {
  const database = await openDatabase(databaseUrl, false);
  const boss = await openQueue(databaseUrl, false);
  const workshop: Workshop = { database, boss, store: new FileStore(storeFolder) };
  const worker = `${process.pid}-${randomUUID().slice(0, 8)}`;
  const take = (queue: QueueName): Promise<string> =>
    boss.work<object>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      const data = job.data as JobData[QueueName];
      await withClaim(database, { id: job.id, queue }, worker, async () => {
        try {
          await (TASKS[queue] as (w: Workshop, d: JobData[QueueName]) => Promise<void>)(workshop, data);
        } catch (error) {
          process.stderr.write(`zaddle worker: ${queue} failed: ${(error as Error).stack}\n`);
          if ((await handleFailure(workshop, queue, data, error as Error).catch(() => 'failed')) === 'failed') throw error;
        }
      });
    });
  // Two gatherers: decoding alternates with computing.
  await Promise.all([...only, ...(only.includes('gather') ? (['gather'] as const) : [])].map(take));
  const sweep = setInterval(() => releaseLostJobs(database, boss).catch(() => undefined), 2000);
  return async () => {
    clearInterval(sweep);
    await boss.stop({ graceful: true, timeout: 5000 });
    await closeRenderPool();
    await database.destroy();
  };
}
