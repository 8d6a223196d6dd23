import { LessThan, type DataSource } from 'typeorm';
import type PgBoss from 'pg-boss';
import { ClaimEntity } from '../data/entities';

/** How often a worker says that it lives, and after how long a silent one counts as gone, milliseconds. */
const HEARTBEAT = 1500;
const SILENCE = 6000;

/** Holds a claim on a job while `work` runs, renewed by a heartbeat, so that others can tell when this process dies. */
export async function withClaim(database: DataSource, job: { id: string; queue: string }, worker: string, work: () => Promise<void>): Promise<void> {
  const claims = database.getRepository(ClaimEntity);
  await claims.upsert({ jobId: job.id, queue: job.queue, worker, seenAt: new Date() }, ['jobId']);
  const beat = setInterval(() => claims.update({ jobId: job.id }, { seenAt: new Date() }).catch(() => undefined), HEARTBEAT);
  try {
    await work();
  } finally {
    clearInterval(beat);
    await claims.delete({ jobId: job.id });
  }
}

/** Gives jobs of workers that fell silent back to the queue. Returns how many. */
export async function releaseLostJobs(database: DataSource, boss: PgBoss): Promise<number> {
  const claims = database.getRepository(ClaimEntity);
  const lost = await claims.findBy({ seenAt: LessThan(new Date(Date.now() - SILENCE)) });
  for (const claim of lost) {
    await boss.fail(claim.queue, claim.jobId, { why: `worker ${claim.worker} is gone` });
    await claims.delete({ jobId: claim.jobId });
  }
  return lost.length;
}
