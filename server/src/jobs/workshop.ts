import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import type { Delivery } from '../data/entities';
import type { FileStore, WorkStore } from '../data/fileStore';

/** What every task needs, wherever it runs. */
export interface Workshop {
  readonly database: DataSource;
  readonly boss: PgBoss;
  readonly store: WorkStore;
  /** Puts a delivered file below the folder for deliveries, which lies where the server does. @throws PlainError where it cannot lie there */
  readonly putIntoFolder: (delivery: Pick<Delivery, 'id' | 'name' | 'liesAt'>, folder: string) => Promise<void>;
}

/** What the server has at hand, beside its own store. */
export interface ServerWorkshop extends Workshop {
  readonly store: FileStore;
}
