import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Command, InvalidArgumentError } from 'commander';
import { QUEUES, type QueueName } from './jobs/queues';
import { runWorker } from './jobs/runWorker';
import { backup, restore } from './commands/backup';
import { bench } from './commands/bench';
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
const DATA = fileURLToPath(new URL('../../data', import.meta.url));

const program = new Command('zaddle').description('From a card of frames to finished pictures of rooms.');

/** Milliseconds that a worker may take to give back what it has in hand. */
const ENDING = 5000;

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
  .action(async (options) => start(options));

program
  .command('worker')
  .description('one more worker process for a running server')
  .option('--data <dir>', 'data folder of the server', DATA)
  .option('--database <url>', 'database of a server whose data folder is elsewhere')
  .option('--store <dir>', 'its file store')
  .option('--only <queues>', 'kinds of jobs to take, separated by commas', queueNames)
  .option('--pulse <descriptor>', 'a pipe to tell the keeper of this process that it lives', Number)
  .action(async (options: { data: string; database?: string; store?: string; only?: QueueName[]; pulse?: number }) => {
    const database = options.database ?? process.env.ZADDLE_DATABASE ?? (await findRunning(options.data))?.database;
    if (!database) throw new UsageError('No server runs on this data folder. Start one with ./zaddle start.');
    let stop: () => Promise<void> = () => Promise.resolve();
    // Before anything else: whoever keeps this process may end while it starts, and with it the database that it waits for.
    const end = (): void => {
      setTimeout(() => process.exit(0), ENDING).unref();
      void stop().then(() => process.exit(0));
    };
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, end);
    process.on('disconnect', end);
    if (options.pulse !== undefined && !process.connected) return end();
    stop = await runWorker(database, options.store ?? join(options.data, 'store'), options.only, options.pulse ?? null);
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
  .description('speed figures as JSON, each a ratio within one run')
  .action(async () => {
    process.stdout.write(`${JSON.stringify(await bench(), null, 1)}\n`);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (!(error instanceof UsageError)) throw error;
  process.stderr.write(`zaddle: ${error.message}\n`);
  process.exitCode = 1;
}
