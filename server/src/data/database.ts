import { DataSource } from 'typeorm';
import { ENTITIES } from './entities';
import { BatchTables1765300000000 } from './batchTables';
import { FirstTables1764000000000 } from './firstTables';
import { KeepingTables1764400000000 } from './keepingTables';
import { LensTables1764200000000 } from './lensTables';
import { MethodTables1765000000000 } from './methodTables';
import { OrderTables1764900000000 } from './orderTables';
import { PartTables1764300000000 } from './partTables';
import { ColourTables1765500000000 } from './colourTableTables';
import { DustTables1764800000000 } from './dustTables';
import { SpotTables1764700000000 } from './spotTables';
import { StandingTables1765600000000 } from './standingTables';
import { StartTables1764600000000 } from './startTables';
import { GroupingTables1764100000000 } from './groupingTables';
import { KeyTables1765700000000 } from './keyTables';
import { KeptOrderTables1765200000000 } from './keptOrderTables';
import { ReceiverTables1765400000000 } from './receiverTables';
import { WallTables1765100000000 } from './wallTables';
import { VersionTables1764500000000 } from './versionTables';
import { ViewTables1765800000000 } from './viewTables';

/** What brings tables up to date, in turn. */
export const MIGRATIONS = [FirstTables1764000000000, GroupingTables1764100000000, LensTables1764200000000, PartTables1764300000000, KeepingTables1764400000000, VersionTables1764500000000, StartTables1764600000000, SpotTables1764700000000, DustTables1764800000000, OrderTables1764900000000, MethodTables1765000000000, WallTables1765100000000, KeptOrderTables1765200000000, BatchTables1765300000000, ReceiverTables1765400000000, ColourTables1765500000000, StandingTables1765600000000, KeyTables1765700000000, ViewTables1765800000000];

/** How long a worker may leave a transaction open without a word, milliseconds. One that was stopped, or whose cable was pulled, holds its rows no longer than that: TCP by itself may take a quarter of an hour to notice. */
const WORDLESS = 10_000;

/** Opens the database: as the server, which brings its tables up to date, or as a worker. */
export async function openDatabase(url: string, as: 'server' | 'worker'): Promise<DataSource> {
  const database = new DataSource({
    type: 'postgres', url, entities: ENTITIES, migrations: [...MIGRATIONS], installExtensions: false, uuidExtension: 'pgcrypto', migrationsRun: as === 'server',
    extra: as === 'worker' ? { idle_in_transaction_session_timeout: WORDLESS } : {},
  });
  return database.initialize();
}
