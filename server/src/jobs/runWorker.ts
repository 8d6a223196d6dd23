import { randomUUID } from 'node:crypto';
import { openDatabase } from '../data/database';
import { closeFinding } from '../found/foundStore';
import { closeRenderPool } from '../picture/renderPool';
import { Claims, LostJobs, type Claim } from './claims';
import { deliverTask } from './deliverTask';
import { handleFailure } from './failures';
import { gatherTask } from './gatherTask';
import { previewTask } from './previewTask';
import { proposeTask } from './proposeTask';
import { openQueue, QUEUES, type JobData, type QueueName } from './queues';
import { sortTask } from './sortTask';
import { uploadTask } from './uploadTask';
import { noteWork } from '../forecast/workTimes';
import type { WorkPlace } from './workPlace';
import type { Workshop } from './workshop';

const TASKS: { readonly [Q in QueueName]: (workshop: Workshop, data: JobData[Q], claim: Claim) => Promise<void> } = {
  gather: (workshop, { frame }, claim) => gatherTask(workshop, frame, claim),
  sort: (workshop, { shoot }, claim) => sortTask(workshop, shoot, claim),
  propose: (workshop, { shot }, claim) => proposeTask(workshop, shot, claim),
  preview: (workshop, { shot }) => previewTask(workshop, shot),
  deliver: (workshop, { delivery }, claim) => deliverTask(workshop, delivery, claim),
  upload: (workshop, { delivery }, claim) => uploadTask(workshop, delivery, claim),
};

/**
 * Takes jobs of the given kinds until the returned function is called. Any number of these may run, on any machine that
 * has a way to database and store. @param pulse a pipe to whoever keeps this process, to tell that it lives.
 */
export async function runWorker(databaseUrl: string, placeFor: (database: Workshop['database']) => WorkPlace, only: readonly QueueName[] = QUEUES, pulse: number | null = null): Promise<() => Promise<void>> {
  const database = await openDatabase(databaseUrl, 'worker');
  const boss = await openQueue(databaseUrl, false);
  const place = placeFor(database);
  const worker = `${process.pid}-${randomUUID().slice(0, 8)}`;
  const claims = new Claims(database, databaseUrl, worker, pulse);
  const take = async (queue: QueueName): Promise<void> => {
    let taker: string | null = null;
    taker = await boss.work<object>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      const data = job.data as JobData[QueueName];
      await claims.hold({ id: job.id, queue }, async (claim) => {
        const { store, close } = place.openJob();
        const workshop: Workshop = { database, boss, store, putIntoFolder: place.putIntoFolder };
        try {
          const from = performance.now();
          await (TASKS[queue] as (w: Workshop, d: JobData[QueueName], c: Claim) => Promise<void>)(workshop, data, claim);
          // Only for the forecast: what was done is done, whether this can be noted or not.
          await noteWork(database, queue, Object.values(data)[0] as string, (performance.now() - from) / 1000).catch(() => undefined);
          // Where there was one job, there may be more: the next is asked for at once. Pausing after each, no more than two small files a second are read.
          if (taker) boss.notifyWorker(taker);
        } catch (error) {
          process.stderr.write(`zaddle worker: ${queue} failed: ${(error as Error).stack}\n`);
          if ((await handleFailure(workshop, queue, data, error as Error).catch(() => 'failed')) === 'failed') throw error;
        } finally {
          await close();
        }
      });
    });
  };
  // Two gatherers: decoding alternates with computing.
  await Promise.all([...only, ...(only.includes('gather') ? (['gather'] as const) : [])].map(take));
  const lost = new LostJobs(database, boss);
  const sweep = setInterval(() => lost.release().catch(() => undefined), 2000);
  return async () => {
    clearInterval(sweep);
    await boss.stop({ graceful: true, timeout: 5000 });
    await claims.close();
    await closeRenderPool();
    await closeFinding();
    await database.destroy();
  };
}
