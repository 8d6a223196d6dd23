import { createHash } from 'node:crypto';
import type { MixDocument } from '@zaddle/document';
import { IsNull, Not, type EntityManager } from 'typeorm';
import { announce } from '../data/events';
import { MixEntity, ShootEntity, ShotEntity, type StandingOrder } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { addBatch } from '../outbox/batches';
import { orderedPictures, type ShotDocument } from './orderedPictures';
import { Problem } from './problem';

/** Milliseconds for which no more frames must have come: a card is read faster than its shots are mixed, but not by every network. */
export const QUIET = 20_000;

/** Whether all of a shoot is there: every frame read and sorted, every shot mixed or given up. */
const READY = `SELECT count(*)::int AS frames FROM frames f WHERE f.shoot_id = $1
  AND NOT EXISTS (SELECT FROM frames w WHERE w.shoot_id = $1 AND w.state = 'waiting')
  AND NOT EXISTS (SELECT FROM shots s WHERE s.shoot_id = $1 AND s.state = 'sorted' AND NOT s.retired AND EXISTS (SELECT FROM frames h WHERE h.shot_id = s.id))
  AND NOT EXISTS (SELECT FROM pgboss.job j WHERE j.name = 'sort' AND j.singleton_key = $1::text AND j.state IN ('created', 'retry', 'active'))`;

/** The frames that a picture is made of, in short. */
const framesOf = ({ frames }: MixDocument): string => createHash('sha256').update(Object.keys(frames).sort().join()).digest('base64url').slice(0, 16);

/** Orders what a standing order has not delivered yet. @returns how many pictures */
async function order(workshop: ServerWorkshop, manager: EntityManager, shoot: string): Promise<number> {
  const shoots = manager.getRepository(ShootEntity);
  // Two servers on one database, or one that is asked twice: the second waits, and finds nothing left.
  const { standing } = await shoots.findOneOrFail({ where: { id: shoot }, lock: { mode: 'pessimistic_write' } });
  if (!standing || standing.fault !== null) return 0;
  const made: Record<string, string> = { ...standing.made };
  const documents: ShotDocument[] = [];
  for (const { id } of await manager.getRepository(ShotEntity).find({ where: { shootId: shoot, state: 'mixed', retired: false }, order: { position: 'ASC' } })) {
    const mix = await manager.getRepository(MixEntity).findOneBy({ shotId: id });
    if (!mix || made[id] === framesOf(mix.document)) continue;
    made[id] = framesOf(mix.document);
    documents.push({ shotId: id, document: mix.document, shoot });
  }
  if (documents.length === 0) return 0;
  const { batch } = await addBatch(workshop, manager, await orderedPictures(manager, documents, standing.orders, standing.quality), standing);
  await shoots.update({ id: shoot }, { standing: { ...standing, batches: [...standing.batches, batch], made } as never });
  return documents.length;
}

/** Delivers shoots by what was ordered of them beforehand, once all of them is there; shots that come later, or get more frames, are delivered then. One to a server. */
export class StandingOrders {
  /** What was ordered of a shoot and how many frames it had when it was found ready, since when, and whether that was seen to. */
  private readonly seen = new Map<string, { readonly as: string; readonly since: number; readonly done: boolean }>();

  constructor(private readonly workshop: ServerWorkshop, private readonly quiet = QUIET, private readonly now: () => number = Date.now) {}

  /** Looks whether something is to be delivered. @returns how many pictures were ordered */
  async look(): Promise<number> {
    const { database } = this.workshop;
    let count = 0;
    const open = await database.getRepository(ShootEntity).findBy({ standing: Not(IsNull()) });
    for (const id of this.seen.keys()) if (!open.some((shoot) => shoot.id === id && shoot.standing!.fault === null)) this.seen.delete(id);
    for (const { id, standing } of open) {
      const [{ frames }] = (await database.query(READY, [id])) as { frames: number }[];
      const before = this.seen.get(id);
      const as = JSON.stringify([frames, standing]);
      if (frames === 0 || before?.as !== as) this.seen.set(id, { as, since: this.now(), done: false });
      else if (!before.done && this.now() - before.since >= this.quiet) {
        count += await this.deliver(id, standing!);
        this.seen.set(id, { ...before, done: true });
      }
    }
    return count;
  }

  /** What cannot be done by it is told on it, and it rests. */
  private async deliver(id: string, standing: StandingOrder): Promise<number> {
    const { database } = this.workshop;
    try {
      const count = await database.transaction((manager) => order(this.workshop, manager, id));
      if (count > 0) await announce(database, { kind: 'shoot', shoot: id });
      return count;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      await database.getRepository(ShootEntity).update({ id }, { standing: { ...standing, fault: error.detail } as never });
      await announce(database, { kind: 'shoot', shoot: id });
      return 0;
    }
  }
}
