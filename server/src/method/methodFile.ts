import Joi from 'joi';
import type { DataSource, EntityManager } from 'typeorm';
import { methodSchema, tablesOf, type Method } from '@zaddle/document';
import { tableText } from '../data/colourTables';

/** A colour table that comes along with a method. */
export interface CarriedTable {
  readonly name: string;
  readonly text: string;
}
/** A method as people exchange it: with the colour tables that it goes through. */
export type MethodFile = Method & { readonly tables?: readonly CarriedTable[] };

/** Longest text of a table that is carried: larger ones are exchanged as files of their own. */
const LONGEST_TEXT = 3_500_000;

/** Joi schema of a method's file. */
export const methodFileSchema = (methodSchema as Joi.ObjectSchema).keys({
  tables: Joi.array().items(Joi.object({ name: Joi.string().trim().min(1).max(120).required(), text: Joi.string().max(LONGEST_TEXT).required() })).max(8),
});

/** Digests of the colour tables that a method goes through. */
export const tablesOfMethod = ({ parts: { tone, passes } }: Method): string[] => tablesOf([...(tone ? [tone] : []), ...(passes ?? [])]);

/** A file's method, and what it carries. */
export function opened({ tables = [], ...method }: MethodFile): { readonly method: Method; readonly tables: readonly CarriedTable[] } {
  return { method, tables };
}

/** A method with the tables that it goes through, to be exchanged. */
export async function methodFile(database: DataSource | EntityManager, method: Method): Promise<MethodFile> {
  const tables: CarriedTable[] = [];
  for (const digest of tablesOfMethod(method)) {
    const kept = await tableText(database, digest);
    if (kept && kept.body.length <= LONGEST_TEXT) tables.push({ name: kept.name, text: kept.body });
  }
  return tables.length > 0 ? { ...method, tables } : method;
}
