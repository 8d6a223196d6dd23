import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Argument, Command, InvalidArgumentError } from 'commander';
import { QUEUES, type QueueName } from './jobs/queues';
import { runWorker } from './jobs/runWorker';
import { placeOnDisk } from './jobs/workPlace';
import { runLender } from './lend/runLender';
import { lend } from './commands/lend';
import { backup, restore } from './commands/backup';
import { bench, BENCH_PARTS, type BenchPart } from './commands/bench';
import { findRunning } from './commands/runningServer';
import { start } from './commands/start';
import { NATURAL } from './commands/methodNamed';
import { processCard } from './commands/process';
import { UsageError } from './commands/usageError';

const percent = (text: string): number => {
  const value = Number(text);
  if (!(value >= 0 && value <= 100)) throw new InvalidArgumentError('Give a number from 0 to 100.');
  return value;
};

const portNumber = (text: string): number => {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > 65535) throw new InvalidArgumentError('Give a port number.');
  return value;
};
const queueNames = (text: string): QueueName[] =>
  text.split(',').map((name) => {
    if (!(QUEUES as readonly string[]).includes(name)) throw new InvalidArgumentError(`There are: ${QUEUES.join(', ')}.`);
    return name as QueueName;
  });
const listenAddress = (text: string): { host: string; port: number } => {
  const { six, host = six, port } = /^(?:\[(?<six>[0-9a-f:]+)\]|(?<host>[^:[\]]+)):(?<port>\d{1,5})$/i.exec(text)?.groups ?? {};
  if (!host || !port) throw new InvalidArgumentError('Give an address of this computer and a port, like 192.168.1.20:8491, or 0.0.0.0:8491 for all of its addresses.');
  return { host, port: portNumber(port) };
};
const count = (text: string): number => {
  const value = Number(text);
  if (!(value > 0 && value <= 1e6)) throw new InvalidArgumentError('Give a number above 0.');
  return value;
};
const DATA = fileURLToPath(new URL('../../data', import.meta.url));

const program = new Command('zaddle').description('From a card of frames to finished pictures of rooms.');

/** Milliseconds that a worker may take to give back what it has in hand. */
const ENDING = 5000;
const GB = 1e9;

program
  .command('process')
  .description('make a picture of each shot of a card folder, with nobody at the desk')
  .argument('<folder>', 'the folder with the card’s files')
  .requiredOption('--out <dir>', 'where pictures are written')
  .option('--method <name>', 'the method to apply: its name, or a file of one', NATURAL)
  .option('--strength <percent>', 'how much of the method is applied', percent, 100)
  .option('--order <names...>', 'what is delivered: full, listing, web, print, master, linear, layers, or a file of an order (default: full)')
  .option('--no-lens', 'leave lens error in: homographies relate pixels as stored')
  .option('--no-straighten', 'leave the reference’s own geometry')
  .option('--no-clean', 'take nothing away')
  .option('--linear', 'deliver linear light, 32-bit float TIFF, too; alone where no --order is given', false)
  .option('--layers', 'deliver the passes as layers, OpenRaster, too; alone where no --order is given', false)
  .option('--report <file>', 'write what was done as JSON, and beside it a page to look at and masks of what was found')
  .action(async (folder: string, options) => {
    await processCard(folder, options);
  });

program
  .command('start')
  .description('serve the application on this machine until Ctrl-C')
  .option('--port <n>', 'port on loopback', portNumber, 8490)
  .option('--data <dir>', 'where everything is kept', DATA)
  .option('--empty', 'do not load the demo shoot', false)
  .option('--deliver-to <dir>', 'a folder that pictures may be put below when they are delivered')
  .option('--receiver <name=address...>', 'whom deliveries may be sent to, by the open protocol for resumable uploads')
  .option('--watch <dir>', 'a folder that a tethered camera writes into, shown under /live')
  .option('--order <names...>', 'deliver what comes by --watch once all of it is there: listing, web, or the name of a kept order')
  .option('--method <name>', 'the method that it is made by: its name, or a file of one')
  .option('--listen <address:port>', 'listen on an address of this computer, too; whoever comes by it needs a key', listenAddress)
  .option('--certificate <file>', 'certificate (PEM) for --listen, so that nobody on the way can read along')
  .option('--certificate-key <file>', 'its private key (PEM)')
  .action(async (options) => start(options));

interface WorkerOptions {
  readonly data: string;
  readonly database?: string;
  readonly store?: string;
  readonly server?: string;
  readonly key?: string;
  readonly cache: string;
  readonly cacheSize: number;
  readonly cores: number;
  readonly only?: QueueName[];
  readonly pulse?: number;
}

/** One worker process, until it is told to end, or whoever keeps it is gone. */
async function workHere(options: WorkerOptions, key: string | undefined): Promise<void> {
  let stop: () => Promise<void> = () => Promise.resolve();
  // Before anything else: whoever keeps this process may end while it starts, and with it the database that it waits for.
  const end = (): void => {
    setTimeout(() => process.exit(0), ENDING).unref();
    void stop().then(() => process.exit(0));
  };
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, end);
  process.on('disconnect', end);
  if (options.pulse !== undefined && !process.connected) return end();
  const pulse = options.pulse ?? null;
  if (options.server !== undefined) {
    stop = await runLender({ server: options.server, key: key!, cache: options.cache, limit: options.cacheSize * GB }, options.only!, pulse, end);
    return;
  }
  const database = options.database ?? process.env.ZADDLE_DATABASE ?? (await findRunning(options.data))?.database;
  if (!database) throw new UsageError('No server runs on this data folder. Start one with ./zaddle start.');
  stop = await runWorker(database, (opened) => placeOnDisk(opened, options.store ?? join(options.data, 'store')), options.only, pulse);
}

program
  .command('worker')
  .description('more processes that work for a running server, also from another computer')
  .option('--server <address>', 'a server on another computer, as its page tells it')
  .option('--key <key>', 'a key for work that was made there (or in ZADDLE_KEY, which others on this computer cannot see)')
  .option('--cache <dir>', 'where its files are kept on this computer', join(DATA, 'lent'))
  .option('--cache-size <gigabytes>', 'how much of the disk they may take', count, 20)
  .option('--cores <n>', 'how many cores to lend', count, availableParallelism())
  .option('--data <dir>', 'data folder of the server, where it runs on this computer', DATA)
  .option('--database <url>', 'database of a server whose data folder is elsewhere')
  .option('--store <dir>', 'its file store')
  .option('--only <queues>', 'kinds of jobs to take, separated by commas', queueNames)
  .option('--pulse <descriptor>', 'a pipe to tell the keeper of this process that it lives', Number)
  .action(async (options: WorkerOptions) => {
    const key = options.key ?? process.env.ZADDLE_KEY;
    if (options.server !== undefined && !key) throw new UsageError('Give the key with --key or in ZADDLE_KEY. It is made on the server’s page, under Network.');
    if (options.server !== undefined && options.pulse === undefined) return lend({ server: options.server, key: key!, cache: resolve(options.cache), limit: options.cacheSize * GB, cores: Math.ceil(options.cores), only: options.only });
    await workHere(options, key);
  });

program
  .command('backup')
  .description('write a copy of all that is kept, also while a server runs')
  .argument('<folder>', 'where it is written: a folder that is not there yet')
  .option('--data <dir>', 'the data folder', DATA)
  .action(async (folder: string, { data }: { data: string }) => backup(data, folder));

program
  .command('restore')
  .description('make a data folder of a backup')
  .argument('<folder>', 'the folder that backup wrote')
  .requiredOption('--data <dir>', 'the data folder to make: one that is not there yet, or empty')
  .action(async (folder: string, { data }: { data: string }) => restore(folder, data));

program
  .command('bench')
  .description('speed figures as JSON, each a ratio within one run; all of them take about half an hour')
  .addArgument(new Argument('[parts...]', 'only these').choices(BENCH_PARTS))
  .action(async (parts: BenchPart[]) => {
    const figures = await bench(parts, (part, found) => process.stderr.write(`${part}: ${JSON.stringify(found)}\n`));
    process.stdout.write(`${JSON.stringify(figures, null, 1)}\n`);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (!(error instanceof UsageError)) throw error;
  process.stderr.write(`zaddle: ${error.message}\n`);
  process.exitCode = 1;
}
