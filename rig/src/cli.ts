import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Command, InvalidArgumentError } from 'commander';
import { clientsRendering } from './camera/clientsRendering';
import { DEMO_SHOTS, planDemo } from './camera/demoVisit';
import { House, roomOf, type FrameSize } from './camera/house';
import { planShot, usualPops, type ExtraFrame } from './camera/plans';
import { FINE, takeFrames } from './camera/takeFrames';
import { writeShotTruth } from './truth/writeTruth';

const SMALLEST = 300;
const LARGEST = 6000;

/** Frames are 3:2. @param text width, or width x height */
function sizeOf(text: string): FrameSize {
  const found = /^(\d+)(?:x(\d+))?$/.exec(text);
  const width = Number(found?.[1]);
  const height = Math.round((width * 2) / 3);
  if (!found || width < SMALLEST || width > LARGEST || (found[2] !== undefined && Number(found[2]) !== height)) throw new InvalidArgumentError(`Give a width from ${SMALLEST} to ${LARGEST}, such as 3000 or 3000x2000; frames are 3:2.`);
  return { width, height };
}
function qualityOf(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1 || value > 100) throw new InvalidArgumentError('Give a whole number from 1 to 100.');
  return value;
}

const names = (text: string): string[] => text.split(',').filter((name) => name !== '');

const program = new Command('zaddle camera').description('The simulated camera: frames of the demo house, with their truth.');
const SIZE = ['--size <width>', 'pixels of the longer side, 300 to 6000', sizeOf] as const;

program
  .command('demo')
  .description('the demo visit')
  .requiredOption('--out <dir>', 'card folder')
  .option('--truth <dir>', 'a folder where the truth about each shot is written')
  .option(...SIZE, sizeOf('3000'))
  .option('--shots <names>', `shots to take, separated by commas: ${DEMO_SHOTS.join(', ')}`, names, [...DEMO_SHOTS])
  .option('--quality <n>', 'JPEG quality, 1 to 100; up to 90 files are made small', qualityOf, FINE)
  .action(async ({ out, truth, size, shots, quality }: { out: string; truth?: string; size: FrameSize; shots: string[]; quality: number }) => {
    // A room and who or what came into it: pictures of rooms are large.
    const house = new House(size, 2);
    const room = house.room.bind(house);
    for (const shot of shots) {
      const frames = await planDemo(room, [shot]);
      await takeFrames(out, frames, room, quality);
      if (truth) await writeShotTruth(join(truth, shot), frames.filter((frame) => frame.shot === shot), await room(frames[0].room), size);
      process.stdout.write(`${shot}: ${frames.length} frames\n`);
    }
  });

program
  .command('shoot')
  .description('one shot of one room')
  .requiredOption('--room <name>', 'a room of the demo house')
  .requiredOption('--out <dir>', 'card folder')
  .option('--truth <dir>', 'a folder where the truth about them is written')
  .option('--rendering <file>', 'a PNG file where the client’s rendering of the room is written, where there is one')
  .option('--ambient <stops...>', 'stops of the ambient frames against the meter', ['0', '-2', '2'])
  .option('--pops <names...>', 'flashes to fire, one a frame; left out: the first two that the room has')
  .option('--later-room <name>', 'the room as it is after something was moved in it')
  .option('--later-pops <names...>', 'flashes to fire then, one a frame', [])
  .option('--shake <px>', 'how far the camera moves between frames', '2')
  .option('--turn <degrees>', 'how far it turns', '0.05')
  .option('--seed <n>', 'seed of everything random', '1')
  .option(...SIZE, sizeOf('1500'))
  .action(async (options) => {
    if (options.laterPops.length > 0 && !options.laterRoom) throw new Error('Say with --later-room what the room is like when these flashes fire.');
    const extras = (options.laterPops as string[]).map((flash): ExtraFrame => ({ role: 'flash', room: options.laterRoom, flash }));
    const house = new House(options.size, 2);
    const room = await house.room(options.room);
    const plan = { room: options.room, shot: options.room, ambient: options.ambient.map(Number), pops: options.pops ?? usualPops(room), extras, shake: Number(options.shake), turn: (Number(options.turn) * Math.PI) / 180, seed: Number(options.seed) };
    const frames = planShot(plan, room, new Date('2026-06-11T10:00:00Z'), 1);
    await takeFrames(options.out, frames, house.room.bind(house));
    if (options.rendering) await writeFile(options.rendering, await clientsRendering(roomOf(options.room), room));
    if (options.truth) await writeShotTruth(options.truth, frames, room, options.size);
  });

program
  .command('tether')
  .description('a tethered camera: drops the frames of one shot into a folder, one by one')
  .requiredOption('--room <name>', 'a room of the demo house')
  .requiredOption('--out <dir>', 'the folder that is watched')
  .option('--every <seconds>', 'pause between frames', '4')
  .option('--from <n>', 'the first frame of the shot that is taken', '1')
  .option('--count <n>', 'how many are taken', '40')
  .option('--pops <names...>', 'flashes to fire, one a frame; left out: the first two that the room has')
  .option(...SIZE, sizeOf('1500'))
  .action(async ({ room: name, out, every, pops, from, count, size }) => {
    const house = new House(size, 1);
    const room = await house.room(name);
    const plan = planShot({ room: name, shot: name, ambient: [0, -2, 2], pops: pops ?? usualPops(room), shake: 1, turn: 0, seed: 5 }, room, new Date('2026-06-11T11:00:00Z'), 1);
    for (const frame of plan.slice(Number(from) - 1, Number(from) - 1 + Number(count))) {
      await takeFrames(out, [frame], house.room.bind(house));
      process.stdout.write(`${frame.file}\n`);
      await new Promise((resolve) => setTimeout(resolve, Number(every) * 1000));
    }
  });

await program.parseAsync();
