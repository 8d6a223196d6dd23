import { mkdir } from 'node:fs/promises';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Role } from '@zaddle/core/intake/frameFacts';
import type { Exposure } from './simulateFrame';
import type { Layers } from '../trace/renderRoom';

/** A frame to be taken, with what the card's truth says about it. */
export interface PlannedFrame extends Exposure {
  readonly file: string;
  readonly shot: string;
  /** The room, visitors and all, that the frame shows. */
  readonly room: string;
  readonly role: Role;
  readonly takenAt: Date;
  readonly bracketed: boolean;
  /** EXIF orientation under which the file is stored. */
  readonly orientation: 1 | 6;
}

/** Threads that take frames. */
const THREADS = Math.min(4, cpus().length);

/** Takes one planned frame and writes it into a folder: work of a thread of its own. */
export interface FrameTask {
  readonly folder: string;
  readonly frame: PlannedFrame;
  /** In shared memory, only the lights that the frame needs. */
  readonly room: Layers;
  /** Of the JPEG, 1..100; up to 90 it is made small. */
  readonly quality: number;
}

/** JPEG quality of a camera that is set to its best. */
export const FINE = 93;

/** Takes planned frames into a card folder, several at once. @param quality of the JPEGs, 1..100 */
export async function takeFrames(folder: string, frames: readonly PlannedFrame[], room: (name: string) => Promise<Layers>, quality = FINE): Promise<void> {
  await mkdir(folder, { recursive: true });
  const pool = new Piscina<FrameTask, void>({ filename: fileURLToPath(new URL('./frameThread.ts', import.meta.url)), maxThreads: THREADS, execArgv: ['--import', import.meta.resolve('tsx')] });
  // Room by room: pictures of rooms are large.
  for (const name of new Set(frames.map((frame) => frame.room))) {
    const whole = await room(name);
    await Promise.all(frames.filter((frame) => frame.room === name).map((frame) => {
      const needed = new Set([...Object.keys(frame.steady), ...Object.keys(frame.flashes)]);
      return pool.run({ folder, frame, quality, room: { ...whole, layers: new Map([...whole.layers].filter(([light]) => needed.has(light))) } });
    }));
  }
  await pool.destroy();
}
