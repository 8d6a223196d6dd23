import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import Joi from 'joi';
import { ORDERS, type Order } from '../picture/orders';
import { UsageError } from './usageError';

/** An order and what it is called: its files are named after it. */
export interface NamedOrder {
  readonly name: string;
  readonly order: Order;
}

const ofJpeg = (schema: Joi.NumberSchema): Joi.Schema => Joi.when('file', { is: 'jpeg', then: schema.allow(null).default(null), otherwise: Joi.valid(null).default(null).messages({ 'any.only': '{{#label}} is for orders of JPEGs' }) });

/** Joi schema of an order as a file: what is left out is as full size has it. */
const orderSchema = Joi.object({
  format: Joi.valid('zaddle-order').required(),
  version: Joi.valid(1).required(),
  name: Joi.string().trim().min(1).max(60).required(),
  file: Joi.valid('jpeg', 'tiff16', 'tiff32', 'openraster').default('jpeg'),
  ratio: Joi.number().min(0.2).max(5).allow(null).default(null),
  longerSide: ofJpeg(Joi.number().integer().min(200).max(20_000)),
  mostBytes: ofJpeg(Joi.number().integer().min(20_000).max(1_000_000_000)),
  ppi: Joi.number().min(1).max(4800).allow(null).default(null),
});

/** A name as part of a file's: letters and digits of any script, and no path. */
const slug = (name: string): string => name.normalize('NFC').toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-+|-+$/g, '') || 'order';

/** An order by its name, or from a file. @throws UsageError */
export async function orderNamed(name: string): Promise<NamedOrder> {
  if (Object.hasOwn(ORDERS, name)) return { name, order: ORDERS[name] };
  const text = await readFile(name, 'utf8').catch(() => null);
  if (text === null) throw new UsageError(`There is no order ${name}, and no such file. There are: ${Object.keys(ORDERS).join(', ')}; or give the file of an order.`);
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new UsageError(`${resolve(name)} is no order: it is no JSON.`);
  }
  const { error, value } = orderSchema.validate(read, { convert: false });
  if (error) throw new UsageError(`${resolve(name)} is no order: ${error.message}.`);
  const { name: called, file, ratio, longerSide, mostBytes, ppi } = value as Order & { name: string };
  return { name: slug(called), order: { file, ratio, longerSide, mostBytes, ppi } };
}

/** Orders by their names or files, each once. @throws UsageError, also where two that differ have one name */
export async function ordersNamed(names: readonly string[]): Promise<readonly NamedOrder[]> {
  const orders = new Map<string, NamedOrder>();
  for (const name of new Set(names)) {
    const named = await orderNamed(name);
    if (orders.has(named.name)) throw new UsageError(`Two orders are called ${named.name}: give one of them another name, since files are named after them.`);
    orders.set(named.name, named);
  }
  return [...orders.values()];
}
