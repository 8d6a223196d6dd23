import type { OrderOption } from './orders';
import { clockWords, spanWords } from './timeWords';
import type { ForeseenShoot, Help } from '../store/api';

/** How a shoot stands against its due time. */
type Standing = 'in time' | 'tight' | 'late' | 'no due time';

/** Tight is what the error of the forecast may make late. */
export function standing({ inHand, within }: ForeseenShoot): Standing {
  if (inHand === null) return 'no due time';
  return inHand < 0 ? 'late' : inHand < within ? 'tight' : 'in time';
}

/** When a shoot will be done, and what that leaves. @param now milliseconds */
export function foreseenWords(shoot: ForeseenShoot, now: number): string {
  const done = `Done at ${clockWords(now + 1000 * shoot.delivered, now)}${shoot.within >= 30 ? ` ± ${spanWords(shoot.within)}` : ''}`;
  if (shoot.inHand === null) return done;
  return shoot.inHand < 0 ? `${done}: late by ${spanWords(-shoot.inHand)}` : `${done}, ${spanWords(shoot.inHand)} in hand`;
}

/** What an order is called, by its name or what it ships as. */
const orderName = (order: string, all: readonly OrderOption[]): string => all.find(({ id }) => id === order)?.label ?? order;

/** What would help, and by how much. */
export function helpWords(help: Help, all: readonly OrderOption[]): string {
  const saved = `saves ${spanWords(help.seconds)}`;
  if (help.kind === 'leave out') return `Leave out ${orderName(help.order, all)}: ${saved}`;
  return help.kind === 'as they stand' ? `Deliver the rest as they stand: ${saved}` : `Another computer like this one as a worker: ${saved}`;
}

/** What is left of a shoot, by machine and by hand. */
export function leftWords({ machineSeconds, handSeconds, byHandShots, handPerShot, pausedPictures }: ForeseenShoot): string {
  const parts = [machineSeconds >= 1 ? `${spanWords(machineSeconds)} of this machine` : '', byHandShots > 0 ? `${spanWords(handSeconds)} by hand (${byHandShots} ${byHandShots === 1 ? 'shot' : 'shots'}, ${spanWords(handPerShot)} each)` : ''].filter(Boolean);
  const rest = pausedPictures > 0 ? `; ${pausedPictures} pictures rest in the outbox and are not counted` : '';
  return `${parts.length > 0 ? `Left: ${parts.join(' and ')}` : 'Nothing left to do'}${rest}`;
}
