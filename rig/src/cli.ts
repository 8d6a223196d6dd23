import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Command } from 'commander';
import { readLayers } from './camera/layerStore';
import { planDemo, planShot } from './camera/plans';
import { writeCard } from './camera/writeCard';
import type { Layers } from './trace/renderRoom';

const DATA = fileURLToPath(new URL('../data', import.meta.url));
const rooms = new Map<string, Promise<Layers>>();
const room = (name: string): Promise<Layers> => {
  let found = rooms.get(name);
  if (!found) rooms.set(name, (found = readLayers(join(DATA, name))));
  return found;
};

const program = new Command('zaddle camera').description('The simulated camera: frames of the demo house, with their truth.');

program
  .command('demo')
  .description('the demo visit')
  .requiredOption('--out <dir>', 'card folder')
  .option('--truth <file>', 'where the truth about the frames is written')
  .action(async ({ out, truth }) => writeCard(out, await planDemo(room), room, truth ?? null));

program
  .command('shoot')
  .description('one shot of one room')
  .requiredOption('--room <name>', 'sitting-room or kitchen')
  .requiredOption('--out <dir>', 'card folder')
  .option('--truth <file>', 'where the truth about the frames is written')
  .option('--ambient <stops...>', 'stops of the ambient frames against the meter', ['0', '-2', '2'])
  .option('--pops <names...>', 'flashes to fire, one a frame', ['flash-1', 'flash-2'])
  .option('--shake <px>', 'how far the camera moves between frames', '2')
  .option('--turn <degrees>', 'how far it turns', '0.05')
  .option('--seed <n>', 'seed of everything random', '1')
  .action(async (options) => {
    const plan = { room: options.room, shot: options.room, ambient: options.ambient.map(Number), pops: options.pops, shake: Number(options.shake), turn: (Number(options.turn) * Math.PI) / 180, seed: Number(options.seed) };
    await writeCard(options.out, planShot(plan, await room(options.room), new Date('2026-06-11T10:00:00Z'), 1), room, options.truth ?? null);
  });

program
  .command('tether')
  .description('a tethered camera: drops the frames of one shot into a folder, one by one')
  .requiredOption('--room <name>', 'a room of the demo house')
  .requiredOption('--out <dir>', 'the folder that is watched')
  .option('--every <seconds>', 'pause between frames', '4')
  .option('--from <n>', 'the first frame of the shot that is taken', '1')
  .option('--count <n>', 'how many are taken', '40')
  .option('--pops <names...>', 'flashes to fire, one a frame', ['flash-1', 'flash-2'])
  .action(async ({ room: name, out, every, pops, from, count }) => {
    const plan = planShot({ room: name, shot: name, ambient: [0, -2, 2], pops, shake: 1, turn: 0, seed: 5 }, await room(name), new Date('2026-06-11T11:00:00Z'), 1);
    for (const frame of plan.slice(Number(from) - 1, Number(from) - 1 + Number(count))) {
      // Written under a hidden name first, as cameras do, so that nobody reads half a file.
      const aside = join(out, `.${frame.file}`);
      await writeCard(aside, [frame], room, null);
      await rename(join(aside, frame.file), join(out, frame.file));
      await rm(aside, { recursive: true });
      process.stdout.write(`${frame.file}\n`);
      await new Promise((resolve) => setTimeout(resolve, Number(every) * 1000));
    }
  });

await program.parseAsync();
