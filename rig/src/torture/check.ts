import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pause } from '../dice';
import type { Received } from '../portal/listingPortal';
import type { Ledger, Wrongs } from './ledger';
import { markAt, PAINTED, type Photographer, type ToldMix, type ToldShoot } from './photographer';

/** A picture that was ordered, as the server tells of it. */
interface ToldDelivery {
  readonly id: string;
  readonly name: string;
  readonly state: string;
  readonly why: string;
  readonly liesAt: string | null;
  readonly sending: string | null;
  readonly sendingWhy: string;
}

/** Where things lie, for looking at them behind the server's back. */
export interface Places {
  readonly store: string;
  readonly deliverTo: string;
}

const digest = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const filesBelow = (folder: string): string[] => readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile()).map((entry) => join(entry.parentPath, entry.name));
/** What is in a list more than once. */
const twice = (list: readonly string[]): string[] => [...new Set(list.filter((item, k) => list.indexOf(item) !== k))];

/** Times that a server is asked that does not answer, and milliseconds between: it may not have noticed yet that its database was killed a moment ago. */
const TIMES = 60;
const BETWEEN = 500;

/** What a server tells, once it answers. */
async function toldBy<T>(person: Photographer, path: string): Promise<T | null> {
  for (let k = 0; k < TIMES; k++) {
    const answer = await person.get<T>(path);
    if (answer) return answer;
    await pause(BETWEEN);
  }
  return null;
}

/** Each acknowledged frame is listed in its shoot, once, and its file is there as it was sent. */
async function checkFrames(person: Photographer, ledger: Ledger, { store }: Places, wrongs: Wrongs): Promise<void> {
  // What is acknowledged while this looks need not be seen.
  const owed = [...ledger.frames];
  for (const id of person.allShoots) {
    const shoot = await toldBy<ToldShoot>(person, `/api/shoots/${id}`);
    if (!shoot) { wrongs.stuck.push(`shoot ${id} is not told`); continue; }
    for (const sha of twice(shoot.frames.map(({ sha256 }) => sha256))) wrongs.doubled.push(`frame ${sha.slice(0, 8)} of shoot ${id}`);
    for (const sent of owed.filter((each) => each.shoot === id)) {
      if (!shoot.frames.some((frame) => frame.id === sent.id && frame.sha256 === sent.sha256)) wrongs.lost.push(`frame ${sent.name} of shoot ${id}`);
    }
  }
  for (const { name, sha256 } of owed) {
    const path = join(store, 'originals', sha256.slice(0, 2), sha256);
    try {
      if (digest(path) !== sha256) wrongs.broken.push(`the file of frame ${name} is another`);
    } catch {
      wrongs.lost.push(`the file of frame ${name}`);
    }
  }
}

/** Each acknowledged stroke is in a picture of its shoot, once; none is there that nobody sent. */
async function checkStrokes(person: Photographer, ledger: Ledger, wrongs: Wrongs): Promise<void> {
  const owed = [...ledger.strokes];
  for (const id of person.allShoots) {
    const marks: number[] = [];
    for (const { id: shot } of (await toldBy<ToldShoot>(person, `/api/shoots/${id}`))?.shots ?? []) {
      const mix = (await toldBy<{ mix: ToldMix | null }>(person, `/api/shots/${shot}`))?.mix;
      for (const { strokes } of mix?.document.passes.filter(({ name }) => name === PAINTED).flatMap(({ mask }) => mask) ?? []) marks.push(...(strokes ?? []).map(({ points }) => markAt(points[0])));
    }
    for (const mark of twice(marks.map(String))) wrongs.doubled.push(`stroke ${mark} of shoot ${id}`);
    const acknowledged = new Set(ledger.strokes.map(({ mark }) => mark));
    for (const mark of marks) if (!acknowledged.has(mark) && !ledger.unanswered.has(mark)) wrongs.broken.push(`stroke ${mark} was refused and is there`);
    for (const { mark } of owed.filter(({ shoot }) => shoot === id)) if (!marks.includes(mark)) wrongs.lost.push(`stroke ${mark} of shoot ${id}`);
  }
}

/** Each ordered picture is made, lies in its folder as it lies in the store, and came to the receiver, all of it once. */
async function checkDeliveries(person: Photographer, ledger: Ledger, { store, deliverTo }: Places, received: readonly Received[], wrongs: Wrongs): Promise<void> {
  const listed = (await toldBy<ToldDelivery[]>(person, '/api/deliveries')) ?? [];
  for (const id of twice(listed.map((each) => each.id))) wrongs.doubled.push(`delivery ${id}`);
  for (const id of ledger.deliveries) {
    const delivery = listed.find((each) => each.id === id);
    if (!delivery) { wrongs.lost.push(`delivery ${id}`); continue; }
    if (delivery.state !== 'done') { wrongs.stuck.push(`delivery ${delivery.name} is ${delivery.state}: ${delivery.why}`); continue; }
    const made = digest(join(store, 'delivery', id));
    if (delivery.liesAt === null) wrongs.lost.push(`delivery ${delivery.name} lies in no folder`);
    else if (digest(join(deliverTo, delivery.liesAt)) !== made) wrongs.broken.push(`delivery ${delivery.liesAt} is not as it was made`);
    const at = received.filter(({ reference }) => reference === id);
    if (delivery.sending !== 'sent') wrongs.stuck.push(`delivery ${delivery.name} was not sent: ${delivery.sendingWhy}`);
    else if (at.length !== 1) wrongs[at.length === 0 ? 'lost' : 'doubled'].push(`delivery ${delivery.name} at the receiver`);
    else if (digest(at[0].file) !== made) wrongs.broken.push(`delivery ${delivery.name} at the receiver`);
  }
  const known = new Set(listed.map(({ liesAt }) => liesAt && join(deliverTo, liesAt)));
  for (const path of filesBelow(deliverTo)) if (!known.has(path)) wrongs.broken.push(`${path} lies in the folder for deliveries and belongs to none`);
}

/** Shots of shoots that were ordered ahead, which nothing was made of by that. */
export async function notMadeAhead(person: Photographer, ledger: Ledger): Promise<string[]> {
  const listed = await toldBy<{ shotId: string; batchId: string }[]>(person, '/api/deliveries');
  const out: string[] = [];
  for (const id of ledger.ahead) {
    const shoot = await toldBy<ToldShoot>(person, `/api/shoots/${id}`);
    const made = new Set(listed?.filter(({ batchId }) => shoot?.standing?.batches.includes(batchId)).map(({ shotId }) => shotId));
    out.push(...(shoot?.shots ?? []).filter((shot) => !made.has(shot.id)).map(({ label }) => `${label} of shoot ${id}, ordered ahead`));
  }
  return out;
}

/** Milliseconds after which a server has taken away what was left half written: it may be in somebody's hands for an hour. */
const TIDIED = 3_660_000;

/** Nothing is left half written, and nothing lies beside what a data folder has. */
function checkFolder({ store }: Places, data: string, before: readonly string[], wrongs: Wrongs): void {
  const incoming = statSync(join(store, 'incoming'), { throwIfNoEntry: false }) ? readdirSync(join(store, 'incoming')) : [];
  for (const name of incoming.filter((each) => Date.now() - statSync(join(store, 'incoming', each)).mtimeMs > TIDIED)) wrongs.broken.push(`${name} was left half written`);
  for (const name of readdirSync(data)) if (!before.includes(name)) wrongs.broken.push(`${name} lies in the data folder`);
}

/** All that must hold while work goes on: what was acknowledged is there. */
export async function checkKept(person: Photographer, ledger: Ledger, places: Places, wrongs: Wrongs): Promise<void> {
  await checkFrames(person, ledger, places, wrongs);
  await checkStrokes(person, ledger, wrongs);
}

/** All that must hold once everything is done. @param before names in the data folder when it was new */
export async function checkDone(person: Photographer, ledger: Ledger, places: Places, data: string, before: readonly string[], received: readonly Received[], wrongs: Wrongs): Promise<void> {
  await checkKept(person, ledger, places, wrongs);
  await checkDeliveries(person, ledger, places, received, wrongs);
  wrongs.lost.push(...(await notMadeAhead(person, ledger)));
  checkFolder(places, data, before, wrongs);
}
