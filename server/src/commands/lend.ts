import { mkdirSync } from 'node:fs';
import { MIGRATIONS } from '../data/database';
import type { QueueName } from '../jobs/queues';
import { editionOf } from '../lend/edition';
import { KeptFiles } from '../lend/keptFiles';
import { KeyRefused, ServerLine } from '../lend/serverLine';
import { keepWorker } from './keepWorker';
import { UsageError } from './usageError';

export interface LendCommand {
  readonly server: string;
  readonly key: string;
  readonly cache: string;
  /** Bytes that may be kept there. */
  readonly limit: number;
  readonly cores: number;
  /** Kinds of jobs that are taken; all that can be done here where left out. */
  readonly only?: readonly QueueName[];
}

/** Milliseconds between looks whether the key still is one. */
const LOOK = 5000;
/** Milliseconds that a server which does not answer is asked at the start. */
const FIRST = 3000;

/** What each process takes: what is read and drawn by one, what is mixed by one a core. What is sent on to receivers goes from the server itself. */
const processesFor = (cores: number): (readonly QueueName[])[] => [['gather', 'sort', 'preview'], ['propose', 'deliver'], ...Array.from({ length: cores - 1 }, () => ['propose'] as const)];

/** A server's address as it was typed. @throws UsageError */
function addressOf(typed: string): URL {
  const text = /^https?:\/\//i.test(typed) ? typed : `http://${typed}`;
  if (!URL.canParse(text)) throw new UsageError(`${typed} is no address of a server. Give one as its page tells it, like http://192.168.1.20:8491/`);
  return new URL('/', text);
}

/** Asks a server whether it can be worked for. @throws UsageError with what is wrong */
async function greet(line: ServerLine): Promise<void> {
  const other = `${line.server.href} is no Zaddle, or not one that can be worked for.`;
  const answer = await line.ask({ method: 'GET', path: '/api/lend/hello' }).catch((error: NodeJS.ErrnoException) => {
    const silent = `${line.server.href} does not answer. Is Zaddle started there with --listen, and does a firewall let its port through?`;
    throw new UsageError(error instanceof KeyRefused ? error.message : error.code === '08006' ? silent : other);
  });
  const edition = await Promise.resolve(answer.body.toString()).then((text) => (JSON.parse(text) as { edition?: string } | null)?.edition).catch(() => undefined);
  if (edition === undefined) throw new UsageError(other);
  if (edition !== editionOf({ migrations: MIGRATIONS })) throw new UsageError('This computer has another edition of Zaddle than the server. Bring both to the same one.');
}

/** Lends this computer's cores to a server until Ctrl-C, or until its key is revoked. */
export async function lend({ server, key, cache, limit, cores, only }: LendCommand): Promise<void> {
  const address = addressOf(server);
  const line = new ServerLine(address, key, FIRST);
  await greet(line);
  process.umask(0o077);
  mkdirSync(cache, { recursive: true });
  await KeptFiles.tidy(cache);
  const args = ['--server', address.href, '--cache', cache, '--cache-size', String(limit / 1e9)];
  const processes = processesFor(cores).map((queues) => queues.filter((queue) => !only || only.includes(queue))).filter((queues) => queues.length > 0);
  if (processes.length === 0) throw new UsageError('Pictures are sent on by the server itself. Take other kinds of jobs.');
  const stops = processes.map((queues) => keepWorker(args, { ZADDLE_KEY: key }, queues));
  process.stdout.write(`This computer works for ${address.href}\n`);
  let ending: Promise<void> | null = null;
  const end = (): Promise<void> => (ending ??= Promise.all(stops.map((stop) => stop())).then(() => line.close()));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void end().then(() => process.exit(0)));
  const look = setInterval(() => {
    line.ask({ method: 'GET', path: '/api/lend/hello' }).catch((error: Error) => {
      if (!(error instanceof KeyRefused)) return;
      clearInterval(look);
      process.stderr.write(`zaddle: ${error.message}\n`);
      void end().then(() => process.exit(1));
    });
  }, LOOK);
}
