import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { fromFile, namedOrderSchema, outputName, type Order, type OrderAsFile } from '@zaddle/document';
import { ORDERS } from '../picture/orders';
import { UsageError } from './usageError';

/** An order and what it is called: its files are named after it. */
export interface WantedOrder {
  readonly name: string;
  readonly order: Order;
}

/** An order by its name, or from a file. @throws UsageError */
export async function orderNamed(name: string): Promise<WantedOrder> {
  if (Object.hasOwn(ORDERS, name)) return { name, order: ORDERS[name] };
  const text = await readFile(name, 'utf8').catch(() => null);
  if (text === null) throw new UsageError(`There is no order ${name}, and no such file. There are: ${Object.keys(ORDERS).join(', ')}; or give the file of an order.`);
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new UsageError(`${resolve(name)} is no order: it is no JSON.`);
  }
  const { error, value } = namedOrderSchema.validate(read, { convert: false });
  if (error) throw new UsageError(`${resolve(name)} is no order: ${error.message}.`);
  const { name: called, order } = fromFile(value as OrderAsFile);
  return { name: outputName(called), order };
}

/** Orders by their names or files, each once. @throws UsageError, also where two that differ have one name */
export async function ordersNamed(names: readonly string[]): Promise<readonly WantedOrder[]> {
  const orders = new Map<string, WantedOrder>();
  for (const name of new Set(names)) {
    const named = await orderNamed(name);
    if (orders.has(named.name)) throw new UsageError(`Two orders are called ${named.name}: give one of them another name, since files are named after them.`);
    orders.set(named.name, named);
  }
  return [...orders.values()];
}
