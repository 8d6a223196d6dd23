import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { applyCommand, InvalidMix, openMix, readStep } from '@zaddle/document';
import { PlainError } from '../picture/limits';
import { InvalidCube, readCube } from '@zaddle/core/finish/readCube';
import { keepTable, tableText } from '../data/colourTables';
import { OWNERS, SHOOT_TABLES } from './shootTables';

/** A row of a table, by its columns, as JSON has it. */
export type Row = Readonly<Record<string, unknown>>;

/** All that the database knows of one shoot: a table of rows each. */
export interface ShootRecord {
  readonly format: 'zaddle-shoot';
  readonly version: 1;
  readonly tables: Readonly<Record<string, readonly Row[]>>;
  /** Colour tables that its pictures go through; left out by those of before there were any. */
  readonly colours?: readonly { readonly name: string; readonly body: string }[];
}

const DIGESTS = /"digest":\s*"([0-9a-f]{64})"/g;

/** Reads a shoot as it stands at one moment. */
export async function readShootRecord(manager: EntityManager, shoot: string): Promise<ShootRecord> {
  const tables: Record<string, Row[]> = {};
  for (const { table, where } of SHOOT_TABLES) tables[table] = ((await manager.query(`SELECT to_jsonb(t) AS row FROM ${table} t WHERE ${where}`, [shoot])) as { row: Row }[]).map(({ row }) => row);
  const colours: { name: string; body: string }[] = [];
  for (const digest of new Set([...JSON.stringify(tables).matchAll(DIGESTS)].map(([, found]) => found))) {
    const kept = await tableText(manager, digest);
    if (kept) colours.push({ name: kept.name, body: kept.body });
  }
  return { format: 'zaddle-shoot', version: 1, tables, colours };
}

/** Ids of a record's rows: what others of its rows may refer to. */
export function idsOf({ tables }: ShootRecord): string[] {
  return SHOOT_TABLES.filter(({ id }) => id !== null).flatMap(({ table }) => (tables[table] ?? []).map(({ id }) => String(id)));
}

const ANY_ID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g;
/** Text with new ids in place of old ones, wherever it names them. */
export const renamed = (text: string, ids: ReadonlyMap<string, string>): string => text.replace(ANY_ID, (id) => ids.get(id) ?? id);

/** The same shoot under new ids throughout: documents, histories and masks name what they named. */
export function renameRecord(record: ShootRecord, ids: ReadonlyMap<string, string>): ShootRecord {
  return JSON.parse(renamed(JSON.stringify(record), ids)) as ShootRecord;
}

/** New ids for all rows of a record. */
export const newIds = (record: ShootRecord): Map<string, string> => new Map(idsOf(record).map((id) => [id, randomUUID()]));

/** Whether any of the ids is taken by another shoot of this database. */
export async function anyTaken(manager: EntityManager, record: ShootRecord): Promise<boolean> {
  for (const { table, id } of SHOOT_TABLES) {
    if (id === null) continue;
    const own = (record.tables[table] ?? []).map((row) => String(row.id));
    const [{ taken }] = (await manager.query(`SELECT EXISTS (SELECT FROM ${table} WHERE id::text = ANY($1)) AS taken`, [own])) as { taken: boolean }[];
    if (taken) return true;
  }
  return false;
}

const damaged = (what: string): PlainError => new PlainError(`This archive is damaged or not one of a shoot: ${what}. Nothing of it was taken in.`);

/** Goes through a history as a person would: all that is in force is undone, what was undone is redone. @throws Error where a step is none */
function checkHistory({ document, position }: Row, steps: readonly Row[]): void {
  const step = (at: number): Row | undefined => steps.find((each) => each.step === at);
  const now = openMix(document);
  let mix = now;
  for (let at = Number(position); at > 0; at--) mix = applyCommand(mix, readStep(step(at)?.inverse)).document;
  mix = now;
  try {
    for (let at = Number(position) + 1; step(at); at++) mix = applyCommand(mix, readStep(step(at)!.command)).document;
  } catch (error) {
    // A step that was put in before others may leave nothing for those; whoever redoes them is told.
    if (!(error instanceof InvalidMix)) throw error;
  }
}

/** Columns that places on the disk and names of files are made of: nothing in them leads elsewhere. */
const PLAIN: readonly { readonly table: string; readonly column: string; readonly is: RegExp }[] = [
  { table: 'frames', column: 'sha256', is: /^[0-9a-f]{64}$/ },
  { table: 'frames', column: 'name', is: /^[^\\/\p{Cc}]{1,255}$/u },
  { table: 'deliveries', column: 'name', is: /^[^\\/\p{Cc}]{1,255}$/u },
];

/** Holds a record from outside against what one has to be. @throws PlainError naming what is wrong */
export function checkRecord(record: ShootRecord): void {
  if (record?.format !== 'zaddle-shoot' || typeof record.tables !== 'object' || record.tables === null) throw damaged('it has no list of a shoot');
  if (record.version !== 1) throw new PlainError('This archive was made by a newer Zaddle. Bring this one up to date, then try again.');
  const rowsOf = (table: string): readonly Row[] => {
    const rows: unknown = record.tables[table] ?? [];
    if (!Array.isArray(rows) || rows.some((row) => typeof row !== 'object' || row === null || Array.isArray(row))) throw damaged(`${table} is no list of rows`);
    return rows as Row[];
  };
  if (rowsOf('shoots').length !== 1) throw damaged('it has not just one shoot');
  const ids = new Set(idsOf(record));
  for (const { table, id } of SHOOT_TABLES) {
    for (const row of rowsOf(table)) {
      if (id !== null && !new RegExp(`^${ANY_ID.source}$`).test(String(row.id))) throw damaged(`${table} has a row without an id`);
      for (const owner of OWNERS) if (owner in row && row[owner] !== null && !ids.has(String(row[owner]))) throw damaged(`${table} refers to what does not come along`);
    }
  }
  checkColours(record.colours ?? []);
  for (const { table, column, is } of PLAIN) for (const row of rowsOf(table)) if (typeof row[column] !== 'string' || !is.test(row[column])) throw damaged(`${table} has a ${column} that is none`);
  try {
    for (const { document } of rowsOf('mix_versions')) openMix(document);
    for (const mix of rowsOf('mixes')) checkHistory(mix, rowsOf('mix_steps').filter((step) => step.shot_id === mix.shot_id));
    for (const { document } of rowsOf('deliveries')) if (document !== null && document !== undefined) openMix(document);
  } catch (error) {
    throw damaged((error as Error).message);
  }
}

/** Holds colour tables that come along against what one has to be. */
function checkColours(colours: unknown): void {
  if (!Array.isArray(colours)) throw damaged('its colour tables are no list');
  for (const each of colours as readonly Row[]) {
    if (typeof each?.name !== 'string' || each.name === '' || typeof each.body !== 'string') throw damaged('it has a colour table that is none');
    try {
      readCube(each.body);
    } catch (error) {
      if (error instanceof InvalidCube) throw damaged(`in a colour table, ${error.message}`);
      throw error;
    }
  }
}

/**
 * Puts a checked record into the database. What was in the queue is stopped, and nothing lies in a folder here: both are of the machine it comes from.
 * Columns that an older record lacks have their usual values; those that are unknown here are left out.
 */
export async function writeShootRecord(manager: EntityManager, record: ShootRecord, name: string): Promise<void> {
  for (const table of record.colours ?? []) await keepTable(manager, table.name, table.body);
  for (const { table } of SHOOT_TABLES) {
    const rows = (record.tables[table] ?? []).map((row): Row => {
      if (table === 'shoots') return { ...row, name, live: false, standing: null };
      if (table === 'batches') return { ...row, place: 0, paused: false, folder: null, receiver: null };
      if (table === 'deliveries') return { ...row, lies_at: null, upload_url: null, ...(row.sending === 'waiting' ? { sending: null } : {}), ...(row.state === 'waiting' || row.state === 'running' ? { state: 'stopped', progress: 0 } : {}) };
      return row;
    });
    if (rows.length === 0) continue;
    const known = ((await manager.query('SELECT column_name AS name FROM information_schema.columns WHERE table_schema = current_schema() AND table_name = $1', [table])) as { name: string }[]).map((column) => column.name);
    const columns = known.filter((column) => rows.every((row) => column in row)).map((column) => `"${column}"`).join(', ');
    await manager.query(`INSERT INTO ${table} (${columns}) SELECT ${columns} FROM jsonb_populate_recordset(NULL::${table}, $1::jsonb)`, [JSON.stringify(rows)]);
  }
}
