import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { readFile, readdir, rename, rm, rmdir } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { databaseProgram, makePrivate, startPostgres } from '../data/postgres';
import { PlainError } from '../picture/limits';
import { copyStore } from './copyStore';
import { BACKUP, type BackupNote } from './writeBackup';

/** What a backup says of itself. @throws PlainError where it is none, or a newer one */
async function noteOf(from: string): Promise<BackupNote> {
  const note = await readFile(join(from, BACKUP.note), 'utf8').then((text) => JSON.parse(text) as BackupNote, () => null);
  if (note?.format !== 'zaddle-backup') throw new PlainError(`${from} is no backup: it has no ${BACKUP.note}. Give the folder that ./zaddle backup wrote.`);
  if (note.version !== 1) throw new PlainError('This backup was made by a newer Zaddle. Bring this one up to date, then try again.');
  return note;
}

/** Originals that are not what they are called, by their digests: a disk may have lost some of them. */
async function damagedOriginals(store: string): Promise<string[]> {
  const damaged: string[] = [];
  for (const folder of await readdir(join(store, 'originals')).catch(() => [])) {
    for (const name of await readdir(join(store, 'originals', folder))) {
      const hash = createHash('sha256');
      await pipeline(createReadStream(join(store, 'originals', folder, name)), hash);
      if (hash.digest('hex') !== name) damaged.push(name);
    }
  }
  return damaged;
}

/**
 * Makes a data folder of a backup, whole or not at all; every original is held against its digest. `start` brings an older one up to date.
 * @param data a folder that is not there yet, or empty
 * @throws PlainError where there is something already, or the backup is none or damaged
 */
export async function restoreBackup(from: string, data: string): Promise<BackupNote> {
  const note = await noteOf(from);
  const inside = existsSync(data) ? await readdir(data) : [];
  if (inside.length > 0) throw new PlainError(`${data} is not empty. Give a folder that is not there yet: what is in it would be lost.`);
  const part = `${data}.part`;
  await rm(part, { recursive: true, force: true });
  makePrivate(part);
  try {
    await copyStore(join(from, BACKUP.store), join(part, 'store'), new Map());
    const damaged = await damagedOriginals(join(part, 'store'));
    if (damaged.length > 0) throw new PlainError(`This backup is damaged: ${damaged.length} of its files ${damaged.length === 1 ? 'is' : 'are'} not what ${damaged.length === 1 ? 'it was' : 'they were'} (${damaged.slice(0, 3).join(', ')}). Take another copy of it.`);
    const postgres = await startPostgres(join(part, 'postgres'));
    try {
      await databaseProgram('pg_restore', postgres.url, ['--no-owner', '--no-privileges', '--exit-on-error', '--single-transaction', '--dbname=zaddle', join(from, BACKUP.database)]).catch((error: Error) => {
        throw new PlainError('This backup is damaged: its database cannot be read. Take another copy of it.', { cause: error });
      });
    } finally {
      await postgres.stop();
    }
    if (existsSync(data)) await rmdir(data);
    await rename(part, data);
    return note;
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    throw error;
  }
}
