import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { eitherFound, FOUND_VERSION, packFound, StoredFound, wantedBy, type Wanted } from '@zaddle/core/found/storedFound';
import type { Found } from '@zaddle/core/found/found';
import type { MixDocument } from '@zaddle/document';
import type { WorkStore } from '../data/fileStore';
import type { FindTask } from './findThread';

let pool: Piscina<FindTask, Uint8Array> | null = null;

/** Findings of a shot on one reference, and of one version of the detections. */
const nameOf = (shot: string, reference: string): string => `${shot}-${reference}-${FOUND_VERSION}`;

/** Keeps what was found when a shot was proposed. */
export async function keepFound(store: WorkStore, shot: string, mix: MixDocument, found: Found, size: { width: number; height: number }): Promise<void> {
  await store.putDerived('found', nameOf(shot, found.reference), packFound(found, wantedBy(mix), size.width, size.height));
}

async function read(store: WorkStore, shot: string, reference: string): Promise<{ found: StoredFound; packed: Uint8Array } | null> {
  try {
    const packed = await store.readDerived('found', nameOf(shot, reference));
    return { found: StoredFound.unpack(packed), packed };
  } catch (error) {
    // Damaged or not there: it can be made again.
    if (error instanceof RangeError || error instanceof SyntaxError || (error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

/**
 * What the masks of a mix refer to, as it was found when the shot was proposed, or found now where that was not kept
 * (shots from before, areas that came later).
 */
export async function foundOf(store: WorkStore, shot: string, mix: MixDocument): Promise<{ found: StoredFound; packed: Uint8Array }> {
  const wanted = wantedBy(mix);
  // Another reference later does not make anything be found anew: planes are read through its map.
  for (const reference of [mix.reference, ...Object.keys(mix.frames)]) {
    const kept = await read(store, shot, reference);
    if (kept?.found.has(wanted)) return kept;
  }
  pool ??= new Piscina({ filename: fileURLToPath(new URL('./findThread.ts', import.meta.url)), minThreads: 0, maxThreads: 1, idleTimeout: 30_000, execArgv: ['--import', import.meta.resolve('tsx')] });
  const proxies = await Promise.all(Object.keys(mix.frames).map(async (id) => [id, await store.bringDerived('proxy', id)] as const));
  const kept = (await read(store, shot, mix.reference))?.found;
  // What is there stays as it is, and only what is not is found.
  const missing = wanted.filter((each) => !kept?.has([each]));
  const fresh = await pool.run({ mix, proxies, wanted: missing });
  const packed = kept ? joined(kept, fresh, wanted) : fresh;
  await store.putDerived('found', nameOf(shot, mix.reference), packed);
  return { found: StoredFound.unpack(packed), packed };
}

/** What was kept and what was found now, as far as it is wanted. */
function joined(kept: StoredFound, fresh: Uint8Array, wanted: readonly Wanted[]): Uint8Array {
  const found = StoredFound.unpack(fresh);
  return packFound(eitherFound(found, kept), wanted, found.width, found.height);
}

export async function closeFinding(): Promise<void> {
  await pool?.destroy();
  pool = null;
}
