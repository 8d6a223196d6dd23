import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { serve } from '../api/serve';
import { ShootEntity } from '../data/entities';
import type { QueueName } from '../jobs/queues';
import { watchFolder } from '../live/watchFolder';
import { startPostgres } from '../data/postgres';
import { importFolder } from './importFolder';
import { UsageError } from './process';

export interface StartOptions {
  readonly port: number;
  readonly data: string;
  readonly empty: boolean;
  /** A folder that a tethered camera writes into. */
  readonly watch?: string;
}

const CLI = fileURLToPath(new URL('../cli.ts', import.meta.url));
const PAGES = fileURLToPath(new URL('../../../web/dist', import.meta.url));

/** What a running server leaves for `worker`, and for a second `start`, to find it by. */
interface Running {
  readonly pid: number;
  readonly url: string;
  readonly database: string;
}

const note = (data: string): string => join(data, 'running.json');

/** The server that runs on this data folder, or null. */
export function findRunning(data: string): Running | null {
  if (!existsSync(note(data))) return null;
  const running = JSON.parse(readFileSync(note(data), 'utf8')) as Running;
  try {
    process.kill(running.pid, 0);
    return running;
  } catch {
    return null;
  }
}

/** Proposing is most of the work after a visit, and one shot's takes one core: so many processes of it at most, about 450 MB each. */
const MOST_PROPOSERS = 4;

/** What each worker process takes. Reading has one of its own, so that frames show at once while others are mixed. */
const workersFor = (cores: number): (readonly QueueName[])[] => [['gather', 'sort'], ['propose', 'deliver'], ...Array.from({ length: Math.min(MOST_PROPOSERS, cores) - 1 }, () => ['propose'] as const)];

/** Keeps one worker process alive: a dead one is replaced, its job given back to the queue by its silence. */
function keepWorker(databaseUrl: string, store: string, queues: readonly QueueName[]): () => Promise<void> {
  let stopping = false;
  let child: ChildProcess;
  const launch = (): void => {
    child = fork(CLI, ['worker', '--database', databaseUrl, '--store', store, '--only', queues.join()], { execArgv: ['--import', import.meta.resolve('tsx')], stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
    child.on('exit', () => {
      if (!stopping) setTimeout(launch, 500);
    });
  };
  launch();
  return () =>
    new Promise((done) => {
      stopping = true;
      if (child.exitCode !== null || child.signalCode !== null) return done();
      child.on('exit', () => done());
      child.kill('SIGTERM');
      setTimeout(() => child.kill('SIGKILL'), 6000).unref();
    });
}

/** Runs everything until Ctrl-C: database, server, worker; with the demo shoot at first start. */
export async function start(options: StartOptions, loadDemo: (folder: string) => Promise<void>): Promise<void> {
  const data = resolve(options.data);
  mkdirSync(data, { recursive: true });
  const running = findRunning(data);
  if (running) {
    process.stdout.write(`Zaddle already runs on this data folder: ${running.url}\n`);
    return;
  }
  if (options.watch && !statSync(options.watch, { throwIfNoEntry: false })?.isDirectory()) throw new UsageError(`There is no folder ${resolve(options.watch)} to watch.`);
  if (!existsSync(join(PAGES, 'index.html'))) throw new UsageError('The pages are not built: run `npm run build:web`.');
  const postgres = await startPostgres(join(data, 'postgres'));
  const store = join(data, 'store');
  const served = await serve({ databaseUrl: postgres.url, store, pages: PAGES, port: options.port }).catch(async (error: Error) => {
    await postgres.stop();
    throw new UsageError(error.message);
  });
  const stopWorkers = workersFor(availableParallelism()).map((queues) => keepWorker(postgres.url, store, queues));
  const stopWatching = options.watch ? watchFolder(served.workshop, options.watch) : null;
  const url = `http://127.0.0.1:${served.port}/`;
  writeFileSync(note(data), JSON.stringify({ pid: process.pid, url, database: postgres.url } satisfies Running));
  let ending: Promise<void> | null = null;
  const end = (): Promise<void> =>
    (ending ??= (async () => {
      rmSync(note(data), { force: true });
      await stopWatching?.();
      await Promise.all(stopWorkers.map((stop) => stop()));
      await served.stop();
      await postgres.stop();
    })());
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void end().then(() => process.exit(0)));
  if (!options.empty && (await served.workshop.database.getRepository(ShootEntity).count()) === 0) {
    const card = join(data, 'demo-card');
    await loadDemo(card);
    const due = new Date();
    due.setDate(due.getDate() + 1);
    due.setHours(7, 0, 0, 0);
    await importFolder(served.workshop, card, { name: 'Saltpan Tide Mill', address: '3 Causeway Lane, Merrow Creek', dueAt: due });
  }
  process.stdout.write(`Zaddle is ready: ${url}\n`);
}
