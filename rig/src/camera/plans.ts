import type { Layers } from '../trace/renderRoom';
import { frameSize } from './house';
import { meter, movement } from './simulateFrame';
import type { Role } from '@zaddle/core/intake/frameFacts';
import type { PlannedFrame } from './takeFrames';

/** Numbers in -1..1 from a seed (Park, Miller 1988). */
function wobble(seed: number): () => number {
  let state = (seed * 7919 + 17) % 2147483647;
  return () => (state = (state * 48271) % 2147483647) / 1073741823.5 - 1;
}

/** A frame for one purpose: under the room's own light at some exposure, or by one flash; with whom or what is in the room then. */
/** `off`: steady lights that are switched off then. */
export type ExtraFrame = { readonly role: Role; readonly room?: string; readonly off?: readonly string[] } & ({ readonly stops: number } | { readonly flash: string; readonly power?: number });

/** How a shot is taken. */
export interface ShotPlan {
  readonly room: string;
  readonly shot: string;
  /** Stops of the ambient frames against the metered exposure. */
  readonly ambient: readonly number[];
  readonly pops: readonly string[];
  /** What else is taken after the pops. */
  readonly extras?: readonly ExtraFrame[];
  /** Pixels of a frame 1500 wide by which the camera moves between frames, at most. */
  readonly shake: number;
  readonly turn: number;
  readonly seed: number;
}

const NO_FRAME = { bracketed: false, orientation: 1 } as const;
const EXPOSED = 0.2;
const POP_POWER = 1;

/** Shutter times that cameras have, in thirds of a stop. */
const shutter = (seconds: number): number => 2 ** (Math.round(Math.log2(seconds) * 3) / 3);

/** What the camera calls a frame. */
export const fileName = (number: number): string => `MILL${String(number).padStart(4, '0')}.JPG`;

/** Flashes that are fired where nobody says which: the first two, of those that a room has. */
export const usualPops = (room: Layers): string[] => ['flash-1', 'flash-2'].filter((name) => room.layers.has(name));

/** Plans the frames of one shot from `start` on; the metered ambient frame is the reference. @throws Error when a flash is to fire that the room does not have */
export function planShot(plan: ShotPlan, room: Layers, start: Date, number: number): PlannedFrame[] {
  const missing = plan.pops.find((name) => !room.layers.has(name));
  if (missing !== undefined) throw new Error(`${plan.room} has no light ${missing}. It has ${[...room.layers.keys()].join(', ')}.`);
  const random = wobble(plan.seed);
  const steady = Object.fromEntries([...room.layers.keys()].filter((name) => !name.startsWith('flash') && name !== 'sun').map((name) => [name, 1]));
  const size = frameSize(room);
  const shake = (plan.shake * size.width) / 1500;
  const metered = EXPOSED / meter(room, steady) / 2;
  let at = start.getTime();
  let index = number;
  const name = (): string => fileName(index++);
  const moved = (still: boolean) => (still ? movement(size, 0, 0, 0) : movement(size, random() * shake, random() * shake, random() * plan.turn, 1 + random() * plan.turn * 0.1));
  const drift = (): [number, number] => [1 + 0.03 * random(), 1 + 0.03 * random()];
  const frames: PlannedFrame[] = [];
  const common = { ...NO_FRAME, shot: plan.shot, aperture: 8, iso: 200, steady } as const;
  const byRoomLight = (role: Role, place: string, stops: number, bracketed: boolean, first: boolean, lit = steady): void => {
    const seconds = shutter(metered * 2 ** stops);
    frames.push({ ...common, steady: lit, file: name(), room: place, role, takenAt: new Date(at), bracketed, seconds, flashes: {}, toReference: moved(first), balance: first ? [0.93, 1.12] : [0.93 * drift()[0], 1.12 * drift()[1]], seed: plan.seed * 100 + index });
    at += 900 + seconds * 1000;
  };
  const byFlash = (role: Role, place: string, flash: string, power: number, lit = steady): void => {
    at += 4200;
    frames.push({ ...common, steady: lit, file: name(), room: place, role, takenAt: new Date(at), seconds: 1 / 60, flashes: { [flash]: power }, toReference: moved(false), balance: drift(), seed: plan.seed * 100 + index });
  };
  plan.ambient.forEach((stops, k) => byRoomLight('ambient', plan.room, stops, plan.ambient.length > 1, k === 0));
  for (const flash of plan.pops) byFlash('flash', plan.room, flash, POP_POWER);
  for (const extra of plan.extras ?? []) {
    const lit = Object.fromEntries(Object.entries(steady).filter(([light]) => !extra.off?.includes(light)));
    if ('flash' in extra) byFlash(extra.role, extra.room ?? plan.room, extra.flash, extra.power ?? POP_POWER, lit);
    else byRoomLight(extra.role, extra.room ?? plan.room, extra.stops, false, false, lit);
  }
  return frames;
}
