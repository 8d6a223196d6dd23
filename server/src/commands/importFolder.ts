import { randomUUID } from 'node:crypto';
import { basename } from 'node:path';
import { addFrame } from '../data/frames';
import { ShootEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { MAX_FILE } from '../picture/limits';
import { listCard } from '../picture/listCard';

/** Makes a shoot of a folder on this machine. @returns its id. */
export async function importFolder(workshop: ServerWorkshop, folder: string, shoot: { name: string; address: string; dueAt: Date | null }): Promise<string> {
  const id = randomUUID();
  await workshop.database.getRepository(ShootEntity).insert({ id, ...shoot });
  for (const path of await listCard(folder)) await addFrame(workshop, id, basename(path), await workshop.store.importOriginal(path, MAX_FILE));
  return id;
}
