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
  readonly pixels: Pixels;
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

/** Decodes a frame whole, into memory that all threads share: parts are answered from it while it is written down. */
async function decode(original: string): Promise<Pixels> {
  const { width, height, data } = await decodeFrame(original);
  const shared = new Uint8Array(new SharedArrayBuffer(data.byteLength));
  shared.set(data as Uint8Array);
  return { width, height, data: shared };
}

/** Keeps all levels of a frame as plain rows of 8-bit RGB, from which parts are read. Returns the bytes written. */
async function keep({ pixels, files }: KeepTask): Promise<number> {
  let level: Pixels = pixels;
  let bytes = 0;
  // Each is made from the one above it.
  for (const k of LEVELS) {
    const size = levelSize(pixels.width, pixels.height, k);
    if (k > 0) level = makeSmaller(level, size.width, size.height);
    await write(level, files[k]);
    bytes += level.data.byteLength;
  }
  return bytes;
}

/** Decodes a frame (pixels come back), or keeps one that was decoded (the bytes written). */
export default function work(task: DecodeTask | KeepTask): Promise<Pixels | number> {
  return task.kind === 'decode' ? decode(task.original) : keep(task);
}
