import { createHash } from 'node:crypto';
import { In, type DataSource, type EntityManager } from 'typeorm';
import type { ColourTable, ColourTables } from '@zaddle/core/finish/colourTable';
import { readCube } from '@zaddle/core/finish/readCube';
import { tablesOf } from '@zaddle/document';
import { PlainError } from '../picture/limits';
import { ColourTableEntity, type KeptTable } from './entities';

/** What a table is, in a line. */
const whatIs = ({ kind, size }: ColourTable): string => (kind === 'curves' ? `curves of ${size} values` : `${size} × ${size} × ${size} colours`);

/** What a table is known by. */
export const digestOf = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex');

/**
 * Keeps a colour table; one that is there already stays as it is called.
 * @param text of a .cube file. @throws InvalidCube with the line that is wrong
 */
export async function keepTable(database: DataSource | EntityManager, name: string, text: string): Promise<Omit<KeptTable, 'body'>> {
  const table = readCube(text);
  const kept = { digest: digestOf(text), name: name.slice(0, 120), what: whatIs(table), body: text };
  const tables = database.getRepository(ColourTableEntity);
  await tables.createQueryBuilder().insert().values(kept).orIgnore().execute();
  return tables.findOneByOrFail({ digest: kept.digest });
}

/** Digests of a list that no kept table has. */
export async function unknownTables(database: DataSource | EntityManager, digests: readonly string[]): Promise<string[]> {
  if (digests.length === 0) return [];
  const there = new Set((await database.getRepository(ColourTableEntity).findBy({ digest: In([...digests]) })).map(({ digest }) => digest));
  return digests.filter((digest) => !there.has(digest));
}

/** Text of a table's file, or null. */
export async function tableText(database: DataSource | EntityManager, digest: string): Promise<{ readonly name: string; readonly body: string } | null> {
  return database.getRepository(ColourTableEntity).findOne({ where: { digest }, select: { digest: true, name: true, body: true } });
}

/** Colour tables that passes name. @throws PlainError where one is gone: without it the picture would be another */
export async function tablesFor(database: DataSource, passes: Parameters<typeof tablesOf>[0]): Promise<ColourTables> {
  const tables = new Map<string, ColourTable>();
  for (const digest of tablesOf(passes)) {
    const kept = await tableText(database, digest);
    if (!kept) throw new PlainError('A colour table that this picture goes through is not on this server. Add its file at the desk, beside the pass that uses it, then try again.');
    tables.set(digest, readCube(kept.body));
  }
  return tables;
}

/** What names a table, in words, so that it cannot be thrown away; empty: nothing does. */
export async function usersOf(database: DataSource, digest: string): Promise<string[]> {
  const named = `%${digest}%`;
  const count = async (sql: string): Promise<number> => Number(((await database.query(sql, [named])) as { n: string }[])[0].n);
  const told = (n: number, one: string, many: string): string[] => (n === 0 ? [] : [`${n} ${n === 1 ? one : many}`]);
  return [
    ...told(await count('SELECT count(*) AS n FROM mixes WHERE document::text LIKE $1'), 'picture', 'pictures'),
    ...told(await count('SELECT count(*) AS n FROM deliveries WHERE document::text LIKE $1'), 'delivery', 'deliveries'),
    ...told(await count('SELECT count(*) AS n FROM methods WHERE method::text LIKE $1'), 'method', 'methods'),
    ...told(await count('SELECT count(*) AS n FROM (SELECT 1 FROM mix_steps WHERE command::text LIKE $1 OR inverse::text LIKE $1 UNION ALL SELECT 1 FROM mix_versions WHERE document::text LIKE $1 UNION ALL SELECT 1 FROM shoots WHERE method::text LIKE $1) AS past'), 'step of a history', 'steps of histories'),
  ];
}
