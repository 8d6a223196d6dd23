import type { Layers } from '../trace/renderRoom';
import { frameSize } from './house';
import { fileName, planShot, type ShotPlan } from './plans';
import { movement } from './simulateFrame';
import type { PlannedFrame } from './takeFrames';

/*
 * The demo visit: a morning and an evening at Saltpan Tide Mill, in eight pictures that together show the whole job, and a
 * stray test frame.
 */

const TRIPOD = { shake: 1.5, turn: 0.0004 } as const;

interface PlannedShot extends ShotPlan {
  readonly start: string;
  readonly number: number;
}

const SHOTS: readonly PlannedShot[] = [
  { room: 'sitting-room', shot: 'sitting-room', start: '2026-06-11T09:12:08.240Z', number: 31, ambient: [0, -2, 2], pops: ['flash-1', 'flash-2', 'flash-3', 'flash-4'], shake: 2.5, turn: 0.0008, seed: 3 },
  { room: 'kitchen', shot: 'kitchen', start: '2026-06-11T09:23:44.120Z', number: 41, ambient: [0], pops: ['flash-1', 'flash-2'], shake: 4, turn: 0.0012, seed: 8 },
  { room: 'hoist-stair', shot: 'hoist-stair', start: '2026-06-11T09:41:17.500Z', number: 44, ambient: [0], pops: ['flash-1', 'flash-2', 'flash-3', 'flash-4'], ...TRIPOD, seed: 21 },
  { room: 'wash-house', shot: 'wash-house', start: '2026-06-11T09:58:02.310Z', number: 49, ambient: [0, -3], pops: ['flash-3'], extras: [{ role: 'flash', room: 'wash-house-helper', flash: 'flash-1' }, { role: 'flash', room: 'wash-house-later', flash: 'flash-1' }], ...TRIPOD, seed: 22 },
  { room: 'office', shot: 'office', start: '2026-06-11T10:16:40.080Z', number: 54, ambient: [0, -2, 2, -4, 4], pops: [], ...TRIPOD, seed: 23 },
  { room: 'rope-store', shot: 'rope-store', start: '2026-06-11T10:31:25.760Z', number: 59, ambient: [0], pops: ['flash-1', 'flash-2'], ...TRIPOD, seed: 24 },
  {
    room: 'pilots-room', shot: 'pilots-room', start: '2026-06-11T10:52:11.930Z', number: 62, ambient: [0, -2, 2], pops: ['flash-1', 'flash-2', 'flash-3', 'flash-4'],
    extras: [{ role: 'ambient', stops: 0, off: ['screen'] }, { role: 'flash', room: 'pilots-room-stand', flash: 'flash-1' }], ...TRIPOD, seed: 25,
  },
  {
    room: 'causeway', shot: 'causeway', start: '2026-06-11T20:44:33.400Z', number: 71, ambient: [0, -2], pops: ['flash-1', 'flash-2', 'flash-3', 'flash-4'],
    extras: [{ role: 'flash', room: 'causeway-bumped', flash: 'flash-5' }, { role: 'flash', room: 'causeway-bumped', flash: 'flash-6' }, { role: 'flash', room: 'causeway-bumped', flash: 'flash-7' }], ...TRIPOD, seed: 26,
  },
];

/** Names of the shots of the demo visit, in the order they were taken. */
export const DEMO_SHOTS: readonly string[] = SHOTS.map((shot) => shot.shot);

/** The demo visit. @param only shots to take; none: all. @throws Error where there is no such shot */
export async function planDemo(room: (name: string) => Promise<Layers>, only: readonly string[] = []): Promise<PlannedFrame[]> {
  const unknown = only.find((name) => !DEMO_SHOTS.includes(name));
  if (unknown) throw new Error(`The demo visit has no shot ${unknown}. There are: ${DEMO_SHOTS.join(', ')}.`);
  const frames: PlannedFrame[] = [];
  for (const shot of SHOTS.filter(({ shot: name }) => only.length === 0 || only.includes(name))) {
    const layers = await room(shot.room);
    const planned = planShot(shot, layers, new Date(shot.start), shot.number);
    frames.push(...planned);
    if (shot.room === 'sitting-room') frames.push({ ...planned[0], file: fileName(40), shot: 'test', role: 'spare', takenAt: new Date('2026-06-11T09:19:31.500Z'), bracketed: false, seconds: 0.5, toReference: movement(frameSize(layers), -330 * (layers.width / 1620), 260 * (layers.width / 1620), 0.31, 0.42), seed: 909 });
  }
  return frames;
}
