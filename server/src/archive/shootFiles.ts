import { stat } from 'node:fs/promises';
import { FOUND_VERSION } from '@zaddle/core/found/storedFound';
import type { Derived, FileStore } from '../data/fileStore';
import type { Row, ShootRecord } from './shootRecord';

/** A file of the store that belongs to a shoot. */
export type ShootFile = { readonly kind: 'original'; readonly id: string; readonly name: string; readonly bytes: number } | { readonly kind: Derived; readonly id: string; readonly bytes: number };

/** What is kept of every frame beside its file. */
const OF_FRAME: readonly Derived[] = ['proxy', 'half', 'structure', 'thumbnail'];

const there = async (path: string): Promise<number | null> => stat(path).then(({ size }) => size, () => null);
const textOf = (row: Row, column: string): string => String(row[column]);

/** Files of a shoot that are in the store: its frames', what was read from them, what was found, delivered pictures. Copies of originals as rows are not counted: they are made anew. */
export async function shootFiles(store: FileStore, { tables }: ShootRecord): Promise<ShootFile[]> {
  const files: ShootFile[] = [];
  const add = async (kind: Derived, id: string): Promise<void> => {
    const bytes = await there(store.derived(kind, id));
    if (bytes !== null) files.push({ kind, id, bytes });
  };
  const originals = new Map((tables.frames ?? []).map((frame) => [textOf(frame, 'sha256'), textOf(frame, 'name')]));
  for (const [sha256, name] of originals) {
    const bytes = await there(store.original(sha256));
    if (bytes !== null) files.push({ kind: 'original', id: sha256, name, bytes });
  }
  for (const frame of tables.frames ?? []) for (const kind of OF_FRAME) await add(kind, textOf(frame, 'id'));
  for (const shot of tables.shots ?? []) {
    for (const frame of (tables.frames ?? []).filter(({ shot_id: of }) => of === shot.id)) await add('found', `${textOf(shot, 'id')}-${textOf(frame, 'id')}-${FOUND_VERSION}`);
  }
  for (const delivery of tables.deliveries ?? []) if (delivery.state === 'done') await add('delivery', textOf(delivery, 'id'));
  return files;
}

/** Bytes that a shoot takes in the store. Originals may be another's, too. */
export interface DiskUse {
  readonly originals: number;
  readonly delivered: number;
  readonly others: number;
}
export function diskUse(files: readonly ShootFile[]): DiskUse {
  const sum = (holds: (file: ShootFile) => boolean): number => files.filter(holds).reduce((total, { bytes }) => total + bytes, 0);
  return { originals: sum(({ kind }) => kind === 'original'), delivered: sum(({ kind }) => kind === 'delivery'), others: sum(({ kind }) => kind !== 'original' && kind !== 'delivery') };
}
