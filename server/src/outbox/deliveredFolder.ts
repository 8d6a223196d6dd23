import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, extname, join, sep } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { DataSource } from 'typeorm';
import { safeName } from '@zaddle/document';
import { DeliveryEntity } from '../data/entities';
import { PlainError } from '../picture/limits';

/** Where whoever started the server lets deliveries be put, told to workers by their surroundings; null: nowhere. */
export const deliverTo = (): string | null => process.env.ZADDLE_DELIVER_TO || null;

/** Folders one within the other, from what a person typed. @throws PlainError where nothing of it names a folder */
export function folderNames(typed: string): string {
  const names = typed.split(/[/\\]+/).map((name) => name.trim()).filter(Boolean);
  if (names.length === 0 || names.length > 8 || names.some((name) => !/[\p{L}\p{N}]/u.test(name))) throw new PlainError('Name a folder: one to eight names, with / between them.');
  return names.map(safeName).join('/');
}

/** The folder for a delivery, made where it is missing. @throws PlainError where it leads out of the one that is allowed */
async function openFolder(root: string, path: string): Promise<string> {
  const folder = join(root, path);
  await mkdir(folder, { recursive: true });
  const [real, home] = await Promise.all([realpath(folder), realpath(root)]);
  if (real !== home && !real.startsWith(home + sep)) throw new PlainError(`${path} leads out of the folder for deliveries by a link. Choose another folder.`);
  return folder;
}

/** A name that neither a file nor another delivery has: `kitchen.jpg`, `kitchen-2.jpg`. It is this delivery's from then on, so that doing it again writes no second file. */
function settle(database: DataSource, root: string, id: string, path: string): Promise<string> {
  return database.transaction(async (manager) => {
    await manager.query('SELECT pg_advisory_xact_lock(hashtext($1))', ['delivered folder']);
    const deliveries = manager.getRepository(DeliveryEntity);
    const extension = extname(path);
    for (let k = 1; ; k++) {
      const name = k === 1 ? path : `${path.slice(0, path.length - extension.length)}-${k}${extension}`;
      if ((await deliveries.existsBy({ liesAt: name })) || (await stat(join(root, name)).catch(() => null))) continue;
      await deliveries.update({ id }, { liesAt: name });
      return name;
    }
  });
}

/**
 * Puts a delivered file below the folder for deliveries, whole or not at all, and once however often it is done.
 * @param folder names of folders below it @param file where it lies in the store @returns where it lies
 * @throws PlainError where there is no such folder any more, or it leads elsewhere
 */
export async function putIntoFolder(database: DataSource, { id, name, liesAt }: { readonly id: string; readonly name: string; readonly liesAt: string | null }, folder: string, file: string): Promise<string> {
  const root = deliverTo();
  if (!root) throw new PlainError('This server was started without a folder for deliveries. Start it with --deliver-to, then try again.');
  await openFolder(root, folder);
  const path = liesAt ?? (await settle(database, root, id, `${folder}/${name}`));
  const target = join(await openFolder(root, dirname(path)), basename(path));
  const temporary = `${target}.part-${id.slice(0, 8)}`;
  try {
    await pipeline(createReadStream(file), createWriteStream(temporary, { mode: 0o644 }));
    const written = await open(temporary, 'r');
    await written.sync().finally(() => written.close());
    await rename(temporary, target);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
  return path;
}
