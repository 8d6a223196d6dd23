import type { DataSource } from 'typeorm';
import { FileStore, type WorkStore } from '../data/fileStore';
import { putIntoFolder } from '../outbox/deliveredFolder';
import type { Workshop } from './workshop';

/** Where a worker's files are. */
export interface WorkPlace {
  /** The store as one job has it, until that is closed. */
  readonly openJob: () => { readonly store: WorkStore; readonly close: () => Promise<void> };
  readonly putIntoFolder: Workshop['putIntoFolder'];
}

/** Puts delivered files of a store on this computer where they are to lie. */
export const intoFolder = (database: DataSource, store: FileStore): Workshop['putIntoFolder'] => async (delivery, folder) => void (await putIntoFolder(database, delivery, folder, store.derived('delivery', delivery.id)));

/** Files on a disk of this computer. */
export function placeOnDisk(database: DataSource, storeFolder: string): WorkPlace {
  const store = new FileStore(storeFolder);
  return { openJob: () => ({ store, close: async () => undefined }), putIntoFolder: intoFolder(database, store) };
}
