import { chmodSync, existsSync, mkdirSync, readFileSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { availableParallelism } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { serve } from '../api/serve';
import { ShootEntity } from '../data/entities';
import type { QueueName } from '../jobs/queues';
import { watchFolder } from '../live/watchFolder';
import type { ServerWorkshop } from '../jobs/workshop';
import { makePrivate, startPostgres } from '../data/postgres';
import { importFolder } from './importFolder';
import { keepWorker } from './keepWorker';
import { findRunning, holdFolder, removeNote, writeNote } from './runningServer';
import { receiversOf } from '../outbox/receivers';
import { addressesOf, type Listening } from '../lend/openDoor';
import { unattended } from './unattended';
import { UsageError } from './usageError';

export interface StartOptions {
  readonly port: number;
  readonly data: string;
  readonly empty: boolean;
  /** A folder that a tethered camera writes into. */
  readonly watch?: string;
  /** What is delivered of what comes there, and by which method it is made. */
  readonly order?: readonly string[];
  readonly method?: string;
  /** A folder that deliveries may be put below. */
  readonly deliverTo?: string;
  /** Whom deliveries may be sent to, `name=address` each. */
  readonly receiver?: readonly string[];
  /** Address and port of this computer to listen on as well. */
  readonly listen?: { readonly host: string; readonly port: number };
  /** Files of a certificate and its key, for that address. */
  readonly certificate?: string;
  readonly certificateKey?: string;
}

const PAGES = fileURLToPath(new URL('../../../web/dist', import.meta.url));

/** Proposing is most of the work after a visit, and one shot's takes one core: so many processes of it at most, about 450 MB each. */
const MOST_PROPOSERS = 4;

/** What each worker process takes. Reading has one of its own, so that frames show at once while others are mixed. */
const workersFor = (cores: number): (readonly QueueName[])[] => [['gather', 'sort', 'preview', 'upload'], ['propose', 'deliver'], ...Array.from({ length: Math.min(MOST_PROPOSERS, cores) - 1 }, () => ['propose'] as const)];

/** Whether a port can be had, said before anything is started. @throws UsageError */
async function checkPort(port: number): Promise<void> {
  if (port === 0) return;
  await new Promise<void>((resolve, reject) => {
    const server = createServer();
    server.once('error', (error: NodeJS.ErrnoException) => reject(new UsageError(error.code === 'EADDRINUSE' ? `Port ${port} is taken by another program. Choose another with --port.` : `Port ${port} cannot be used (${error.code}). Choose another with --port.`)));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve()));
  });
}

/** What to listen on beside loopback. @throws UsageError where a file cannot be read */
function listeningOf({ listen, certificate, certificateKey }: StartOptions): Listening | null {
  if (!listen && (certificate || certificateKey)) throw new UsageError('A certificate is for --listen: say on which address.');
  if (!listen) return null;
  if (!certificate !== !certificateKey) throw new UsageError('Give both --certificate and --certificate-key, or neither.');
  const read = (file: string): Buffer => {
    try {
      return readFileSync(file);
    } catch {
      throw new UsageError(`${resolve(file)} cannot be read.`);
    }
  };
  return { ...listen, certificate: certificate && certificateKey ? { cert: read(certificate), key: read(certificateKey) } : null };
}

/** Frames that the simulated camera took of the demo house. */
const DEMO = fileURLToPath(new URL('../../../rig/data/demo-visit', import.meta.url));

/** Loads the demo shoot, due tomorrow morning. */
async function loadDemoShoot(workshop: ServerWorkshop): Promise<void> {
  const due = new Date();
  due.setDate(due.getDate() + 1);
  due.setHours(7, 0, 0, 0);
  await importFolder(workshop, DEMO, { name: 'Saltpan Tide Mill', address: '3 Causeway Lane, Merrow Creek', dueAt: due });
}

/** Runs everything until Ctrl-C: database, server, workers; with the demo shoot at first start. Whatever of it an earlier run left behind is taken over. */
export async function start(options: StartOptions): Promise<void> {
  const data = resolve(options.data);
  // Whatever this and its workers write is for this user only.
  process.umask(0o077);
  makePrivate(data);
  const hold = await holdFolder(data);
  if (!hold) {
    const running = await findRunning(data);
    process.stdout.write(running ? `Zaddle already runs on this data folder: ${running.url}\n` : 'Zaddle is being started on this data folder already.\n');
    return;
  }
  const mustBeFolder = (path: string | undefined, what: string): void => {
    if (path !== undefined && !statSync(path, { throwIfNoEntry: false })?.isDirectory()) throw new UsageError(`There is no folder ${resolve(path)} ${what}.`);
  };
  mustBeFolder(options.watch, 'to watch');
  mustBeFolder(options.deliverTo, 'to deliver to');
  if (!options.watch && (options.order || options.method)) throw new UsageError('--order and --method are for what comes by --watch. For a card, give them to ./zaddle process, or choose them on its page.');
  // Workers are told by their surroundings.
  if (options.deliverTo) process.env.ZADDLE_DELIVER_TO = resolve(options.deliverTo);
  else delete process.env.ZADDLE_DELIVER_TO;
  const listening = listeningOf(options);
  try {
    process.env.ZADDLE_RECEIVERS = JSON.stringify(receiversOf(options.receiver ?? []));
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
  if (!existsSync(join(PAGES, 'index.html'))) throw new UsageError('The pages are not built: run `npm run build:web`.');
  removeNote(data);
  await checkPort(options.port);
  const postgres = await startPostgres(join(data, 'postgres'));
  const store = join(data, 'store');
  mkdirSync(store, { recursive: true });
  chmodSync(store, 0o700);
  const served = await serve({ databaseUrl: postgres.url, store, pages: PAGES, port: options.port, listening }).catch(async (error: Error) => {
    await postgres.stop();
    throw new UsageError(error.message);
  });
  // Before anything else begins: what was mistyped is told at once.
  const then = await unattended(served.workshop.database, { orders: options.order ?? [], method: options.method ?? null, folder: options.deliverTo && options.watch ? basename(resolve(options.watch)) : null }).catch(async (error: Error) => {
    await served.stop();
    await postgres.stop();
    throw error;
  });
  const stopWorkers = workersFor(availableParallelism()).map((queues) => keepWorker(['--store', store], { ZADDLE_DATABASE: postgres.url }, queues));
  const stopWatching = options.watch ? watchFolder(served.workshop, options.watch, then) : null;
  const url = `http://127.0.0.1:${served.port}/`;
  writeNote(data, { pid: process.pid, url, database: postgres.url });
  let ending: Promise<void> | null = null;
  const end = (): Promise<void> =>
    (ending ??= (async () => {
      removeNote(data);
      await stopWatching?.();
      await Promise.all(stopWorkers.map((stop) => stop()));
      await served.stop().catch(() => undefined);
      await postgres.stop();
      hold.close();
    })());
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void end().then(() => process.exit(0)));
  if (!options.empty && (await served.workshop.database.getRepository(ShootEntity).count()) === 0) await loadDemoShoot(served.workshop);
  process.stdout.write(`Zaddle is ready: ${url}\n`);
  if (listening) process.stdout.write(`Open to the network, by key: ${addressesOf(listening).join(' ')}\n`);
}
