import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { AdjustPass, Method, MethodParts, MixDocument } from '@zaddle/document';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Detail { mix: { document: MixDocument; revision: number } | null }
interface Kept { id: string; method: Method }
interface Given { run: string; changed: number; waiting: number; lacking: { shot: string; part: string; why: string }[]; failed: unknown[] }
interface Back { back: number; tuned: number; left: number }

let rig: Rig;
let shoot = '';
let shots: string[] = [];
type Listed = { shots: { id: string; state: string }[] };
const ready = (count: number): Promise<Listed> => until(() => rig.get<Listed>(`/api/shoots/${shoot}`), (s) => s.shots.length === count && s.shots.every((shot) => shot.state === 'mixed'));
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Three lofts' })).body.id;
  for (const [k, seed] of [31, 32, 33].entries()) await rig.upload(shoot, `L${k}.jpg`, await fakeFrame(seed, 0, k * 600));
  shots = (await ready(3)).shots.map(({ id }) => id);
});
afterAll(() => rig.stop());

const send = (verb: string, path: string, body?: unknown): Promise<Response> => fetch(rig.url + path, { method: verb, headers: { ...ASKED, 'Content-Type': 'application/json' }, ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
const mixOf = async (shot: string): Promise<MixDocument> => (await rig.get<Detail>(`/api/shots/${shot}`)).mix!.document;
const toneOf = async (shot: string): Promise<AdjustPass> => (await mixOf(shot)).passes.find(({ id }) => id === 'finish') as AdjustPass;
const list = (): Promise<Kept[]> => rig.get('/api/methods');
const named = async (name: string): Promise<Kept> => (await list()).find(({ method }) => method.name === name)!;
const give = async (body: object, id = shoot) => rig.post<Given>(`/api/shoots/${id}/method`, { strength: 1, off: [], shots: 'all', later: false, ...body });
const own = (parts: MethodParts, name = 'Own'): Method => ({ format: 'zaddle-method', version: 1, name, what: '', room: 'any room', light: 'any light', parts });

test('methods ship; own ones are kept, changed, ordered, exchanged as files and thrown away', async () => {
  const shipped = await list();
  expect(shipped.length).toBeGreaterThanOrEqual(5);
  const made = (await rig.post<Kept>('/api/methods', own({ tone: { contrast: 1.3 } }, 'Räume, hell'))).body;
  const file = await send('GET', `/api/methods/${made.id}/file`);
  expect(file.headers.get('content-disposition')).toContain('raume-hell.json');
  const again = (await rig.post<Kept>('/api/methods', await file.json())).body;
  expect(again.method).toEqual(made.method);
  expect((await send('PUT', `/api/methods/${again.id}`, { ...again.method, name: 'Twin' })).status).toBe(200);
  const order = [again.id, ...shipped.map(({ id }) => id).reverse()];
  expect((await send('PUT', '/api/methods/order', { ids: order })).status).toBe(200);
  expect((await list()).map(({ id }) => id)).toEqual([...order, made.id]);
  for (const { id } of [made, again]) expect((await send('DELETE', `/api/methods/${id}`)).status).toBe(204);
  expect(await list()).toHaveLength(shipped.length);
});

test('files that are none are refused with what is wrong', async () => {
  const good = own({ tone: { contrast: 1.3 } });
  const finish = await toneOf(shots[0]);
  const cases: [unknown, string][] = [
    [{ ...good, version: 2 }, 'version'], [{ ...good, parts: {} }, 'parts'], [{ ...good, name: '' }, 'name'], [{ ...good, parts: { tone: { contrast: 40 } } }, 'contrast'], [{ ...good, parts: { magic: 1 } }, 'magic'],
    [{ ...good, parts: { passes: [{ ...finish, mask: [{ id: 'm', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.5], rim: [0.6, 0.5], ratio: 1, softness: 0.5 }] }] } }, 'place of one shot'],
    [{ ...good, parts: { passes: [{ ...finish, kind: 'light', source: { kind: 'frame', frame: 'x' } }] } }, 'passes'], ['no', 'object'], [[], 'object'],
  ];
  for (const [body, word] of cases) {
    const { status, body: problem } = await rig.post<{ detail: string }>('/api/methods', body);
    expect(status).toBe(400);
    if (typeof body === 'object') expect(problem.detail).toContain(word);
  }
});

test('going back to a version from before takes the method along', async () => {
  // Its document has never heard of methods.
  const [, , shot] = shots;
  expect(await mixOf(shot)).not.toHaveProperty('method');
  const kept = (await rig.post<{ id: string }>(`/api/shots/${shot}/versions`, { name: 'Before' })).body.id;
  const before = await mixOf(shot);
  const { method } = await named('Lamps on');
  expect((await give({ method, shots: [shot] })).body.changed).toBe(1);
  expect((await rig.post(`/api/shots/${shot}/mix/version`, { version: kept })).status).toBe(200);
  const after = await mixOf(shot);
  expect(after.method).toBeNull();
  expect(after.passes).toEqual(before.passes);
});

test('all shots are given a method in one go, and it is taken back from all, also where somebody went on', async () => {
  const { method } = await named('Plain listing');
  const before = await Promise.all(shots.map(mixOf));
  const { body: given } = await give({ method, strength: 0.5 });
  expect(given).toMatchObject({ changed: 3, waiting: 0, failed: [] });
  // Grey boxes have neither flash nor anything plumb: each shot says so.
  expect(given.lacking.filter(({ part }) => part === 'light')).toHaveLength(3);
  const contrast = before.map((mix) => ((mix.passes.find((p) => p.id === 'finish') as AdjustPass).contrast + method.parts.tone!.contrast!) / 2);
  for (const [k, shot] of shots.entries()) {
    expect((await toneOf(shot)).contrast).toBeCloseTo(contrast[k], 9);
    expect((await mixOf(shot)).method).toMatchObject({ strength: 0.5, method: { name: 'Plain listing' } });
  }
  const history = await rig.get<{ steps: { words: string }[] }>(`/api/shots/${shots[0]}/history`);
  expect(history.steps.at(-1)!.words).toBe('Method “Plain listing”, 50 %');
  expect((await rig.get<{ last: unknown }>(`/api/shoots/${shoot}/method`)).last).toMatchObject({ name: 'Plain listing', shots: 3 });
  // One was tuned since, on another the step was undone already.
  await rig.post(`/api/shots/${shots[1]}/mix/commands`, { kind: 'changePass', id: 'finish', changes: { shadows: 0.9 } });
  await rig.post(`/api/shots/${shots[2]}/mix/undo`);
  expect((await rig.post<Back>(`/api/method-runs/${given.run}/back`)).body).toEqual({ back: 1, tuned: 1, left: 1 });
  expect(await mixOf(shots[0])).toEqual({ ...before[0], method: null });
  expect(await toneOf(shots[1])).toMatchObject({ shadows: 0.9, contrast: (before[1].passes.find((p) => p.id === 'finish') as AdjustPass).contrast });
  expect((await mixOf(shots[1])).method).toBeNull();
  expect(await mixOf(shots[2])).toEqual({ ...before[2], method: null });
  expect((await rig.post(`/api/method-runs/${given.run}/back`)).status).toBe(409);
});

test('shots that come later begin with it, and lose it, too, when it is taken back', async () => {
  const { method } = await named('Bright and open');
  const { body: given } = await give({ method, strength: 0.8, off: ['framing'], shots: [shots[0]], later: true });
  expect(given.changed).toBe(1);
  await rig.upload(shoot, 'L9.jpg', await fakeFrame(39, 0, 9000));
  const late = (await ready(4)).shots.find((shot) => !shots.includes(shot.id))!.id;
  expect((await mixOf(late)).method).toMatchObject({ strength: 0.8, off: ['framing'], method: { name: 'Bright and open' } });
  expect((await mixOf(shots[1])).method ?? null).toBeNull();
  expect((await rig.post<Back>(`/api/method-runs/${given.run}/back`)).body).toEqual({ back: 1, tuned: 1, left: 0 });
  expect((await mixOf(late)).method).toBeNull();
  expect((await rig.get<{ later: unknown }>(`/api/shoots/${shoot}/method`)).later).toBeNull();
});

test('what was decided on a shot is told against how it was proposed', async () => {
  const [shot] = shots;
  const ambient = (await mixOf(shot)).passes.find((p) => p.kind === 'light')!;
  await rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: ambient.id, changes: { exposure: ambient.exposure + 0.4 } });
  await rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: 'finish', changes: { saturation: 1.2 } });
  const parts = await rig.get<MethodParts>(`/api/shots/${shot}/method-parts`);
  expect(parts.light!.ambient).toBeCloseTo(0.4, 9);
  expect(parts.tone!.saturation).toBe(1.2);
  expect((await rig.post('/api/methods', own(parts, 'From a shot'))).status).toBe(201);
});

test('nonsense is refused, and nothing changes', async () => {
  const { method } = await named('Plain listing');
  const before = await Promise.all(shots.map(mixOf));
  for (const body of [{ method, strength: 2 }, { method, shots: [] }, { method, off: ['magic'] }, { method: 'x' }, { method: { ...method, parts: {} } }, { method, shots: 'some' }]) expect((await give(body)).status).toBe(400);
  expect((await give({ method, shots: [randomUUID()] })).status).toBe(404);
  expect((await give({ method }, randomUUID())).status).toBe(404);
  expect((await rig.post(`/api/method-runs/${randomUUID()}/back`)).status).toBe(404);
  for (const path of [`/api/methods/${randomUUID()}/file`, '/api/methods/x/file', `/api/shots/${randomUUID()}/method-parts`]) expect((await send('GET', path)).status).toBe(404);
  expect(await Promise.all(shots.map(mixOf))).toEqual(before);
});
