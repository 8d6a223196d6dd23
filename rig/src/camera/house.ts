import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ROOMS } from '../scene/house';
import type { Room, View } from '../scene/room';
import { evaluateRoom } from '../detail/evaluateRoom';
import type { Layers } from '../trace/renderRoom';
import { readLayers } from './layerStore';

/** Where the light of every room is kept. */
export const DATA = fileURLToPath(new URL('../../data', import.meta.url));

/** Pixels of a frame. */
export interface FrameSize {
  readonly width: number;
  readonly height: number;
}

/** How much wider pictures of rooms are than frames, so that the camera can move. */
const MARGIN = 1.08;

/** The size of frames that pictures of a room were made for. */
export const frameSize = ({ width, height }: Layers): FrameSize => ({ width: Math.round(width / MARGIN), height: Math.round(height / MARGIN) });

/** What a frame of a room shows: the middle of its picture. */
export const frameView = (view: View): View => ({ ...view, fieldOfView: (360 / Math.PI) * Math.atan(Math.tan((view.fieldOfView * Math.PI) / 360) / MARGIN) });

/** @throws Error where there is no such room */
export function roomOf(name: string): Room {
  const room = ROOMS.find((r) => r.name === name);
  if (!room) throw new Error(`The house has no room ${name}. There are: ${ROOMS.map((r) => r.name).join(', ')}.`);
  return room;
}

/** Pictures of a room's own lights, for frames of a size; what it has of another room is not in them. */
export const ownPictures = async (room: Room, size: FrameSize): Promise<Layers> => evaluateRoom(room, await readLayers(join(DATA, room.name)), Math.round(size.width * MARGIN), Math.round(size.height * MARGIN));

/** A room's own lights, and those of the room that it is otherwise. */
export const withBase = (own: Layers, base: Layers | null): Layers => (base ? { ...own, layers: new Map([...base.layers, ...own.layers]) } : own);

/** Rooms of the demo house as pictures of their lights, made when they are asked for. */
export class House {
  private readonly made = new Map<string, Promise<Layers>>();

  /** @param keep pictures of rooms that are kept for later; @param size of the frames to be taken */
  constructor(private readonly size: FrameSize, private readonly keep: number) {}

  /** @throws Error where there is no such room */
  room(name: string): Promise<Layers> {
    const known = this.made.get(name);
    const room = known ?? this.make(name);
    // The one asked for last is forgotten last.
    this.made.delete(name);
    this.made.set(name, room);
    for (const old of [...this.made.keys()].slice(0, -this.keep)) this.made.delete(old);
    return room;
  }

  private async make(name: string): Promise<Layers> {
    const room = roomOf(name);
    const base = room.base ? await this.room(room.base) : null;
    return withBase(await ownPictures(room, this.size), base);
  }
}
