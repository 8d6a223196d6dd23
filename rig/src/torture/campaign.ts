import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ListingPortal } from '../portal/listingPortal';
import { SOUND } from './affliction';
import { checkDone, checkKept, notMadeAhead, type Places } from './check';
import { Dice, pause } from '../dice';
import { faultsFor, type Victims } from './faults';
import { Instance } from './instance';
import { isWhole, Ledger, noWrongs, type Wrongs } from './ledger';
import { Photographer, type ToldShoot } from './photographer';
import { Wire } from './wire';

/** How a campaign is run. */
export interface CampaignOptions {
  readonly faults: number;
  readonly minutes: number;
  readonly seed: number;
  /** Words of which each fault is to have one in its name; none: all faults come. */
  readonly only: readonly string[];
  /** Where it works; a folder of its own otherwise, taken away when all is well. */
  readonly folder: string | null;
  readonly tell: (words: string) => void;
}
/** What a campaign found. */
export interface CampaignReport {
  readonly seed: number;
  readonly faults: Readonly<Record<string, number>>;
  /** Kinds that this machine does not allow. */
  readonly leftOut: readonly string[];
  readonly acknowledged: { readonly frames: number; readonly strokes: number; readonly deliveries: number };
  readonly unanswered: number;
  /** Seconds until the server answered again after a fault: the middle one, and the longest. */
  readonly recovery: { readonly median: number; readonly longest: number };
  readonly wrongs: Wrongs;
  readonly whole: boolean;
}

/** Seconds within which a server must answer again after a fault, and all work must be done once nothing is hurt any more. */
const RECOVERY = 90;
const SETTLING = 900;
/** Milliseconds between faults: work is to get on, too. */
const QUIET = [300, 7000] as const;
/** Faults after which everything that was acknowledged is looked for. */
const LOOK = 8;
/** Room on the small disk, bytes. */
const ROOM = 1.5e9;
const ANY_PICTURE = { ratio: null, leastSide: 1, mostSide: 100_000, mostBytes: 100_000_000 };

/** A small disk of its own at a folder. @returns whether this user may have one */
function mountSmallDisk(folder: string): boolean {
  mkdirSync(folder, { recursive: true });
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${ROOM},mode=0700`, 'tmpfs', folder], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

/** Waits until the server answers, starting it where it ended. @returns seconds; null: in vain */
async function recovered(instance: Instance, person: Photographer): Promise<number | null> {
  const began = Date.now();
  const passed = (): number => (Date.now() - began) / 1000;
  while (passed() < RECOVERY) {
    if (instance.server === null) await instance.start().catch(() => pause(1000));
    else if ((await person.ask('GET', '/api/shoots')).status === 200 && instance.workers.length > 0) return passed();
    else await pause(250);
  }
  return null;
}

/** Waits until nothing is left to do, or too long; what waits for a receiver is sent now, as a person would. @returns seconds */
async function settled(person: Photographer, ledger: Ledger): Promise<number> {
  const began = Date.now();
  const passed = (): number => (Date.now() - began) / 1000;
  for (; passed() < SETTLING; await pause(1000)) {
    const shoots = await Promise.all(person.allShoots.map((id) => person.get<ToldShoot>(`/api/shoots/${id}`)));
    const read = shoots.every((shoot) => shoot && shoot.frames.every(({ state }) => state !== 'waiting') && shoot.shots.every(({ state }) => state !== 'sorted') && shoot.frames.every(({ state, shotId }) => state !== 'gathered' || shotId !== null));
    const deliveries = await person.get<{ id: string; state: string; sending: string | null }[]>('/api/deliveries');
    const open = deliveries?.filter(({ id, state, sending }) => ledger.deliveries.includes(id) && (state === 'waiting' || state === 'running' || sending === 'waiting')) ?? [];
    for (const { id, state } of open) if (state === 'done') await person.ask('POST', `/api/deliveries/${id}/send`);
    if (read && deliveries && open.length === 0 && (await notMadeAhead(person, ledger)).length === 0) break;
  }
  return passed();
}

/** What is left over in shoots once everything should be done. */
async function checkStuck(person: Photographer, wrongs: Wrongs): Promise<void> {
  for (const id of person.allShoots) {
    const shoot = await person.get<ToldShoot>(`/api/shoots/${id}`);
    for (const { name, state, why, shotId } of shoot?.frames ?? []) if (state !== 'gathered' || shotId === null) wrongs.stuck.push(`frame ${name} of shoot ${id} is ${state}: ${why}`);
    for (const { label, state } of shoot?.shots ?? []) if (state !== 'mixed') wrongs.stuck.push(`${label} of shoot ${id} is ${state}`);
  }
}

/**
 * Hurts a server of its own while somebody works with it, and looks whether all that it acknowledged is there afterwards: frames as they
 * were sent and once, strokes in their pictures, ordered pictures made, delivered and sent once. The same seed hurts in the same order.
 */
export async function runCampaign({ faults, minutes, seed, only, folder, tell }: CampaignOptions): Promise<CampaignReport> {
  const home = folder ?? mkdtempSync(join(tmpdir(), 'zaddle-torture-'));
  mkdirSync(home, { recursive: true });
  chmodSync(home, 0o755);
  const [data, deliverTo, site] = ['data', 'delivered', 'site'].map((name) => join(home, name));
  for (const each of [data, deliverTo]) mkdirSync(each, { recursive: true });
  const places: Places = { store: join(data, 'store'), deliverTo };
  const smallDisk = mountSmallDisk(places.store) ? places.store : null;
  const dice = new Dice(seed);
  let portal = await ListingPortal.open(site, 0, ANY_PICTURE, { failing: 0.2, delay: 60, seed });
  const port = Number(new URL(portal.url).port);
  const toSite = await Wire.open(() => port);
  const instance = new Instance({ data, deliverTo, receiver: `http://127.0.0.1:${toSite.port}/uploads` });
  await instance.start();
  const toServer = await Wire.open(() => instance.port);
  const ledger = new Ledger();
  const person = new Photographer(instance, toServer, ledger, new Dice(seed + 1));
  const restartReceiver = async (downFor: number): Promise<void> => {
    await portal.close();
    await pause(downFor);
    portal = await ListingPortal.open(site, port, ANY_PICTURE, { failing: 0.2, delay: 60, seed: Math.floor(dice.between(1, 1e6)) });
  };
  const victims: Victims = { instance, wires: [toServer, toSite], restartReceiver, smallDisk };
  const { bag, leftOut } = faultsFor(victims, only);
  const before = [...readdirSync(data), 'ballast'];
  const [wrongs, done, recovery]: [Wrongs, Record<string, number>, number[]] = [noWrongs(), {}, []];
  const work = person.work();
  try {
    const end = Date.now() + 60_000 * minutes;
    for (let k = 0; k < faults && Date.now() < end; k++) {
      await pause(dice.between(...QUIET));
      const fault = dice.pick(bag);
      await fault.inflict(victims, dice);
      done[fault.name] = (done[fault.name] ?? 0) + 1;
      const seconds = await recovered(instance, person);
      if (seconds === null) { wrongs.stuck.push(`the server after: ${fault.name}`); break; }
      recovery.push(seconds);
      if ((k + 1) % LOOK === 0) await checkKept(person, ledger, places, wrongs);
      tell(`${k + 1} of ${faults}: ${fault.name}; answers after ${seconds.toFixed(1)} s; ${ledger.frames.length} frames, ${ledger.strokes.length} strokes, ${ledger.deliveries.length} pictures${isWhole(wrongs) ? '' : `; WRONG: ${JSON.stringify(wrongs)}`}`);
      if (!isWhole(wrongs)) break;
    }
    person.stop();
    await work;
    instance.afflict(SOUND);
    tell(`All done ${(await settled(person, ledger)).toFixed(0)} s after the last fault.`);
    await checkStuck(person, wrongs);
    await checkDone(person, ledger, places, data, before, portal.pictures, wrongs);
  } finally {
    person.stop();
    await work.catch(() => undefined);
    await instance.stop().catch((error: Error) => wrongs.stuck.push(error.message));
    await Promise.all([toServer.close(), toSite.close(), portal.close()]);
    if (smallDisk && (isWhole(wrongs) || folder === null)) execFileSync('umount', ['-l', smallDisk]);
    if (folder === null && isWhole(wrongs)) rmSync(home, { recursive: true, force: true });
  }
  const sorted = recovery.sort((a, b) => a - b);
  return {
    seed, faults: done, leftOut, acknowledged: { frames: ledger.frames.length, strokes: ledger.strokes.length, deliveries: ledger.deliveries.length }, unanswered: ledger.misses,
    recovery: { median: sorted[sorted.length >> 1] ?? 0, longest: sorted.at(-1) ?? 0 }, wrongs, whole: isWhole(wrongs),
  };
}
