import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { inject } from 'vitest';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { ShotFrame } from '@zaddle/core/propose/lineUpShot';
import { ownPictures, roomOf, withBase } from '../src/camera/house';
import { KIT_LENS, simulateFrame } from '../src/camera/simulateFrame';
import type { PlannedFrame } from '../src/camera/takeFrames';
import type { Layers } from '../src/trace/renderRoom';

/** Pixels of frames in tests. */
export const FRAME_WIDTH = 1500;
export const FRAME_HEIGHT = 1000;

/** A room's own lights, as this run of the tests made them before, or made now and left for other files of tests. */
async function own(name: string): Promise<Layers> {
  const folder = join(inject('rooms'), name);
  if (existsSync(folder)) {
    const { width, height, names } = JSON.parse(readFileSync(join(folder, 'room.json'), 'utf8')) as { width: number; height: number; names: string[] };
    const layer = (name: string): readonly [string, Float32Array] => [name, new Float32Array(new Uint8Array(readFileSync(join(folder, `${name}.f32`))).buffer)];
    return { width, height, layers: new Map(names.map(layer)) };
  }
  const made = await ownPictures(roomOf(name), { width: FRAME_WIDTH, height: FRAME_HEIGHT });
  const half = `${folder}.${process.pid}`;
  try {
    mkdirSync(half);
    for (const [layer, values] of made.layers) writeFileSync(join(half, `${layer}.f32`), values);
    writeFileSync(join(half, 'room.json'), JSON.stringify({ width: made.width, height: made.height, names: [...made.layers.keys()] }));
    renameSync(half, folder);
  } catch {
    // Another file of tests was faster, or the disk is full: it is made anew where it is wanted.
    rmSync(half, { recursive: true, force: true });
  }
  return made;
}

/** Rooms of the demo house that were made so far. */
export const rooms = new Map<string, Layers>();

export const room = async (name: string): Promise<Layers> => {
  const { base } = roomOf(name);
  if (!rooms.has(name)) rooms.set(name, withBase(await own(name), base ? await room(base) : null));
  return rooms.get(name)!;
};

/** What a camera's file says of a planned frame: nothing of its flash. */
export const factsOf = (frame: PlannedFrame): FrameFacts => ({
  id: frame.file, name: frame.file, width: FRAME_WIDTH, height: FRAME_HEIGHT, takenAt: frame.takenAt.getTime(), seconds: frame.seconds, aperture: frame.aperture, iso: frame.iso,
  flash: null, bracketed: frame.bracketed, focalLength: 19, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});

/** Takes a planned frame of a room that was read before. */
export const take = (frame: PlannedFrame): ShotFrame => ({ facts: factsOf(frame), proxy: { width: FRAME_WIDTH, height: FRAME_HEIGHT, data: simulateFrame(rooms.get(frame.room)!, frame, KIT_LENS) } });
