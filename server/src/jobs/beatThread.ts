import { writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import pg from 'pg';
import type { BeatMessage, BeatSetup } from './claims';

/** How often a worker says that it lives, milliseconds. */
const BEAT = 1500;
/** How long a process whose keeper is gone may take to end by itself, milliseconds. */
const ORPHANED = 15_000;

const { databaseUrl, worker, pulse } = workerData as BeatSetup;
const held = new Map<string, number>();
parentPort!.on('message', (message: BeatMessage) => {
  if (message.kind === 'hold') held.set(message.job, performance.now() + message.longest);
  else held.delete(message.job);
});

let client: pg.Client | null = null;

/** Renews all claims of this process; a database that is away is tried again at the next beat. */
async function renew(): Promise<void> {
  if (held.size === 0) return;
  if (!client) {
    const own = new pg.Client({ connectionString: databaseUrl, application_name: 'zaddle-beat', connectionTimeoutMillis: 3000, query_timeout: 5000 });
    own.on('error', () => undefined);
    await own.connect();
    client = own;
  }
  try {
    await client.query('UPDATE claims SET seen_at = clock_timestamp() WHERE worker = $1 AND job_id = ANY($2)', [worker, [...held.keys()]]);
  } catch (error) {
    void client.end().catch(() => undefined);
    client = null;
    throw error;
  }
}

const keeper = process.ppid;
let orphanedAt: number | null = null;

/** Ends a process that hangs in a job, or that outlives the one that keeps it. */
function endIfStuck(): void {
  const now = performance.now();
  if (pulse !== null && process.ppid !== keeper) orphanedAt ??= now;
  const hangs = [...held.values()].some((until) => now > until);
  if (hangs || (orphanedAt !== null && now - orphanedAt > ORPHANED)) process.kill(process.pid, 'SIGKILL');
}

function tellKeeper(): void {
  if (pulse === null) return;
  try {
    writeSync(pulse, '.');
  } catch {
    // Nobody listens any more: being orphaned is noticed above.
  }
}

let busy = false;
setInterval(() => {
  tellKeeper();
  endIfStuck();
  if (busy) return;
  busy = true;
  renew().catch(() => undefined).finally(() => (busy = false));
}, BEAT);
