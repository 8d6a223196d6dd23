import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import { MoreThan } from 'typeorm';
import { addFrame } from '../data/frames';
import { announce } from '../data/events';
import { FrameEntity, ShootEntity, type StandingOrder } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { MAX_FILE } from '../picture/limits';
import { listCard } from '../picture/listCard';
import { QUALITY } from '../picture/orders';

/** Milliseconds between looks at the folder. */
const INTERVAL = 400;
/** A file that has not changed for this long is complete, milliseconds, by the time of who looks: the clock that files are stamped by may be another machine's, and wrong. */
const SETTLED = 350;
/** A live shoot of the same folder is gone on with for this long, milliseconds. */
const SAME_VISIT = 12 * 3600 * 1000;

/** Folders that are watched by this server. */
const watched = new Set<string>();
/** Whether any folder is watched. */
export const isWatching = (): boolean => watched.size > 0;

/** SHA-256 of a file. */
async function hashOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(file)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** What becomes of frames with nobody at the desk. */
export interface Unattended {
  /** What is delivered once all is there; none: nothing is by itself. */
  readonly orders: readonly string[];
  readonly method: MethodChoice | null;
  readonly folder: string | null;
}
const NOTHING: Unattended = { orders: [], method: null, folder: null };

/** The shoot that a watched folder's frames go to: the one begun lately, or a new one. */
async function liveShoot({ database }: ServerWorkshop, folder: string, { orders, method, folder: into }: Unattended): Promise<string> {
  const shoots = database.getRepository(ShootEntity);
  const name = `Live: ${basename(folder)}`;
  const lately = await shoots.findOneBy({ name, live: true, createdAt: MoreThan(new Date(Date.now() - SAME_VISIT)) });
  if (lately) return lately.id;
  const id = randomUUID();
  const standing: StandingOrder | null = orders.length === 0 ? null : { orders, quality: QUALITY, folder: into, receiver: null, batches: [], made: {}, fault: null };
  await shoots.insert({ id, name, address: '', dueAt: null, live: true, method, standing } as never);
  return id;
}

/**
 * Watches a folder that a tethered camera writes into: each file that is complete becomes a frame of the live shoot. Files
 * that cannot be read now are tried again at the next look; nothing in the folder is changed.
 * @param then what becomes of the frames of a shoot that begins @returns a function that stops watching.
 */
export function watchFolder(workshop: ServerWorkshop, folder: string, then: Unattended = NOTHING): () => Promise<void> {
  const path = resolve(folder);
  watched.add(path);
  const taken = new Set<string>();
  const seen = new Map<string, { readonly key: string; readonly since: number }>();
  let stopped = false;
  let timer: ReturnType<typeof setTimeout> | null = null;
  let running: Promise<void> = Promise.resolve();

  const take = async (file: string): Promise<void> => {
    const info = await stat(file);
    const key = `${file} ${info.size} ${info.mtimeMs}`;
    if (taken.has(key) || info.size === 0) return;
    const known = seen.get(file);
    if (known?.key !== key) return void seen.set(file, { key, since: performance.now() });
    if (performance.now() - known.since < SETTLED) return;
    // It will not become smaller; if it does, it is another file.
    if (info.size > MAX_FILE) return void taken.add(key);
    const shoot = await liveShoot(workshop, path, then);
    const sha256 = await hashOf(file);
    // After a restart all files are met again: what is there already is not copied once more.
    const there = await workshop.database.getRepository(FrameEntity).existsBy({ shootId: shoot, sha256 });
    if (!there) {
      await addFrame(workshop, shoot, basename(file), await workshop.store.importOriginal(file, MAX_FILE));
      await announce(workshop.database, { kind: 'shoot', shoot });
    }
    taken.add(key);
  };
  const look = async (): Promise<void> => {
    for (const file of await listCard(path).catch(() => [])) if (!stopped) await take(file).catch(() => undefined);
  };
  const next = (): void => {
    if (stopped) return;
    running = look().finally(() => {
      if (!stopped) timer = setTimeout(next, INTERVAL);
    });
  };
  next();
  return async () => {
    stopped = true;
    watched.delete(path);
    if (timer) clearTimeout(timer);
    await running;
  };
}
