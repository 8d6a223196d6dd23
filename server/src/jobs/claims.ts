import type { Worker } from 'node:worker_threads';
import type PgBoss from 'pg-boss';
import type { DataSource, EntityManager } from 'typeorm';
import { ClaimEntity } from '../data/entities';
import { QUEUES, type QueueName } from './queues';
import { startThread } from './startThread';

/** Longest time that a job of each kind takes, milliseconds: a process that takes longer hangs. */
const LONGEST: Readonly<Record<QueueName, number>> = { gather: 6 * 60_000, sort: 15 * 60_000, propose: 30 * 60_000, preview: 6 * 60_000, deliver: 30 * 60_000, upload: 60 * 60_000 };

/** What the thread that keeps claims alive is told. */
export type BeatMessage = { readonly kind: 'hold'; readonly job: string; readonly longest: number } | { readonly kind: 'drop'; readonly job: string };
export interface BeatSetup {
  readonly databaseUrl: string;
  readonly worker: string;
  /** A pipe to whoever keeps this process, to tell that it lives; null without one. */
  readonly pulse: number | null;
}

/** A job that this process has in hand. */
export interface Claim {
  /** Whether it still has: a process that was stopped for a while may find that another went on. Asked within the transaction that writes what came of the job. */
  readonly isMine: (manager: EntityManager) => Promise<boolean>;
}

/** Claims on jobs of one worker process, kept alive by a thread of their own: the one that computes has no time for it. */
export class Claims {
  private readonly beats: Worker;

  constructor(private readonly database: DataSource, databaseUrl: string, private readonly worker: string, pulse: number | null) {
    this.beats = startThread(new URL('./beatThread.ts', import.meta.url), { databaseUrl, worker, pulse } satisfies BeatSetup);
    // Without it others would take this process for dead; then it had better be.
    this.beats.on('error', (error) => {
      process.stderr.write(`zaddle worker: ${error.stack}\n`);
      process.exit(1);
    });
    this.beats.unref();
  }

  /** Holds a claim on a job while `work` runs. */
  async hold(job: { id: string; queue: QueueName }, work: (claim: Claim) => Promise<void>): Promise<void> {
    const claims = this.database.getRepository(ClaimEntity);
    await this.database.query('INSERT INTO claims (job_id, queue, worker, seen_at) VALUES ($1, $2, $3, clock_timestamp()) ON CONFLICT (job_id) DO UPDATE SET worker = $3, seen_at = clock_timestamp()', [job.id, job.queue, this.worker]);
    this.beats.postMessage({ kind: 'hold', job: job.id, longest: LONGEST[job.queue] } satisfies BeatMessage);
    try {
      await work({
        isMine: async (manager) => (await manager.query('SELECT FROM claims WHERE job_id = $1 AND worker = $2 FOR UPDATE', [job.id, this.worker])).length > 0,
      });
    } finally {
      this.beats.postMessage({ kind: 'drop', job: job.id } satisfies BeatMessage);
      await claims.delete({ jobId: job.id, worker: this.worker });
    }
  }

  async close(): Promise<void> {
    await this.beats.terminate();
  }
}

/** A claim for work that nobody else can take: tasks called directly. */
export const ALONE: Claim = { isMine: async () => true };

/** After how long a silent worker counts as gone, milliseconds. */
const SILENCE = 6000;
/** A job that was handed out has its claim within this time, seconds. */
const HANDED_OUT = 30;

/** Where it is counted how often a thing was begun, and what a job calls it. */
const COUNTED: Partial<Readonly<Record<QueueName, { readonly table: string; readonly key: string }>>> = { gather: { table: 'frames', key: 'frame' }, propose: { table: 'shots', key: 'shot' }, deliver: { table: 'deliveries', key: 'delivery' } };
/** Times that a thing is begun again at once after its worker went; then after so many seconds, twice as many each time, up to a most. */
const AT_ONCE = 3;
const PAUSE = 5;
const LONGEST_PAUSE = 300;

/** What ended its workers time and again waits ever longer: if these were ended from outside, by a machine in trouble, that passes; if by the thing itself, others get their turn. */
async function laterIfOften(manager: EntityManager, queue: QueueName, job: string): Promise<void> {
  const counted = COUNTED[queue];
  if (!counted) return;
  await manager.query(
    `UPDATE pgboss.job j SET start_after = now() + make_interval(secs => LEAST($1, $2 * power(2, t.attempts - $3)))
     FROM ${counted.table} t WHERE j.name = $4 AND j.id = $5 AND j.state = 'retry' AND t.id::text = j.data->>'${counted.key}' AND t.attempts >= $3`,
    [LONGEST_PAUSE, PAUSE, AT_ONCE, queue, job],
  );
}

/**
 * Gives jobs of workers that fell silent back to the queue. A worker is silent when its claim stayed the same while this
 * process looked several times: clocks that jump, and a database that was away for all, are nobody's silence.
 */
export class LostJobs {
  private seen = new Map<string, { at: string; since: number }>();
  private looked = -Infinity;

  constructor(private readonly database: DataSource, private readonly boss: PgBoss, private readonly now: () => number = () => performance.now()) {}

  /** Looks once; to be called every second or two. Returns how many jobs were given back. */
  async release(): Promise<number> {
    const claims: { job: string; queue: QueueName; at: string }[] = await this.database.query('SELECT job_id AS job, queue, seen_at::text AS at FROM claims');
    const now = this.now();
    // After a pause of looking, everybody gets time to be heard again.
    const before = now - this.looked > SILENCE ? new Map<string, { at: string; since: number }>() : this.seen;
    this.looked = now;
    this.seen = new Map(claims.map(({ job, at }) => [job, before.get(job)?.at === at ? before.get(job)! : { at, since: now }]));
    let count = 0;
    for (const { job, queue, at } of claims) if (now - this.seen.get(job)!.since > SILENCE) count += await this.giveBack(queue, job, at);
    const unclaimed: { id: string; name: QueueName }[] = await this.database.query(
      `SELECT id, name FROM pgboss.job j WHERE state = 'active' AND name = ANY($1) AND started_on < clock_timestamp() - make_interval(secs => $2) AND NOT EXISTS (SELECT FROM claims c WHERE c.job_id = j.id)`,
      [QUEUES, HANDED_OUT],
    );
    for (const { id, name } of unclaimed) count += await this.giveBack(name, id, null);
    return count;
  }

  /** The one process that takes the claim away gives the job back. A claim that somebody holds a lock on, as within the transaction that ends a job, is left for the next look: waiting for it would use up the connections of whoever looks. */
  private giveBack(queue: QueueName, job: string, at: string | null): Promise<number> {
    return this.database.transaction(async (manager) => {
      if (at !== null && (await manager.query('WITH found AS (SELECT job_id FROM claims WHERE job_id = $1 AND seen_at::text = $2 FOR UPDATE SKIP LOCKED), gone AS (DELETE FROM claims c USING found WHERE c.job_id = found.job_id RETURNING 1) SELECT * FROM gone', [job, at])).length === 0) return 0;
      const db = { executeSql: async (text: string, values: unknown[]) => ({ rows: (await manager.query(text, values)) as unknown[] }) };
      await this.boss.fail(queue, job, { why: 'its worker is gone' }, { db } as never);
      await laterIfOften(manager, queue, job);
      return 1;
    });
  }
}
