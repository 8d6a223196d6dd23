import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { databaseProgram } from '../data/postgres';
import { FileStore } from '../data/fileStore';
import { PlainError } from '../picture/limits';
import { copyStore, type Copied } from './copyStore';

/** Parts of a backup. */
export const BACKUP = { note: 'backup.json', database: 'database.dump', store: 'store' } as const;

/** What a backup says of itself. */
export interface BackupNote {
  readonly format: 'zaddle-backup';
  readonly version: 1;
  readonly madeAt: string;
  readonly files: number;
  readonly originals: number;
  /** Names of frames whose files were gone before. */
  readonly without: readonly string[];
}

/** Frames of a database, each file once. */
async function framesIn(databaseUrl: string): Promise<{ readonly sha256: string; readonly name: string }[]> {
  const { stdout } = await databaseProgram('psql', databaseUrl, ['-tA', '-F', '\t', '-c', "SELECT DISTINCT ON (sha256) sha256, replace(name, E'\\t', ' ') FROM frames ORDER BY sha256"]);
  return stdout.split('\n').filter(Boolean).map((line) => ({ sha256: line.slice(0, 64), name: line.slice(65) }));
}

/**
 * Writes a copy of all that is kept, the database and the store, while both are in use: the database as it stands at one moment, and every file that it
 * knows then. Files come first and once more after it, so that none lies between. It is there under its name once it is whole.
 * @param to a folder that is not there yet @throws PlainError where it is
 */
export async function writeBackup(databaseUrl: string, store: string, to: string): Promise<BackupNote> {
  if (existsSync(to)) throw new PlainError(`${to} is there already. Give a folder that is not there yet: a backup is not laid over another.`);
  const part = `${to}.part`;
  await rm(part, { recursive: true, force: true });
  await mkdir(dirname(to), { recursive: true });
  await mkdir(join(part, BACKUP.store), { recursive: true, mode: 0o700 });
  try {
    const copied: Copied = new Map();
    await copyStore(store, join(part, BACKUP.store), copied);
    // Held against what was there before: a frame that is deleted meanwhile takes its file along.
    const frames = await framesIn(databaseUrl);
    // Keys open this server only.
    await databaseProgram('pg_dump', databaseUrl, ['--format=custom', '--no-privileges', '--exclude-table-data=network_keys', `--file=${join(part, BACKUP.database)}`]);
    await copyStore(store, join(part, BACKUP.store), copied);
    const kept = new FileStore(join(part, BACKUP.store));
    const there = await Promise.all(frames.map(async ({ sha256 }) => kept.hasOriginal(sha256)));
    const note: BackupNote = { format: 'zaddle-backup', version: 1, madeAt: new Date().toISOString(), files: copied.size, originals: there.filter(Boolean).length, without: frames.filter((_, k) => !there[k]).map(({ name }) => name) };
    await writeFile(join(part, BACKUP.note), `${JSON.stringify(note, null, 1)}\n`);
    await rename(part, to);
    return note;
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    throw error;
  }
}
