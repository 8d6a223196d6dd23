import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { restoreBackup } from '../backup/restoreBackup';
import { writeBackup, type BackupNote } from '../backup/writeBackup';
import { startPostgres } from '../data/postgres';
import { PlainError } from '../picture/limits';
import { findRunning, holdFolder } from './runningServer';
import { UsageError } from './usageError';

const told = ({ originals, files, without }: BackupNote): string => `${originals} frames’ files, ${files} files in all${without.length > 0 ? `; without ${without.length} whose files were gone before: ${without.slice(0, 3).join(', ')}` : ''}`;

/** What went wrong, as a person at the command line is told. */
async function plainly<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof PlainError ? new UsageError(error.message) : error;
  }
}

/** Writes a copy of a data folder, whether a server runs on it or not. @throws UsageError */
export async function backup(data: string, to: string): Promise<void> {
  const folder = resolve(data);
  if (!existsSync(join(folder, 'postgres', 'cluster'))) throw new UsageError(`${folder} is no data folder: nothing was kept there yet. Give the one that start was given.`);
  const write = (url: string): Promise<BackupNote> => plainly(() => writeBackup(url, join(folder, 'store'), resolve(to)));
  const hold = await holdFolder(folder);
  const running = hold ? null : await findRunning(folder);
  if (!hold && !running) throw new UsageError('Zaddle is being started on this data folder. Try again once it runs.');
  const postgres = running ? null : await startPostgres(join(folder, 'postgres'));
  try {
    process.stdout.write(`Kept in ${resolve(to)}: ${told(await write(running?.database ?? postgres!.url))}.\n`);
  } finally {
    await postgres?.stop();
    hold?.close();
  }
}

/** Makes a data folder of a backup. @throws UsageError */
export async function restore(from: string, data: string): Promise<void> {
  const note = await plainly(() => restoreBackup(resolve(from), resolve(data)));
  process.stdout.write(`${resolve(data)} is as it was at ${note.madeAt}: ${told(note)}. Serve it with ./zaddle start --data ${data}\n`);
}
