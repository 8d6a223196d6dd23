import { open, rename, rm } from 'node:fs/promises';
import type { Pixels } from '@zaddle/core/image/plane';
import { decodeFrame } from '../picture/decodeFrame';
import { makeSmaller } from '../picture/makeSmaller';
import { levelSize, LEVELS } from './levelSize';

export interface DecodeTask {
  readonly kind: 'decode';
  readonly original: string;
}
export interface KeepTask {
  readonly kind: 'keep';
  /** The frame's levels, as `decode` made them. */
  readonly levels: readonly Pixels[];
  /** A file for each level, and a name to write under until all of it is there. */
  readonly files: readonly { readonly path: string; readonly temporary: string }[];
}

async function write(pixels: Pixels, { path, temporary }: KeepTask['files'][number]): Promise<void> {
  try {
    const file = await open(temporary, 'wx', 0o600);
    await file.writeFile(pixels.data as Uint8Array).finally(() => file.close());
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}

function shared({ width, height, data }: Pixels): Pixels {
  const copy = new Uint8Array(new SharedArrayBuffer(data.byteLength));
  copy.set(data as Uint8Array);
  return { width, height, data: copy };
}

/** Decodes a frame and makes its levels, in memory that all threads share: parts are answered from it while it is written down. */
async function decode(original: string): Promise<Pixels[]> {
  const levels = [shared(await decodeFrame(original))];
  // Each is made from the one above it.
  for (const k of LEVELS.slice(1)) {
    const size = levelSize(levels[0].width, levels[0].height, k);
    levels.push(shared(makeSmaller(levels[k - 1], size.width, size.height)));
  }
  return levels;
}

/** Keeps all levels of a frame as plain rows of 8-bit RGB, from which parts are read. Returns the bytes written. */
async function keep({ levels, files }: KeepTask): Promise<number> {
  for (const k of LEVELS) await write(levels[k], files[k]);
  return levels.reduce((sum, level) => sum + level.data.byteLength, 0);
}

/** Decodes a frame (its levels come back), or keeps one that was decoded (the bytes written). */
export default function work(task: DecodeTask | KeepTask): Promise<Pixels[] | number> {
  return task.kind === 'decode' ? decode(task.original) : keep(task);
}
