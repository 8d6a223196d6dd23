import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import type { FileStore } from '../data/fileStore';

/** What every task needs. */
export interface Workshop {
  readonly database: DataSource;
  readonly boss: PgBoss;
  readonly store: FileStore;
}
