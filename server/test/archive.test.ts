import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ArchiveList } from '../src/archive/writeArchive';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Shoot { id: string; name: string; frames: { id: string; name: string; sha256: string; shotId: string }[]; shots: { id: string; label: string; state: string }[] }
interface Delivery { id: string; shotId: string; state: string; why: string }
interface View { mix: { document: { frames: Record<string, unknown>; passes: { opacity: number }[] }; revision: number; canUndo: boolean } }

let here: Rig;
let there: Rig;
let shoot = '';
let shot = '';
const frames: Buffer[] = [];
const json = { 'Content-Type': 'application/json' };
const shootOf = (rig: Rig, id: string): Promise<Shoot> => rig.get(`/api/shoots/${id}`);
const archiveOf = async (rig: Rig, id: string, query = ''): Promise<Buffer> => Buffer.from(await (await fetch(`${rig.url}/api/shoots/${id}/archive${query}`)).arrayBuffer());
const restore = async (rig: Rig, file: Uint8Array): Promise<{ status: number; body: { id: string; withoutFiles: number; detail?: string } }> => {
  const response = await fetch(`${rig.url}/api/shoots/archive`, { method: 'POST', headers: { 'Content-Type': 'application/zip' }, body: new Uint8Array(file) });
  return { status: response.status, body: await response.json() };
};
async function deliver(rig: Rig, of: string): Promise<{ delivery: Delivery; file: Buffer }> {
  const { ids } = (await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [of], quality: 90 })).body;
  const delivery = (await until(() => rig.get<Delivery[]>('/api/deliveries'), (all) => ['done', 'failed'].includes(all.find(({ id }) => id === ids[0])!.state))).find(({ id }) => id === ids[0])!;
  return { delivery, file: Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${ids[0]}/file`)).arrayBuffer()) };
}
const originalsOf = (rig: Rig): string[] => (existsSync(join(rig.store, 'originals')) ? readdirSync(join(rig.store, 'originals'), { recursive: true }).map(String).filter((path) => path.length > 60) : []);

beforeAll(async () => {
  [here, there] = [await startRig(), await startRig()];
  here.startWorker();
  there.startWorker();
  shoot = (await here.post<{ id: string }>('/api/shoots', { name: 'Sail loft' })).body.id;
  for (const [k, stops] of [0, -2, 2].entries()) {
    frames.push(await fakeFrame(71, stops, k));
    await here.upload(shoot, `S${k}.jpg`, frames[k]);
  }
  shot = (await until(() => shootOf(here, shoot), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed')).shots[0].id;
  await fetch(`${here.url}/api/shots/${shot}`, { method: 'PATCH', headers: json, body: JSON.stringify({ label: 'Loft' }) });
  const { mix } = await here.get<View & { mix: { document: { passes: { id: string }[] } } }>(`/api/shots/${shot}`);
  expect((await here.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: mix.document.passes[0].id, changes: { opacity: 0.8 } })).status).toBe(200);
  await here.post(`/api/shots/${shot}/versions`, { name: 'At dusk' });
});
afterAll(() => Promise.all([here.stop(), there.stop()]));

describe('a shoot as one file', () => {
  test('is the same on another machine: mix, history, versions, and pictures to the byte; its frames lie in it by their names', async () => {
    const mine = await deliver(here, shot);
    const file = await archiveOf(here, shoot);
    const entries = unzipSync(file);
    expect(Object.keys(entries).filter((path) => path.startsWith('frames/')).sort()).toEqual(['frames/S0.jpg', 'frames/S1.jpg', 'frames/S2.jpg']);
    expect(Buffer.from(entries['frames/S0.jpg'])).toEqual(frames[0]);
    const { status, body } = await restore(there, file);
    expect([status, body]).toEqual([201, { id: shoot, withoutFiles: 0 }]);
    const [before, after] = [await here.get<View>(`/api/shots/${shot}`), await there.get<View>(`/api/shots/${shot}`)];
    expect(after.mix).toEqual(before.mix);
    expect(after.mix.canUndo).toBe(true);
    expect((await shootOf(there, shoot)).shots[0].label).toBe('Loft');
    expect(await there.get(`/api/shots/${shot}/versions`)).toEqual(await here.get(`/api/shots/${shot}/versions`));
    // What was delivered lies there as it was, and is made again to the byte.
    const again = await fetch(`${there.url}/api/deliveries/${mine.delivery.id}/file`);
    expect(Buffer.from(await again.arrayBuffer())).toEqual(mine.file);
    expect((await deliver(there, shot)).file).toEqual(mine.file);
    expect((await there.post<View['mix']>(`/api/shots/${shot}/mix/undo`)).status).toBe(200);
  });
  test('restored where it is already, it is a second one, that stands by itself', async () => {
    const { body } = await restore(there, await archiveOf(here, shoot));
    expect(body.id).not.toBe(shoot);
    const copy = await shootOf(there, body.id);
    expect(copy.shots[0].id).not.toBe(shot);
    const { mix } = await there.get<View>(`/api/shots/${copy.shots[0].id}`);
    expect(Object.keys(mix.document.frames).every((id) => copy.frames.some((frame) => frame.id === id))).toBe(true);
    expect((await deliver(there, copy.shots[0].id)).delivery.state).toBe('done');
    for (const id of [shoot, body.id]) expect((await fetch(`${there.url}/api/shoots/${id}`, { method: 'DELETE', headers: ASKED })).status).toBe(204);
    expect(originalsOf(there)).toEqual([]);
    for (const kind of ['proxy', 'found', 'delivery']) expect(readdirSync(join(there.store, kind))).toEqual([]);
  });
  test('without the camera’s files it can be looked at, says what is missing, and is whole again once the card is dropped on it', async () => {
    const { body } = await restore(there, await archiveOf(here, shoot, '?originals=no&delivered=no'));
    expect(body).toEqual({ id: shoot, withoutFiles: 3 });
    const { frames: listed } = await shootOf(there, shoot);
    expect((await fetch(`${there.url}/api/frames/${listed[0].id}/proxy`)).status).toBe(200);
    const { delivery } = await deliver(there, shot);
    expect(delivery).toMatchObject({ state: 'failed', why: expect.stringMatching(/S\d\.jpg.*are not on this server. Drop the card/) });
    expect((await there.post<{ known: string[] }>(`/api/shoots/${shoot}/frames/known`, { hashes: listed.map(({ sha256 }) => sha256) })).body.known).toEqual([]);
    for (const [k, file] of frames.entries()) await there.upload(shoot, `S${k}.jpg`, file);
    expect((await shootOf(there, shoot)).frames).toHaveLength(3);
    await there.post(`/api/deliveries/${delivery.id}/retry`);
    await until(() => there.get<Delivery[]>('/api/deliveries'), (all) => all.find(({ id }) => id === delivery.id)?.state === 'done');
  });
  test('what was in a queue is stopped where it comes to', async () => {
    const second = await startRig();
    const quiet = (await second.post<{ id: string }>('/api/shoots', { name: 'Quiet' })).body.id;
    expect((await restore(second, await archiveOf(here, shoot))).status).toBe(201);
    await second.post('/api/deliveries', { shots: [shot] });
    const file = await archiveOf(second, shoot);
    expect((await restore(second, file)).status).toBe(201);
    const states = (await second.get<Delivery[]>('/api/deliveries')).filter(({ shotId }) => shotId !== shot).map(({ state }) => state).sort();
    expect(states).toEqual(['done', 'stopped']);
    expect((await shootOf(second, quiet)).shots).toEqual([]);
    await second.stop();
  });
});

test('a duplicate has all work on it and shares the files; it outlives the one that it was made of', async () => {
  const { status, body } = await here.post<{ id: string }>(`/api/shoots/${shoot}/duplicate`);
  expect(status).toBe(201);
  const copy = await shootOf(here, body.id);
  expect(copy.name).toBe('Sail loft, copy');
  expect(originalsOf(here)).toHaveLength(3);
  const disk = await here.get<{ originals: number; delivered: number; others: number }>(`/api/shoots/${body.id}/disk`);
  expect(disk.originals).toBe(frames.reduce((sum, file) => sum + file.length, 0));
  expect(disk.others).toBeGreaterThan(disk.originals);
  await fetch(`${here.url}/api/shoots/${body.id}`, { method: 'DELETE', headers: ASKED });
  expect(originalsOf(here)).toHaveLength(3);
  expect((await deliver(here, shot)).delivery.state).toBe('done');
});

describe('an archive that is none, or damaged, is refused in words, and nothing of it stays', () => {
  const list = (entries: Record<string, Uint8Array>): ArchiveList => JSON.parse(strFromU8(entries['shoot.json'])) as ArchiveList;
  const withList = (entries: Record<string, Uint8Array>, change: (tables: Record<string, Record<string, unknown>[]>) => void): Uint8Array => {
    const changed = structuredClone(list(entries)) as unknown as { tables: Record<string, Record<string, unknown>[]> };
    change(changed.tables);
    return zipSync({ ...entries, 'shoot.json': strToU8(JSON.stringify(changed)) }, { level: 0 });
  };
  test('files cut short, foreign rows, documents that are none, frames that were changed', async () => {
    const empty = await startRig();
    const file = await archiveOf(here, shoot);
    const entries = unzipSync(file);
    const bad: [Uint8Array, RegExp][] = [
      [file.subarray(0, file.length - 900), /Send it again|damaged/], [Buffer.from('no archive'), /no archive/], [new Uint8Array(0), /no archive/], [zipSync({ 'a.txt': strToU8('a') }), /no archive of a shoot/],
      [zipSync({ 'shoot.json': strToU8('{') }), /list cannot be read/], [zipSync({ 'shoot.json': strToU8('{"format":"zaddle-shoot","version":9,"tables":{}}') }), /newer/], [zipSync({ 'shoot.json': strToU8('{"format":"zaddle-shoot","version":1,"tables":{"shoots":4}}') }), /damaged/],
      [withList(entries, ({ mixes }) => { mixes[0].shot_id = '7d444840-9dc0-11d1-b245-5ffdce74fad2'; }), /refers to what does not come along/], [withList(entries, ({ mixes }) => { mixes[0].document = { version: 1, passes: 'x' }; }), /damaged/],
      [withList(entries, ({ mix_steps: steps }) => { steps[0].inverse = { kind: 'dropTables' }; }), /damaged/], [withList(entries, ({ shoots }) => { shoots.push(shoots[0]); }), /just one shoot/], [withList(entries, ({ frames: rows }) => { rows[0].id = '../../x'; }), /without an id/], [withList(entries, ({ frames: rows }) => { rows[0].sha256 = '../../../../tmp/somebody'; }), /sha256 that is none/], [withList(entries, ({ deliveries }) => { deliveries[0].name = '../a.jpg'; }), /name that is none/],
      [zipSync({ ...entries, 'frames/S1.jpg': entries['frames/S0.jpg'] }, { level: 0 }), /S1\.jpg in this archive is damaged/],
    ];
    for (const [bytes, words] of bad) {
      const { status, body } = await restore(empty, bytes);
      expect([status, body.detail]).toEqual([422, expect.stringMatching(words)]);
    }
    expect(await empty.get('/api/shoots')).toEqual([]);
    expect(originalsOf(empty)).toEqual([]);
    expect(readdirSync(join(empty.store, 'incoming'))).toEqual([]);
    // What cannot be stored is no shoot either.
    const odd = await restore(empty, withList(entries, ({ frames: rows }) => { rows[0].bytes = 'many'; }));
    expect([odd.status, await empty.get('/api/shoots')]).toEqual([400, []]);
    // Columns of a later time are left out, tables that an earlier one lacked are empty.
    const other = withList(entries, (tables) => { tables.shots[0].mood = 'calm'; delete tables.hand_moments; delete tables.shoots[0].hand_seconds; });
    expect((await restore(empty, other)).status).toBe(201);
    await empty.stop();
  });
});
