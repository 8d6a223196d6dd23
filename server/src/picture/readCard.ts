import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join, relative } from 'node:path';
import { measureGrain } from '@zaddle/core/finish/measureGrain';
import type { Plane } from '@zaddle/core/image/plane';
import type { Pixels } from '@zaddle/core/image/plane';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { SortedShot } from '@zaddle/core/intake/groupShots';
import { frameStats, type FrameStats } from '@zaddle/core/read/frameStats';
import { packPixels, unpackPixels } from '../data/proxyFile';
import { decodeFrame, readFacts } from './decodeFrame';
import { RejectedFile } from './limits';
import { FrameShelf, shelfBytes } from './frameShelf';
import { structureOf } from './gatherFile';
import { listCard } from './listCard';
import { makeProxy } from './makeProxy';
import { openable } from './openFrame';
import { renderScratch, THREAD_FRAMES, type Openable, type WishKind } from './renderPicture';
import { sortFrames } from './sortFrames';

/** Decoded frames that are kept in memory from reading to rendering, bytes, at most; larger cards are decoded twice. */
const SHELF_LIMIT = 900_000_000;
/** Kernel memory that there can be. */
const MOST_MEMORY = 2_000_000_000;
/** Files that are decoded at a time: one decoder does not keep two cores busy. */
const READERS = 2;

/** A card folder as it was read. */
export interface Card {
  readonly facts: readonly FrameFacts[];
  readonly shots: readonly SortedShot[];
  readonly rejected: readonly { readonly file: string; readonly why: string }[];
  /** Milliseconds that reading a frame took. */
  readonly decodeMs: ReadonlyMap<string, number>;
  /** All frames decoded, where the card is small enough. */
  readonly shelf: FrameShelf | null;
  stats(id: string): FrameStats;
  proxy(id: string): Promise<Pixels>;
  openable(id: string): Openable;
  /** Removes what was put aside on disk. */
  close(): Promise<void>;
}

const isFilesFault = (error: unknown): error is Error => error instanceof RejectedFile || (error as NodeJS.ErrnoException).code !== undefined;

/** Runs over items a few at a time. */
async function inParallel<T>(items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
  const queue = [...items];
  const run = async (): Promise<void> => {
    for (let next = queue.shift(); next !== undefined; next = queue.shift()) await work(next);
  };
  await Promise.all(Array.from({ length: READERS }, run));
}

/** Reads a card folder; files that are no frames are listed and stop nothing. Ids of frames are paths relative to the folder. @param most the largest that will be asked of a rendering */
export async function readCard(folder: string, most: WishKind = 'encoded'): Promise<Card> {
  const paths = new Map((await listCard(folder)).map((path) => [relative(folder, path), path]));
  const rejected: { file: string; why: string }[] = [];
  const guarded = (work: (id: string) => Promise<void>) => async (id: string): Promise<void> => {
    try {
      await work(id);
    } catch (error) {
      if (!isFilesFault(error)) throw error;
      rejected.push({ file: id, why: error.message });
    }
  };
  const known = new Map<string, FrameFacts>();
  await inParallel([...paths.keys()], guarded(async (id) => void known.set(id, await readFacts(paths.get(id)!, id, basename(id)))));
  const shelf = shelfFor([...known.values()], most);
  const aside = shelf ? null : await mkdtemp(join(tmpdir(), 'zaddle-card-'));
  const proxies = new Map<string, Pixels | string>();
  const structures: { facts: FrameFacts; structure: Plane }[] = [];
  const stats = new Map<string, FrameStats>();
  const decodeMs = new Map<string, number>();
  await inParallel([...known.keys()].sort((a, b) => a.localeCompare(b, 'en', { numeric: true })), guarded(async (id) => {
    const started = performance.now();
    const pixels = await decodeFrame(paths.get(id)!, known.get(id)!.deep);
    if (shelf) shelf.place(id, pixels);
    const proxy = shelf ? shelf.proxy(id) : makeProxy(pixels);
    decodeMs.set(id, performance.now() - started);
    known.set(id, { ...known.get(id)!, grain: measureGrain(pixels) });
    stats.set(id, frameStats(proxy));
    structures.push({ facts: known.get(id)!, structure: structureOf(proxy) });
    if (!aside) proxies.set(id, proxy);
    else {
      const file = join(aside, String(proxies.size));
      proxies.set(id, file);
      await writeFile(file, packPixels(proxy));
    }
  }));
  rejected.sort((a, b) => a.file.localeCompare(b.file));
  structures.sort((a, b) => a.facts.id.localeCompare(b.facts.id, 'en', { numeric: true }));
  return {
    ...sortFrames(structures), rejected, decodeMs, shelf,
    stats: (id) => stats.get(id)!,
    proxy: async (id) => {
      const found = proxies.get(id)!;
      return typeof found === 'string' ? unpackPixels(await readFile(found)) : found;
    },
    openable: (id) => openable(paths.get(id)!, known.get(id)!),
    close: async () => {
      if (aside) await rm(aside, { recursive: true, force: true });
    },
  };
}

/** A shelf for all frames of a card, with room to render the largest of them, or null where they are too many. */
function shelfFor(frames: readonly FrameFacts[], most: WishKind): FrameShelf | null {
  const bytes = frames.reduce((sum, { width, height, deep }) => sum + shelfBytes(width, height, deep === true), 0);
  const width = Math.max(0, ...frames.map((f) => f.width));
  const height = Math.max(0, ...frames.map((f) => f.height));
  const scratch = renderScratch(width, height, Math.min(frames.length, THREAD_FRAMES), most);
  return bytes > SHELF_LIMIT || bytes + scratch > MOST_MEMORY ? null : new FrameShelf(bytes, scratch);
}
