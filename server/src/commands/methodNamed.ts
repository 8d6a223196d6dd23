import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { SHIPPED_METHODS } from '@zaddle/core/method/shippedMethods';
import { NO_TABLES, type ColourTable, type ColourTables } from '@zaddle/core/finish/colourTable';
import { InvalidCube, readCube } from '@zaddle/core/finish/readCube';
import type { Method } from '@zaddle/document';
import { digestOf } from '../data/colourTables';
import { methodFileSchema, opened, tablesOfMethod, type CarriedTable, type MethodFile } from '../method/methodFile';
import { UsageError } from './usageError';

/** The automatic start as it is. */
export const NATURAL = 'natural';
/** A name as it is typed at a command line: 'Plain listing' is plain-listing, too. */
const typed = (name: string): string => name.trim().toLowerCase().replace(/\s+/g, '-');
/** Methods that are known without a database. */
const NAMES = [NATURAL, ...SHIPPED_METHODS.map(({ name }) => typed(name))];

/** A method, and the colour tables that it goes through. */
export interface NamedMethod {
  readonly method: Method;
  readonly tables: ColourTables;
}

/** Tables that a method's file carries. @throws UsageError where one is none, or one that the method goes through does not come along */
function carried(file: string, method: Method, tables: readonly CarriedTable[]): ColourTables {
  const read = new Map<string, ColourTable>();
  for (const { name, text } of tables) {
    try {
      read.set(digestOf(text), readCube(text));
    } catch (error) {
      if (error instanceof InvalidCube) throw new UsageError(`${file}: the colour table “${name}” is none. ${error.message}`);
      throw error;
    }
  }
  if (tablesOfMethod(method).some((digest) => !read.has(digest))) throw new UsageError(`${file} goes through a colour table that does not come along with it. Save it anew from the page of methods.`);
  return read;
}

/** A method by its name, or from a file that was saved from the program; null: none, the automatic start as it is. @throws UsageError */
export async function methodNamed(name: string): Promise<NamedMethod | null> {
  if (typed(name) === NATURAL) return null;
  const shipped = SHIPPED_METHODS.find((method) => typed(method.name) === typed(name));
  if (shipped) return { method: shipped, tables: NO_TABLES };
  const text = await readFile(name, 'utf8').catch(() => null);
  if (text === null) throw new UsageError(`There is no method ${name}, and no such file. There is: ${NAMES.join(', ')}; or give the file of a method.`);
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new UsageError(`${resolve(name)} is no method: it is no JSON. Save it anew from the page of methods.`);
  }
  const { error, value } = methodFileSchema.validate(read, { convert: false });
  if (error) throw new UsageError(`${resolve(name)} is no method: ${error.message}.`);
  const { method, tables } = opened(value as MethodFile);
  return { method, tables: carried(resolve(name), method, tables) };
}
