import { Command, InvalidArgumentError } from 'commander';
import { runCampaign } from './torture/campaign';
import { Dice } from './dice';
import { FAULT_NAMES } from './torture/faults';
import { hostileFiles } from './torture/hostileFiles';
import { hostileRequests } from './torture/hostileRequests';
import { withInstance } from './torture/hostileRun';

const number = (least: number, most: number) => (text: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !(value >= least && value <= most)) throw new InvalidArgumentError(`Give a number from ${least} to ${most}.`);
  return value;
};
const faultWord = (word: string, before: readonly string[] = []): string[] => {
  if (!FAULT_NAMES.some((name) => name.includes(word))) throw new InvalidArgumentError(`Give words of: ${FAULT_NAMES.join(', ')}.`);
  return [...before, word];
};
const SEED = ['--seed <n>', 'seed of everything random', number(0, 2 ** 31), 1] as const;
const tell = (words: string): void => void process.stderr.write(`${words}\n`);
const report = (found: object, isFine: boolean): void => {
  process.stdout.write(`${JSON.stringify(found, null, 1)}\n`);
  process.exitCode = isFine ? 0 : 1;
};

const program = new Command('zaddle torture').description('Does to a server of its own what a bad night does, and looks whether anything is lost, doubled, stuck or told.');

program
  .command('faults', { isDefault: true })
  .description('kills, stops, cuts and fills while somebody works with it')
  .option('--minutes <n>', 'the longest that it hurts', number(0.1, 1440), 30)
  .option('--faults <n>', 'how often', number(1, 100_000), 500)
  .option(...SEED)
  .option('--only <word...>', 'faults with one of these words in their names, as "killed" or "restarted"', faultWord)
  .option('--folder <dir>', 'where it works, kept afterwards (default: a folder of its own, kept when something is wrong)')
  .action(async ({ minutes, faults, seed, only, folder }: { minutes: number; faults: number; seed: number; only?: string[]; folder?: string }) => {
    const found = await runCampaign({ minutes, faults, seed, only: only ?? [], folder: folder ?? null, tell });
    report(found, found.whole);
  });

program
  .command('requests')
  .description('mutated requests to everything that it answers')
  .option('--count <n>', 'how many', number(1, 1e7), 10_000)
  .option(...SEED)
  .action(async ({ count, seed }: { count: number; seed: number }) => {
    const found = await withInstance((instance) => hostileRequests(instance, new Dice(seed), count, tell));
    report(found, Object.keys(found.findings).length === 0);
  });

program
  .command('files')
  .description('broken files of all formats')
  .option('--count <n>', 'how many', number(1, 1e7), 10_000)
  .option(...SEED)
  .action(async ({ count, seed }: { count: number; seed: number }) => {
    const found = await withInstance((instance) => hostileFiles(instance, new Dice(seed), count, tell));
    report(found, Object.keys(found.findings).length === 0);
  });

await program.parseAsync();
