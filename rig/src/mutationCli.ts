import { fileURLToPath } from 'node:url';
import { Command, InvalidArgumentError } from 'commander';
import { runMutations } from './mutation/mutationRun';

const whole = (least: number, most: number) => (text: string): number => {
  const value = Number(text);
  if (!/^\d+$/.test(text) || !(value >= least && value <= most)) throw new InvalidArgumentError(`Give a whole number from ${least} to ${most}.`);
  return value;
};
/** Share of changes that tests should notice at least. */
const ENOUGH = 0.8;

await new Command('zaddle mutate')
  .description('Changes constants and signs of the core, one at a time, in a copy of it, and looks whether its tests notice.')
  .option('--count <n>', 'how many changes', whole(1, 100_000), 200)
  .option('--seed <n>', 'seed of what is changed', whole(0, 2 ** 31), 1)
  .action(async ({ count, seed }: { count: number; seed: number }) => {
    const report = await runMutations(fileURLToPath(new URL('../..', import.meta.url)), count, seed, (words) => void process.stderr.write(`${words}\n`));
    process.stdout.write(`${JSON.stringify(report, null, 1)}\n`);
    process.exitCode = report.share >= ENOUGH ? 0 : 1;
  })
  .parseAsync();
