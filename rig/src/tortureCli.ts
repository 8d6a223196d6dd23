import { Command, InvalidArgumentError } from 'commander';
import { runCampaign } from './torture/campaign';

const number = (least: number, most: number) => (text: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !(value >= least && value <= most)) throw new InvalidArgumentError(`Give a number from ${least} to ${most}.`);
  return value;
};

const program = new Command('zaddle torture')
  .description('Hurts a server of its own while somebody works with it, and looks whether anything is lost, doubled or stuck.')
  .option('--minutes <n>', 'the longest that it hurts', number(0.1, 1440), 30)
  .option('--faults <n>', 'how often', number(1, 100_000), 500)
  .option('--seed <n>', 'seed of everything random', number(0, 2 ** 31), 1)
  .option('--folder <dir>', 'where it works, kept afterwards (default: a folder of its own, kept when something is wrong)')
  .action(async ({ minutes, faults, seed, folder }: { minutes: number; faults: number; seed: number; folder?: string }) => {
    const report = await runCampaign({ minutes, faults, seed, folder: folder ?? null, tell: (words) => process.stderr.write(`${words}\n`) });
    process.stdout.write(`${JSON.stringify(report, null, 1)}\n`);
    process.exitCode = report.whole ? 0 : 1;
  });

await program.parseAsync();
