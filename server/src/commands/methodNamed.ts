import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { SHIPPED_METHODS } from '@zaddle/core/method/shippedMethods';
import { methodSchema, type Method } from '@zaddle/document';
import { UsageError } from './usageError';

/** The automatic start as it is. */
export const NATURAL = 'natural';
/** A name as it is typed at a command line: 'Plain listing' is plain-listing, too. */
const typed = (name: string): string => name.trim().toLowerCase().replace(/\s+/g, '-');
/** Methods that are known without a database. */
const NAMES = [NATURAL, ...SHIPPED_METHODS.map(({ name }) => typed(name))];

/** A method by its name, or from a file that was saved from the program; null: none, the automatic start as it is. @throws UsageError */
export async function methodNamed(name: string): Promise<Method | null> {
  if (typed(name) === NATURAL) return null;
  const shipped = SHIPPED_METHODS.find((method) => typed(method.name) === typed(name));
  if (shipped) return shipped;
  const text = await readFile(name, 'utf8').catch(() => null);
  if (text === null) throw new UsageError(`There is no method ${name}, and no such file. There is: ${NAMES.join(', ')}; or give the file of a method.`);
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new UsageError(`${resolve(name)} is no method: it is no JSON. Save it anew from the page of methods.`);
  }
  const { error, value } = methodSchema.validate(read, { convert: false });
  if (error) throw new UsageError(`${resolve(name)} is no method: ${error.message}.`);
  return value as Method;
}
