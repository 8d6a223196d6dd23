import { open, rename, rm } from 'node:fs/promises';
import type { Pixels } from '@zaddle/core/image/plane';
import { decodeFrame, rounded } from '../picture/decodeFrame';
import { makeSmaller } from '../picture/makeSmaller';
import { LEVELS } from './levelSize';

export interface DecodeTask {
  readonly kind: 'decode';
  readonly original: string;
  /** 16 bit a channel, as the file has them. */
  readonly deep: boolean;
}
/** Makes the level below a level. */
export interface HalveTask {
  readonly kind: 'halve';
  readonly pixels: Pixels;
  readonly size: { readonly width: number; readonly height: number };
}
export interface KeepTask {
  readonly kind: 'keep';
  /** All of the frame's levels. */
  readonly levels: readonly Pixels[];
  /** A file for each level, and a name to write under until all of it is there. */
  readonly files: readonly { readonly path: string; readonly temporary: string }[];
}

async function write(pixels: Pixels, { path, temporary }: KeepTask['files'][number]): Promise<void> {
  try {
    const file = await open(temporary, 'wx', 0o600);
    const { buffer, byteOffset, byteLength } = pixels.data;
    await file.writeFile(new Uint8Array(buffer, byteOffset, byteLength)).finally(() => file.close());
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}

function shared({ width, height, data }: Pixels): Pixels {
  const memory = new SharedArrayBuffer(data.byteLength);
  const copy = data instanceof Uint16Array ? new Uint16Array(memory) : new Uint8Array(memory);
  copy.set(data);
  return { width, height, data: copy };
}

/** Keeps all levels of a frame as plain rows of RGB, from which parts are read. Returns the bytes written. */
async function keep({ levels, files }: KeepTask): Promise<number> {
  for (const k of LEVELS) await write(levels[k], files[k]);
  return levels.reduce((sum, level) => sum + level.data.byteLength, 0);
}

/** Decodes a frame or halves it, into memory that all threads share: parts are answered from there while it is written down. Keeping it says how many bytes were written. */
export default async function work(task: DecodeTask | HalveTask | KeepTask): Promise<Pixels | number> {
  if (task.kind === 'decode') return shared(await decodeFrame(task.original, task.deep));
  if (task.kind === 'halve') return shared(makeSmaller(task.pixels.data instanceof Uint16Array ? rounded(task.pixels) : task.pixels, task.size.width, task.size.height));
  return keep(task);
}
