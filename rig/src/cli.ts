import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Command } from 'commander';
import { readLayers } from './camera/layerStore';
import { planDemo, planShot } from './camera/plans';
import { writeCard, type PlannedFrame } from './camera/writeCard';
import type { Layers } from './trace/renderRoom';

const DATA = fileURLToPath(new URL('../data', import.meta.url));
const rooms = new Map<string, Promise<Layers>>();
const room = (name: string): Promise<Layers> => {
  let found = rooms.get(name);
  if (!found) rooms.set(name, (found = readLayers(join(DATA, name))));
  return found;
};
const roomOf = (frame: PlannedFrame): string => (frame.shot === 'test' ? 'sitting-room' : frame.shot);

const program = new Command('zaddle camera').description('The simulated camera: frames of the demo house, with their truth.');

program
  .command('demo')
  .description('the demo visit')
  .requiredOption('--out <dir>', 'card folder')
  .option('--truth <file>', 'where the truth about the frames is written')
  .action(async ({ out, truth }) => writeCard(out, await planDemo(room), room, roomOf, truth ?? null));

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
    await writeCard(options.out, planShot(plan, await room(options.room), new Date('2026-06-11T10:00:00Z'), 1), room, roomOf, options.truth ?? null);
  });

await program.parseAsync();
