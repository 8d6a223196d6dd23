import { constants } from 'node:fs';
import { copyFile, mkdir, readdir, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';

/** What can be made anew at any time, and what is not all there yet: neither is copied. */
const LEFT_OUT: ReadonlySet<string> = new Set(['incoming', 'level']);

/** Files that were copied, by their places, each as it was then: files are never changed, only put in another's place. */
export type Copied = Map<string, string>;

const isGone = (error: NodeJS.ErrnoException): undefined => {
  if (error.code === 'ENOENT') return undefined;
  throw error;
};

/** All files below a folder, by their places in it. */
async function* filesBelow(folder: string, place = ''): AsyncGenerator<string> {
  for (const entry of (await readdir(join(folder, place), { withFileTypes: true }).catch(isGone)) ?? []) {
    const own = place === '' ? entry.name : `${place}/${entry.name}`;
    if (entry.isDirectory() && !(place === '' && LEFT_OUT.has(entry.name))) yield* filesBelow(folder, own);
    else if (entry.isFile()) yield own;
  }
}

/**
 * Copies a store that is in use: what is there and was not copied yet. What is taken away meanwhile is left out.
 * @param copied what was copied before; it is added to
 */
export async function copyStore(store: string, to: string, copied: Copied): Promise<void> {
  for await (const place of filesBelow(store)) {
    const is = await stat(join(store, place)).catch(isGone);
    if (!is) continue;
    const state = `${is.ino} ${is.size} ${is.mtimeMs}`;
    if (copied.get(place) === state) continue;
    await mkdir(dirname(join(to, place)), { recursive: true, mode: 0o700 });
    // Where the disk can, both share their blocks until one is changed.
    const there = await copyFile(join(store, place), join(to, place), constants.COPYFILE_FICLONE).then(() => true, isGone);
    if (there) copied.set(place, state);
  }
}
