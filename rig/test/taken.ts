import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { ShotFrame } from '@zaddle/core/propose/lineUpShot';
import { House } from '../src/camera/house';
import { KIT_LENS, simulateFrame } from '../src/camera/simulateFrame';
import type { PlannedFrame } from '../src/camera/takeFrames';
import type { Layers } from '../src/trace/renderRoom';

/** Pixels of frames in tests. */
export const FRAME_WIDTH = 1500;
export const FRAME_HEIGHT = 1000;

const house = new House({ width: FRAME_WIDTH, height: FRAME_HEIGHT }, 3);

/** Rooms of the demo house that were made so far. */
export const rooms = new Map<string, Layers>();

export const room = async (name: string): Promise<Layers> => {
  if (!rooms.has(name)) rooms.set(name, await house.room(name));
  return rooms.get(name)!;
};

/** What a camera's file says of a planned frame: nothing of its flash. */
export const factsOf = (frame: PlannedFrame): FrameFacts => ({
  id: frame.file, name: frame.file, width: FRAME_WIDTH, height: FRAME_HEIGHT, takenAt: frame.takenAt.getTime(), seconds: frame.seconds, aperture: frame.aperture, iso: frame.iso,
  flash: null, bracketed: frame.bracketed, focalLength: 19, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});

/** Takes a planned frame of a room that was read before. */
export const take = (frame: PlannedFrame): ShotFrame => ({ facts: factsOf(frame), proxy: { width: FRAME_WIDTH, height: FRAME_HEIGHT, data: simulateFrame(rooms.get(frame.room)!, frame, KIT_LENS) } });
