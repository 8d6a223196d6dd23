/** Seconds of work that is left, and the share by which they may be off (standard error). */
export interface Left {
  readonly seconds: number;
  readonly spread: number;
}

/** What is left to do for a shoot. */
export interface ShootWork {
  readonly id: string;
  /** Seconds from now; null: no due time. */
  readonly due: number | null;
  /** Reading and sorting of files that are not in shots yet. */
  readonly reading: Left;
  /** Mixing of shots, and how many those are. */
  readonly mixing: Left;
  readonly unmixed: number;
  /** Shots that a hand has yet to look at, and what one takes. */
  readonly byHand: number;
  readonly hand: Left;
  /** Pictures of these that are delivered after that: seconds for all, order by order. */
  readonly toCome: readonly { readonly order: string; readonly left: Left }[];
  /** Seconds that pass between mixing and these, with nobody at work. */
  readonly waits: number;
  /** Deliveries in the queue, those before its own included. */
  readonly ordered: Left;
  /** Deliveries of it that rest. */
  readonly paused: number;
}

/** When one stage of a shoot ends, seconds from now. */
export interface Stages {
  readonly read: number;
  readonly mixed: number;
  readonly byHand: number;
  readonly delivered: number;
}

/** What would help a shoot that will be late, and the seconds that it saves. */
export type Help = { readonly kind: 'as they stand' | 'another worker'; readonly seconds: number } | { readonly kind: 'leave out'; readonly order: string; readonly seconds: number };

export interface Foreseen extends Stages {
  readonly id: string;
  /** The end lies within as much of `delivered` in nine of ten cases, seconds. */
  readonly within: number;
  /** Seconds that are left at the due time, less than nothing for a late one; null without one. */
  readonly inHand: number | null;
  readonly machineSeconds: number;
  readonly handSeconds: number;
  readonly helps: readonly Help[];
}

/** Standard errors to either side within which nine of ten cases lie. */
export const NINE_OF_TEN = 1.645;
/** Share of the machine's time that is left when one more like it works, too. */
const WITH_ANOTHER = 0.55;
/** A help that saves less is none, seconds. */
const WORTH_TELLING = 60;

/** Factors on each kind of work, for asking what if. */
interface Factors {
  readonly reading: number;
  readonly mixing: number;
  readonly hand: number;
  readonly delivering: number;
}
const AS_IT_IS: Factors = { reading: 1, mixing: 1, hand: 1, delivering: 1 };

/**
 * Goes through open shoots as one person with one machine does, what is due first first: files are read, shots mixed one by one; a hand takes each as soon
 * as it is there; pictures are delivered as they leave the hand. Machine and hand are each in one place at a time.
 */
function goThrough(shoots: readonly ShootWork[], factors: Factors, last: string): Stages {
  // What is in the queue is made at once; pictures that come from the hand are made when it is through, and idle time before them is nobody's.
  const queued = Math.max(0, ...shoots.map(({ ordered }) => ordered.seconds)) * factors.delivering;
  let [machine, hand, delivering] = [0, 0, queued];
  for (const { id, reading, mixing, unmixed, byHand, hand: each, toCome, waits, ordered } of shoots) {
    const read = machine + reading.seconds * factors.reading;
    machine = read + mixing.seconds * factors.mixing;
    const pictures = toCome.reduce((sum, { left }) => sum + left.seconds, 0) * factors.delivering;
    // Those that are mixed already come first.
    const ready = Math.max(0, byHand - unmixed);
    const mixedAt = (k: number): number => (k < ready ? 0 : read + ((machine - read) * (k - ready + 1)) / unmixed);
    for (let k = 0; k < byHand; k++) {
      hand = Math.max(hand, mixedAt(k)) + each.seconds * factors.hand;
      delivering = Math.max(delivering, hand) + pictures / byHand;
    }
    if (id !== last) continue;
    const mixed = reading.seconds + mixing.seconds === 0 ? 0 : machine;
    const fromHand = byHand > 0 ? Math.max(hand, delivering) : pictures > 0 ? Math.max(queued, mixed + waits) + pictures : 0;
    return { read: mixed === 0 ? 0 : read, mixed, byHand: byHand > 0 ? hand : 0, delivered: Math.max(mixed, ordered.seconds * factors.delivering, fromHand) };
  }
  throw new Error('The shoot is not among those that are open.');
}

/** What helps a shoot that will be late, what saves most first. */
function helpsFor(shoots: readonly ShootWork[], shoot: ShootWork, end: number): Help[] {
  const without = (change: Partial<ShootWork>): number => end - goThrough(shoots.map((each) => (each === shoot ? { ...each, ...change } : each)), AS_IT_IS, shoot.id).delivered;
  const helps: Help[] = [
    { kind: 'as they stand', seconds: without({ hand: { seconds: 0, spread: 0 } }) },
    { kind: 'another worker', seconds: end - goThrough(shoots, { reading: WITH_ANOTHER, mixing: WITH_ANOTHER, hand: 1, delivering: WITH_ANOTHER }, shoot.id).delivered },
    ...(shoot.toCome.length < 2 ? [] : shoot.toCome.map(({ order }): Help => ({ kind: 'leave out', order, seconds: without({ toCome: shoot.toCome.filter((each) => each.order !== order) }) }))),
  ];
  return helps.filter(({ seconds }) => seconds >= WORTH_TELLING).sort((a, b) => b.seconds - a.seconds);
}

/**
 * When each open shoot will be done, and what would help those that will not be in time. Errors of the stages are taken as independent: the end is
 * worked out with each of them off by its standard error, and the differences are added as squares.
 * @param shoots in any order; what is due first is done first, what has no due time last
 */
export function foresee(shoots: readonly ShootWork[]): Foreseen[] {
  const order = [...shoots].sort((a, b) => (a.due ?? Infinity) - (b.due ?? Infinity));
  return order.map((shoot) => {
    const stages = goThrough(order, AS_IT_IS, shoot.id);
    const { reading, mixing, hand, toCome, ordered } = shoot;
    const spreads = { reading: reading.spread, mixing: mixing.spread, hand: hand.spread, delivering: Math.max(ordered.seconds > 0 ? ordered.spread : 0, ...toCome.map(({ left }) => left.spread)) };
    const off = (Object.keys(spreads) as (keyof Factors)[]).map((key) => goThrough(order, { ...AS_IT_IS, [key]: 1 + spreads[key] }, shoot.id).delivered - stages.delivered);
    const inHand = shoot.due === null ? null : shoot.due - stages.delivered;
    return {
      ...stages, id: shoot.id, inHand, within: NINE_OF_TEN * Math.hypot(...off),
      machineSeconds: reading.seconds + mixing.seconds + ordered.seconds + toCome.reduce((sum, { left }) => sum + left.seconds, 0),
      handSeconds: shoot.byHand * hand.seconds,
      helps: inHand !== null && inHand < 0 ? helpsFor(order, shoot, stages.delivered) : [],
    };
  });
}
