import Joi from 'joi';
import { In, type EntityManager } from 'typeorm';
import { fileNames, told, type Order } from '@zaddle/document';
import { OrderEntity, type Batch, type Delivery } from '../data/entities';
import { namedPictures, type NamedShot } from '../data/namedPictures';
import type { Ordered } from '../outbox/batches';
import { deliverTo, folderNames } from '../outbox/deliveredFolder';
import { receivers } from '../outbox/receivers';
import { namingOf, ORDERS } from '../picture/orders';
import { isUuid, notFound, Problem, typed, uuid } from './problem';

/** Orders that a picture is delivered by at once. */
const MOST_ORDERS = 20;

/** Names of orders that ship, or ids of those that are kept. */
export const orderNames = Joi.array().items(Joi.valid(...Object.keys(ORDERS)), uuid).min(1).max(MOST_ORDERS).unique();
/** Where pictures go beside the outbox, as a request says it. */
export const destinationFields = { folder: typed(200).min(1).allow(null).default(null), receiver: typed(40).min(1).allow(null).default(null) };
type Destination = Pick<Batch, 'folder' | 'receiver'>;

/** Where pictures are to go. @throws Problem where this server puts or sends nothing there. */
export function destinationOf({ folder, receiver }: Destination): Destination {
  const names = folder === null ? null : folderNames(folder);
  if (names !== null && !deliverTo()) throw new Problem(409, 'No folder for deliveries', 'Start the server with --deliver-to and a folder of this machine; pictures can be put below it then.');
  if (receiver !== null && !Object.hasOwn(receivers(), receiver)) throw new Problem(409, 'No such receiver', `This server knows no receiver ${receiver}. Start it with --receiver, a name and an address.`);
  return { folder: names, receiver };
}

/** An order that pictures are to be delivered by: what it is called, and what it asks for. */
interface Wanted {
  readonly name: string;
  readonly asked: Order;
  /** The plain one: its files are called as pictures are. */
  readonly alone: boolean;
}

/** Orders by their names, or by the ids of those that are kept. */
async function wantedOrders(manager: EntityManager, ids: readonly string[]): Promise<Wanted[]> {
  const kept = new Map((await manager.getRepository(OrderEntity).findBy({ id: In(ids.filter(isUuid)) })).map((each) => [each.id, each]));
  return ids.map((id) => {
    if (Object.hasOwn(ORDERS, id)) return { name: id, asked: ORDERS[id], alone: id === 'full' };
    const own = kept.get(id);
    if (!own) throw notFound('order');
    return { name: own.name, asked: own.asked, alone: false };
  });
}

/** For each shot, what its files are called and what its pictures are, order by order. Each shoot has names of its own. */
function namesOf(pictures: readonly NamedShot[], orders: readonly Wanted[]): Map<string, { readonly file: string; readonly title: string }[]> {
  const names = new Map<string, { file: string; title: string }[]>();
  for (const shoot of new Set(pictures.map((each) => each.shoot))) {
    const own = pictures.filter((each) => each.shoot === shoot);
    const files = fileNames(own.map(({ picture }) => picture), orders.map(({ name, asked, alone }) => namingOf(name, asked, alone)));
    own.forEach(({ shot, picture }, at) => names.set(shot, orders.map(({ name, asked }, k) => ({ file: files[k][at], title: told(asked.words.title, picture, { output: name, client: asked.client }) }))));
  }
  return names;
}

/** A shot, and the document that its picture is made of. */
export interface ShotDocument extends Pick<Delivery, 'shotId' | 'document'> {
  readonly shoot: string;
}

/** What is to be made of shots by orders: one file each. @param quality where an order says none @throws Problem where an order or a shot is not there any more. */
export async function orderedPictures(manager: EntityManager, shots: readonly ShotDocument[], ids: readonly string[], quality: number): Promise<Ordered[]> {
  const orders = await wantedOrders(manager, ids);
  // Of all pictures of a shoot, so that a name is the same whichever of them are delivered.
  const names = namesOf(await namedPictures(manager, [...new Set(shots.map(({ shoot }) => shoot))]), orders);
  return shots.flatMap(({ shotId, document }) => orders.map(({ name, asked }, k): Ordered => {
    const own = names.get(shotId);
    if (!own) throw new Problem(409, 'Sorted anew since', 'Frames of this picture were sorted into other shots since. Make it again as it was, or deliver the shots that there are now.');
    return { shotId, document, name: own[k].file, order: name, asked: { ...asked, words: { ...asked.words, title: own[k].title } }, quality: asked.quality ?? quality };
  }));
}

/** Pictures that were delivered, to be made once more from what they were made of: the same, or by other orders. */
export const againFields = Joi.object({ orders: orderNames.allow(null).default(null), ...destinationFields });
export interface Again extends Destination {
  readonly orders: readonly string[] | null;
}

/** @param which deliveries that were made @throws Problem where what one was made of is not kept. */
export async function orderedAgain(manager: EntityManager, which: readonly Pick<Delivery, 'id'>[], orders: readonly string[] | null, quality: number): Promise<Ordered[]> {
  const made: (Ordered & { readonly shoot: string })[] = await manager.query(
    `SELECT d.shot_id AS "shotId", d.document, d.name, d.ordered_as AS "order", d.asked, d.quality, s.shoot_id AS shoot FROM deliveries d JOIN shots s ON s.id = d.shot_id WHERE d.id = ANY ($1) ORDER BY d.place, d.name`, [which.map(({ id }) => id)],
  );
  if (made.some(({ document }) => !document)) throw new Problem(409, 'Not kept', 'This delivery is from before documents were kept with them. Deliver the shot again.');
  if (orders === null) return made.map(({ shoot: _, ...same }) => same);
  return orderedPictures(manager, [...new Map(made.map((each) => [each.shotId, each])).values()], orders, quality);
}
