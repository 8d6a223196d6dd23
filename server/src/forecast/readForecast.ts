import type { DataSource } from 'typeorm';
import type { StandingOrder } from '../data/entities';
import { QUIET } from '../api/standingOrders';
import { ORDERS as SHIPPED } from '../picture/orders';
import { foresee, NINE_OF_TEN, type Foreseen, type Left, type ShootWork } from './foresee';
import { handTime, type HandMoment, type HandTime } from './handTime';
import { pacesOf, type DoneWork, type Pace } from './pace';
import { DELIVERED_KIND, DELIVERED_UNITS, MEGAPIXELS, OVERHEAD_FRAMES, OVERHEAD_MEGABYTES, OVERHEAD_MEGAPIXELS, USUAL_MEGAPIXELS } from './workTimes';

/** Frames of a shot, where no shot of the shoot tells. */
const USUAL_FRAMES = 7;
/** Jobs a kind that are looked at, and of all kinds: those that were in hand beside them. */
const LOOKED_AT = 120;
const BESIDE = 1500;
/** Seconds that shots which were ordered ahead wait, once all is mixed, for frames that may still come. */
const WAITING = QUIET / 1000;

/** When a batch will be done, seconds from now; null: it rests. */
export interface BatchEnd {
  readonly id: string;
  readonly ends: number | null;
  readonly within: number;
}
export interface Forecast {
  readonly shoots: readonly (Foreseen & { readonly name: string; readonly dueAt: Date | null; readonly byHandShots: number; readonly ordersToCome: readonly string[]; readonly pausedPictures: number; readonly handPerShot: number; readonly handIsOwn: boolean })[];
  readonly batches: readonly BatchEnd[];
  /** What a shot takes by hand, as measured. */
  readonly hand: HandTime;
  /** Whether all kinds of work that are left were measured on this machine. */
  readonly measured: boolean;
}

interface ShootRow { id: string; name: string; dueAt: Date | null; handSeconds: number | null; waitingMegabytes: number; unsorted: number; megapixels: number | null; standing: StandingOrder | null }
interface ShotRow { id: string; shoot: string; mixed: boolean; frames: number; finished: boolean; delivered: boolean }
interface QueueRow { batch: string; paused: boolean; shoot: string; kind: string; units: number; left: number }
interface OrderRow { shoot: string; order: string; file: string }

/** Shoots that somebody may still be at: what is older is through, or forgotten. Documents of mixes are not looked into, since there may be hundreds of large ones. */
const LATELY = `(SELECT id FROM shoots WHERE created_at > now() - interval '60 days' OR due_at > now() - interval '7 days')`;
const SHOOTS = `
  SELECT s.id, s.name, s.due_at AS "dueAt", s.hand_seconds AS "handSeconds", s.standing, coalesce(f.waiting, 0)::float8 AS "waitingMegabytes", coalesce(f.unsorted, 0)::int AS unsorted, f.megapixels
  FROM shoots s LEFT JOIN (
    SELECT shoot_id, sum(bytes / 1e6 + ${OVERHEAD_MEGABYTES}) FILTER (WHERE state = 'waiting') AS waiting, count(*) FILTER (WHERE state = 'waiting' OR (state = 'gathered' AND shot_id IS NULL AND NOT dropped)) AS unsorted, ${MEGAPIXELS} AS megapixels
    FROM frames WHERE shoot_id IN ${LATELY} GROUP BY shoot_id) f ON f.shoot_id = s.id WHERE s.id IN ${LATELY}`;
const SHOTS = `
  SELECT s.id, s.shoot_id AS shoot, s.state = 'mixed' AS mixed, (SELECT count(*) FROM frames f WHERE f.shot_id = s.id)::int AS frames,
    EXISTS (SELECT FROM reviews r JOIN mixes m USING (shot_id) WHERE r.shot_id = s.id AND r.state = 'approved' AND r.revision = m.revision) OR EXISTS (SELECT FROM deliveries d WHERE d.shot_id = s.id AND d.state <> 'stopped') AS finished,
    EXISTS (SELECT FROM deliveries d WHERE d.shot_id = s.id AND d.state <> 'stopped') AS delivered
  FROM shots s WHERE NOT s.retired AND s.state <> 'failed' AND s.shoot_id IN ${LATELY}`;
const QUEUE = `
  SELECT b.id AS batch, b.paused, s.shoot_id AS shoot, ${DELIVERED_KIND} AS kind, 1 - d.progress AS left, ${DELIVERED_UNITS} AS units
  FROM deliveries d JOIN batches b ON b.id = d.batch_id JOIN shots s ON s.id = d.shot_id WHERE d.state IN ('waiting', 'running') ORDER BY b.place, b.created_at, d.place`;
/** What each shoot was delivered as last: what is to come of its other pictures. */
const ORDERS = `
  WITH latest AS (SELECT DISTINCT ON (s.shoot_id) s.shoot_id, d.batch_id FROM deliveries d JOIN shots s ON s.id = d.shot_id JOIN batches b ON b.id = d.batch_id WHERE s.shoot_id IN ${LATELY} ORDER BY s.shoot_id, b.created_at DESC)
  SELECT DISTINCT s.shoot_id AS shoot, d.ordered_as AS "order", coalesce(d.asked->>'file', 'jpeg') AS file FROM latest l JOIN deliveries d USING (batch_id) JOIN shots s ON s.id = d.shot_id AND s.shoot_id = l.shoot_id`;

/** Paces of this machine, and what a hand takes. */
async function readPaces(database: DataSource): Promise<(kind: string) => Pace> {
  const rows: { kind: string; from: number; to: number; units: number }[] = await database.query(
    `SELECT kind, extract(epoch FROM started_at)::float8 AS from, extract(epoch FROM ended_at)::float8 AS to, units FROM (SELECT *, row_number() OVER (PARTITION BY kind ORDER BY id DESC) AS n FROM work_times) w WHERE n <= $1 OR id > (SELECT max(id) - $2 FROM work_times)`, [LOOKED_AT, BESIDE]);
  const done = new Map<string, DoneWork[]>();
  for (const { kind, ...job } of rows) done.set(kind, [...(done.get(kind) ?? []), job]);
  return pacesOf(done);
}
async function readHand(database: DataSource, finished: ReadonlySet<string>): Promise<HandTime> {
  const moments: HandMoment[] = await database.query('SELECT shot_id AS shot, extract(epoch FROM at)::float8 AS at FROM hand_moments ORDER BY at DESC LIMIT 5000');
  return handTime(moments, finished);
}

/** Work of several amounts together: those of one kind are off together. */
function leftOf(amounts: readonly { readonly kind: string; readonly units: number }[], pace: (kind: string) => Pace): Left {
  const each = amounts.map(({ kind, units }) => ({ seconds: units * pace(kind).secondsPerUnit, spread: pace(kind).spread }));
  const seconds = each.reduce((sum, one) => sum + one.seconds, 0);
  return { seconds, spread: seconds === 0 ? 0 : each.reduce((sum, one) => sum + one.seconds * one.spread, 0) / seconds };
}

/** What is left for a shoot, from what is known of it. */
function workOf(shoot: ShootRow, shots: readonly ShotRow[], queue: readonly QueueRow[], orders: readonly OrderRow[], hand: HandTime, pace: (kind: string) => Pace, now: number): ShootWork {
  const own = shots.filter((each) => each.shoot === shoot.id);
  const unmixed = own.filter(({ mixed }) => !mixed);
  // Files that are not sorted yet will be shots like the others.
  const perShot = own.length === 0 ? USUAL_FRAMES : Math.max(1, own.reduce((sum, { frames }) => sum + frames, 0) / own.length);
  const expected = Math.ceil(shoot.unsorted / perShot);
  const frames = unmixed.reduce((sum, each) => sum + each.frames, 0) + shoot.unsorted;
  // What was ordered ahead goes out as it stands.
  const ahead = shoot.standing?.fault === null ? shoot.standing.orders : null;
  const byHand = ahead ? 0 : own.filter(({ finished }) => !finished).length + expected;
  const wanted = ahead?.map((order) => ({ order, file: SHIPPED[order]?.file ?? 'jpeg' })) ?? orders.filter((each) => each.shoot === shoot.id);
  const size = shoot.megapixels ?? USUAL_MEGAPIXELS;
  const toCome = (wanted.length > 0 ? wanted : [{ order: 'full', file: 'jpeg' }]).map(({ order, file }) => {
    const without = own.filter(({ delivered }) => !delivered);
    const units = without.reduce((sum, each) => sum + (each.frames + OVERHEAD_FRAMES.deliver) * size + OVERHEAD_MEGAPIXELS, 0) + expected * ((perShot + OVERHEAD_FRAMES.deliver) * size + OVERHEAD_MEGAPIXELS);
    return { order, left: leftOf([{ kind: `deliver ${file}`, units }], pace) };
  }).filter(({ left }) => left.seconds > 0);
  // What is before it in the queue has to be made first.
  const last = queue.findLastIndex((each) => each.shoot === shoot.id && !each.paused);
  return {
    id: shoot.id, due: shoot.dueAt === null ? null : (shoot.dueAt.getTime() - now) / 1000,
    reading: leftOf([{ kind: 'gather', units: shoot.waitingMegabytes }, { kind: 'sort', units: shoot.unsorted }], pace),
    mixing: leftOf([{ kind: 'propose', units: frames + OVERHEAD_FRAMES.propose * (unmixed.length + expected) }], pace), unmixed: unmixed.length + expected,
    byHand, hand: shoot.handSeconds === null ? { seconds: hand.secondsPerShot, spread: hand.spread } : { seconds: shoot.handSeconds, spread: 0 },
    toCome, waits: ahead && toCome.length > 0 ? (unmixed.length + expected > 0 ? WAITING : WAITING / 2) : 0, ordered: leftOf(queue.slice(0, last + 1).filter(({ paused }) => !paused).map(({ kind, units, left }) => ({ kind, units: units * left })), pace),
    paused: queue.filter((each) => each.shoot === shoot.id && each.paused).length,
  };
}

/** Whether anything of a shoot is left to do. One without frames is not begun. */
const isOpen = ({ reading, mixing, byHand, toCome, ordered, paused }: ShootWork): boolean => reading.seconds + mixing.seconds + byHand + toCome.length + ordered.seconds + paused > 0;

/** When each batch ends, one after the other. */
function batchEnds(queue: readonly QueueRow[], pace: (kind: string) => Pace): BatchEnd[] {
  const ends: BatchEnd[] = [];
  const before: { kind: string; units: number }[] = [];
  for (const id of new Set(queue.map(({ batch }) => batch))) {
    const own = queue.filter(({ batch }) => batch === id);
    if (own[0].paused) ends.push({ id, ends: null, within: 0 });
    else {
      before.push(...own.map(({ kind, units, left }) => ({ kind, units: units * left })));
      const { seconds, spread } = leftOf(before, pace);
      ends.push({ id, ends: seconds, within: NINE_OF_TEN * seconds * spread });
    }
  }
  return ends;
}

/** What is left of all shoots and batches, and when it will be done, by how fast this machine and this person were lately. */
export async function readForecast(database: DataSource): Promise<Forecast> {
  const [shoots, shots, queue, orders, pace] = await Promise.all([database.query(SHOOTS) as Promise<ShootRow[]>, database.query(SHOTS) as Promise<ShotRow[]>, database.query(QUEUE) as Promise<QueueRow[]>, database.query(ORDERS) as Promise<OrderRow[]>, readPaces(database)]);
  const hand = await readHand(database, new Set(shots.filter(({ finished }) => finished).map(({ id }) => id)));
  const now = Date.now();
  const works = shoots.map((shoot) => workOf(shoot, shots, queue, orders, hand, pace, now)).filter((work) => isOpen(work) && (shots.some(({ shoot }) => shoot === work.id) || work.mixing.seconds > 0));
  const kinds = [...(works.some(({ mixing }) => mixing.seconds > 0) ? ['propose'] : []), ...works.flatMap(({ id, toCome }) => toCome.map(({ order }) => `deliver ${orders.find((each) => each.shoot === id && each.order === order)?.file ?? 'jpeg'}`)), ...queue.map(({ kind }) => kind)];
  return {
    shoots: foresee(works).map((foreseen) => {
      const { name, dueAt, handSeconds } = shoots.find(({ id }) => id === foreseen.id)!;
      const work = works.find(({ id }) => id === foreseen.id)!;
      return { ...foreseen, name, dueAt, byHandShots: work.byHand, ordersToCome: work.toCome.map(({ order }) => order), pausedPictures: work.paused, handPerShot: work.hand.seconds, handIsOwn: handSeconds !== null };
    }),
    batches: batchEnds(queue, pace), hand, measured: kinds.every((kind) => pace(kind).measured > 0),
  };
}
