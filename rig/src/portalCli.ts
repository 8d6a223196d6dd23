import { Command, InvalidArgumentError } from 'commander';
import { ListingPortal } from './portal/listingPortal';
import { USUAL_RULES } from './portal/pictureRules';

const number = (least: number, most: number) => (text: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !(value >= least && value <= most)) throw new InvalidArgumentError(`Give a number from ${least} to ${most}.`);
  return value;
};

const program = new Command('zaddle portal')
  .description('A stand-in for a listing site, which takes pictures by the open protocol for resumable uploads.')
  .requiredOption('--out <dir>', 'where pictures lie that it has taken')
  .option('--port <n>', 'port on loopback', number(0, 65535), 8491)
  .option('--ratio <n>', 'longer side by shorter one; 0: any', number(0, 10), USUAL_RULES.ratio)
  .option('--least <px>', 'shortest longer side', number(1, 100_000), USUAL_RULES.leastSide)
  .option('--most <px>', 'longest longer side', number(1, 100_000), USUAL_RULES.mostSide)
  .option('--bytes <n>', 'largest file', number(1, 1e9), USUAL_RULES.mostBytes)
  .option('--failing <share>', 'share of requests that fail', number(0, 0.95), 0)
  .option('--delay <ms>', 'longest wait before an answer', number(0, 60_000), 0)
  .option('--seed <n>', 'seed of everything random', number(0, 2 ** 31), 1)
  .action(async ({ out, port, ratio, least, most, bytes, failing, delay, seed }) => {
    const portal = await ListingPortal.open(out, port, { ratio: ratio || null, leastSide: least, mostSide: most, mostBytes: bytes }, { failing, delay, seed });
    process.stdout.write(`The listing site takes pictures: ${portal.url}\n`);
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void portal.close().then(() => process.exit(0)));
  });

await program.parseAsync();
