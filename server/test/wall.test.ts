import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { StoredFound } from '@zaddle/core/found/storedFound';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import { StoredWide } from '@zaddle/core/graph/storedWide';
import type { AdjustPass, MixDocument } from '@zaddle/document';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface WallShot { id: string; label: string; room: { name: string; seen: boolean } | null; state: string; revision: number | null; preview: number | null; drawing: boolean; touched: boolean; review: { state: string; note: string; changedSince: boolean } | null; set: { kind: string; value: number }[]; gain: number }
interface Wall { shots: WallShot[]; last: { id: string; shots: number } | null }
interface Detail { mix: { document: MixDocument; revision: number } | null }

let rig: Rig;
let shoot = '';
const wall = (): Promise<Wall> => rig.get<Wall>(`/api/shoots/${shoot}/wall`);
const drawn = (): Promise<Wall> => until(wall, (w) => w.shots.length === 3 && w.shots.every((s) => s.preview !== null && s.preview === s.revision));
const send = (verb: string, path: string, body?: unknown): Promise<Response> => fetch(rig.url + path, { method: verb, headers: { ...ASKED, 'Content-Type': 'application/json' }, ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
const mixOf = async (shot: string): Promise<MixDocument> => (await rig.get<Detail>(`/api/shots/${shot}`)).mix!.document;
const toneOf = async (shot: string): Promise<AdjustPass> => (await mixOf(shot)).passes.find(({ id }) => id === 'finish') as AdjustPass;
const change = (shot: string, changes: object): Promise<unknown> => rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: 'finish', changes });
const preview = async (shot: WallShot) => sharp(Buffer.from(await (await fetch(`${rig.url}/api/shots/${shot.id}/preview?revision=${shot.preview}`)).arrayBuffer()));

beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Three lofts' })).body.id;
  for (const [k, seed] of [31, 32, 33].entries()) await rig.upload(shoot, `L${k}.jpg`, await fakeFrame(seed, 0, k * 600));
  const { shots } = await drawn();
  for (const [k, { id }] of shots.entries()) await send('PATCH', `/api/shots/${id}`, { label: `Loft ${k + 1}` });
});
afterAll(() => rig.stop());

test('each picture is drawn as soon as there is one, and again when it was changed', async () => {
  const [first] = (await drawn()).shots;
  expect(first.room).toEqual({ name: 'loft', seen: false });
  const picture = await preview(first);
  expect(Math.max((await picture.metadata()).width, (await picture.metadata()).height)).toBeLessThanOrEqual(1200);
  const before = (await picture.stats()).channels[1].mean;
  await change(first.id, { exposure: -2 });
  const [stale] = (await wall()).shots;
  expect(stale).toMatchObject({ drawing: true, touched: true, preview: first.preview });
  const [again] = (await drawn()).shots;
  expect((await (await preview(again)).stats()).channels[1].mean).toBeLessThan(before - 15);
  // By its revision it may be kept, by another it may not.
  const cache = async (revision: number | string): Promise<string | null> => (await fetch(`${rig.url}/api/shots/${again.id}/preview?revision=${revision}`)).headers.get('cache-control');
  expect(await cache(again.preview!)).toContain('immutable');
  expect(await cache('x')).toBe('no-store');
});

test('with a picture, what was worked out for it in a wide context is kept, for whoever opens the shot next', async () => {
  const [first] = (await drawn()).shots;
  const read = (): Promise<Response> => fetch(`${rig.url}/api/shots/${first.id}/wide`);
  await change(first.id, { evenness: 0.5 });
  const mix = await mixOf(first.id);
  await drawn();
  const response = await read();
  expect(response.status).toBe(200);
  const prepared = prepareMix(mix, StoredFound.unpack(new Uint8Array(await (await fetch(`${rig.url}/api/shots/${first.id}/found`)).arrayBuffer())));
  const index = prepared.passes.findIndex(({ pass }) => pass.id === 'finish');
  expect(StoredWide.unpack(new Uint8Array(await response.arrayBuffer())).of(prepared)[index]).toMatchObject({ cast: { red: expect.anything() }, tone: { a: expect.anything() } });
  expect(response.headers.get('etag')).toBeTruthy();
  expect((await fetch(`${rig.url}/api/shots/${randomUUID()}/wide`)).status).toBe(204);
  await change(first.id, { evenness: 0 });
});

test('pictures of a room are brought together in one go, and back; what somebody went on with stays', async () => {
  const { shots } = await drawn();
  // The first lies two stops under the others since the last test.
  expect(shots[0].set.find(({ kind }) => kind === 'brightness')?.value).toBeLessThan(-0.8);
  expect(shots[0].gain).toBeGreaterThan(shots[1].gain);
  const was = await Promise.all(shots.map(({ id }) => toneOf(id)));
  const { body: made } = await rig.post<{ run: string; changed: number; alike: number; left: unknown[] }>(`/api/shoots/${shoot}/together`, { shots: 'all', light: true, colour: true, strength: 1 });
  expect(made.changed + made.alike).toBe(3);
  expect(made.left).toEqual([]);
  expect((await toneOf(shots[0].id)).exposure).toBeGreaterThan(was[0].exposure + 0.8);
  // At once again: nothing is known of them as they stand now.
  const { body: soon } = await rig.post<{ changed: number; left: { why: string }[] }>(`/api/shoots/${shoot}/together`, { shots: [shots[0].id], light: true, colour: false, strength: 1 });
  expect(soon.changed === 0 && soon.left[0].why).toContain('measured');
  const now = await drawn();
  expect(now.last?.id).toBeDefined();
  expect(Math.abs(now.shots[0].set.find(({ kind }) => kind === 'brightness')?.value ?? 0)).toBeLessThan(0.8);
  await change(shots[1].id, { contrast: 1.31 });
  const { body: back } = await rig.post<{ back: number; left: number }>(`/api/set-runs/${made.run}/back`, undefined);
  expect(back.back + back.left).toBe(made.changed);
  expect((await toneOf(shots[0].id)).exposure).toBe(was[0].exposure);
  expect((await toneOf(shots[1].id)).contrast).toBe(1.31);
  expect((await rig.post(`/api/set-runs/${made.run}/back`, undefined)).status).toBe(409);
});

test('what people think of a picture is kept, told when it was changed since, and taken off', async () => {
  const [first, second] = (await drawn()).shots;
  expect((await send('PUT', `/api/shots/${first.id}/review`, { state: 'approved', revision: first.revision })).status).toBe(200);
  expect((await send('PUT', `/api/shots/${second.id}/review`, { state: 'sent back', note: 'The lamp is too yellow', revision: second.revision })).status).toBe(200);
  let shots = (await wall()).shots;
  expect(shots.map(({ review }) => review?.state)).toEqual(['approved', 'sent back', undefined]);
  expect(shots[1].review).toMatchObject({ note: 'The lamp is too yellow', changedSince: false });
  await change(first.id, { exposure: 0.4 });
  shots = (await wall()).shots;
  expect(shots[0].review).toMatchObject({ state: 'approved', changedSince: true });
  await send('PUT', `/api/shots/${first.id}/review`, { state: null, revision: 1 });
  expect((await wall()).shots[0].review).toBeNull();
  for (const bad of [{ state: 'great', revision: 1 }, { state: 'later' }, { state: 'later', revision: -1 }, { state: 'later', revision: 1, note: 'x'.repeat(2000) }]) expect((await send('PUT', `/api/shots/${first.id}/review`, bad)).status).toBe(400);
  expect((await send('PUT', `/api/shots/${randomUUID()}/review`, { state: 'later', revision: 1 })).status).toBe(404);
});

test('the tour is laid down by hand; shots that are not named come after', async () => {
  const ids = (await wall()).shots.map(({ id }) => id);
  expect((await send('PUT', `/api/shoots/${shoot}/tour`, { shots: [ids[2], ids[0]] })).status).toBe(200);
  expect((await wall()).shots.map(({ id }) => id)).toEqual([ids[2], ids[0], ids[1]]);
  expect((await send('PUT', `/api/shoots/${shoot}/tour`, { shots: [randomUUID()] })).status).toBe(404);
  expect((await send('PUT', `/api/shoots/${shoot}/tour`, { shots: [ids[0], ids[0]] })).status).toBe(400);
});

test('shots that no label tells of are of one room when they show the same things, and of the room that one of them names', async () => {
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'No labels' })).body.id;
  const part = async (seed: number, left: number, second: number): Promise<Buffer> => sharp(await fakeFrame(seed, 0, second)).extract({ left, top: 0, width: 480, height: 400 }).withMetadata().jpeg({ quality: 95 }).toBuffer();
  // Two that overlap, and another between them.
  for (const [k, [seed, left]] of [[41, 0], [42, 60], [41, 120]].entries()) await rig.upload(shoot, `N${k}.jpg`, await part(seed, left, k * 25));
  const { shots } = await until(wall, (w) => w.shots.length === 3 && w.shots.every((s) => s.preview !== null) && w.shots.some(({ room }) => room !== null));
  expect(shots.map(({ room }) => room)).toEqual([{ name: 'room 1', seen: true }, null, { name: 'room 1', seen: true }]);
  // As it is where pictures were drawn before anybody described them: the wall has that done.
  await rig.served.workshop.database.query('DELETE FROM shot_views WHERE shot_id = ANY($1)', [shots.map(({ id }) => id)]);
  await until(wall, (w) => w.shots.some(({ room }) => room !== null));
  await send('PATCH', `/api/shots/${shots[2].id}`, { label: 'Attic' });
  expect((await wall()).shots.map(({ room }) => room)).toEqual([{ name: 'attic', seen: true }, null, { name: 'attic', seen: false }]);
});
