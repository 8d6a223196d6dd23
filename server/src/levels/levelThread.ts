import { open, rename, rm } from 'node:fs/promises';
import type { Pixels } from '@zaddle/core/image/plane';
import { decodeFrame } from '../picture/decodeFrame';
import { makeSmaller } from '../picture/makeSmaller';
import { levelSize, LEVELS } from './levelSize';

export interface LevelTask {
  readonly original: string;
  /** A file for each level, and a name to write under until all of it is there. */
  readonly files: readonly { readonly path: string; readonly temporary: string }[];
}

async function write(pixels: Pixels, { path, temporary }: LevelTask['files'][number]): Promise<void> {
  try {
    const file = await open(temporary, 'wx');
    await file.writeFile(pixels.data as Uint8Array).finally(() => file.close());
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}

/** Decodes a frame once and keeps all its levels as plain rows of 8-bit RGB, from which parts are read. Returns the bytes written. */
export default async function makeLevels({ original, files }: LevelTask): Promise<number> {
  let pixels = await decodeFrame(original);
  const { width, height } = pixels;
  let bytes = 0;
  // The smallest last: a level is made from the one above it.
  for (const level of LEVELS) {
    const size = levelSize(width, height, level);
    if (level > 0) pixels = makeSmaller(pixels, size.width, size.height);
    await write(pixels, files[level]);
    bytes += pixels.data.byteLength;
  }
  return bytes;
}
