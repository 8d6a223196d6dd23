import { Command, InvalidArgumentError } from 'commander';
import { processCard, UsageError } from './commands/process';

const percent = (text: string): number => {
  const value = Number(text);
  if (!(value >= 0 && value <= 100)) throw new InvalidArgumentError('Give a number from 0 to 100.');
  return value;
};

const program = new Command('zaddle').description('From a card of frames to finished pictures of rooms.');

program
  .command('process')
  .description('make a picture of each shot of a card folder, with nobody at the desk')
  .argument('<folder>', 'the folder with the card’s files')
  .requiredOption('--out <dir>', 'where pictures are written')
  .option('--method <name>', 'the method to apply', 'natural')
  .option('--strength <percent>', 'how much of the method is applied', percent, 100)
  .option('--order <name>', 'what is delivered', 'full')
  .option('--no-lens', 'leave lens error in: homographies relate pixels as stored')
  .option('--no-straighten', 'leave the reference’s own geometry')
  .option('--linear', 'write linear light, 16-bit TIFF', false)
  .option('--report <file>', 'write what was done as JSON')
  .action(async (folder: string, options) => {
    await processCard(folder, options);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (!(error instanceof UsageError)) throw error;
  process.stderr.write(`zaddle: ${error.message}\n`);
  process.exitCode = 1;
}
