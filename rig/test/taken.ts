import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { ShotFrame } from '@zaddle/core/propose/lineUpShot';
import { readLayers } from '../src/camera/layerStore';
import { FRAME_HEIGHT, FRAME_WIDTH, KIT_LENS, simulateFrame } from '../src/camera/simulateFrame';
import type { PlannedFrame } from '../src/camera/writeCard';
import type { Layers } from '../src/trace/renderRoom';

/** Rooms of the demo house that were read so far. */
export const rooms = new Map<string, Layers>();
export const DATA = fileURLToPath(new URL('../data', import.meta.url));

export const room = async (name: string): Promise<Layers> => {
  if (!rooms.has(name)) rooms.set(name, await readLayers(join(DATA, name)));
  return rooms.get(name)!;
};

/** What a camera's file says of a planned frame: nothing of its flash. */
export const factsOf = (frame: PlannedFrame): FrameFacts => ({
  id: frame.file, name: frame.file, width: FRAME_WIDTH, height: FRAME_HEIGHT, takenAt: frame.takenAt.getTime(), seconds: frame.seconds, aperture: frame.aperture, iso: frame.iso,
  flash: null, bracketed: frame.bracketed, focalLength: 19, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});

/** Takes a planned frame of a room that was read before. */
export const take = (frame: PlannedFrame): ShotFrame => ({ facts: factsOf(frame), proxy: { width: FRAME_WIDTH, height: FRAME_HEIGHT, data: simulateFrame(rooms.get(frame.room)!, frame, KIT_LENS) } });
