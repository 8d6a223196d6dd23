import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import type { DataSource } from 'typeorm';
import { MethodEntity, OrderEntity } from '../data/entities';
import type { Unattended } from '../live/watchFolder';
import { folderNames } from '../outbox/deliveredFolder';
import { ORDERS } from '../picture/orders';
import { methodNamed } from './methodNamed';
import { UsageError } from './usageError';

/** What is to become of frames of a watched folder, as it was typed. */
export interface UnattendedNames {
  readonly orders: readonly string[];
  readonly method: string | null;
  /** What the folder below the one for deliveries is called after; null: pictures stay in the outbox. */
  readonly folder: string | null;
}

const plain = (name: string): string => name.trim().toLocaleLowerCase();

/** An order that ships, by its key, or one that is kept here, by its id. */
async function orderId(database: DataSource, name: string): Promise<string> {
  if (Object.hasOwn(ORDERS, plain(name))) return plain(name);
  const kept = await database.getRepository(OrderEntity).find();
  const found = kept.find((order) => plain(order.name) === plain(name));
  if (!found) throw new UsageError(`There is no order ${name}. There are: ${[...Object.keys(ORDERS), ...kept.map((order) => order.name)].join(', ')}.`);
  return found.id;
}

async function choice(database: DataSource, name: string): Promise<MethodChoice | null> {
  const kept = (await database.getRepository(MethodEntity).find()).find(({ method }) => plain(method.name) === plain(name));
  if (kept) return { method: kept.method, strength: 1, off: [] };
  const named = await methodNamed(name);
  // Tables are kept together with a method that is read in there.
  if (named && named.tables.size > 0) throw new UsageError(`${name} goes through colour tables. Read it in on the page of methods first, then give its name.`);
  return named && { method: named.method, strength: 1, off: [] };
}

/** Looks up what was typed. @throws UsageError naming what there is */
export async function unattended(database: DataSource, { orders, method, folder }: UnattendedNames): Promise<Unattended> {
  const ids = new Set<string>();
  for (const name of orders) ids.add(await orderId(database, name));
  return { orders: [...ids], method: method === null ? null : await choice(database, method), folder: folder === null ? null : folderNames(`live ${folder}`) };
}
