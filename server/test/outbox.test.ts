import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { archiveNames } from '../src/outbox/archiveNames';
import { folderNames } from '../src/outbox/deliveredFolder';
import { queueForgotten } from '../src/jobs/unqueuedWork';
import type { Forecast } from '../src/forecast/readForecast';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Delivery { id: string; shotId: string; batchId: string; name: string; order: string; state: string; why: string; doneAt: string | null; liesAt: string | null; place: number }
interface Made { batch: string; ids: string[] }

let rig: Rig;
let shoot = '';
let shots: string[] = [];
let worker: ReturnType<Rig['startWorker']>;
const root = mkdtempSync(join(tmpdir(), 'zaddle-delivered-'));
const endWorker = (): Promise<void> => new Promise((ended) => { worker.once('exit', () => ended()); worker.kill('SIGKILL'); });
beforeAll(async () => {
  process.env.ZADDLE_DELIVER_TO = root;
  rig = await startRig();
  worker = rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Ropery', dueAt: new Date(Date.now() + 6 * 3600_000).toISOString() })).body.id;
  for (const seed of [51, 52, 53]) await rig.upload(shoot, `R${seed}.jpg`, await fakeFrame(seed, 0, seed * 600));
  shots = (await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 3 && s.shots.every(({ state }) => state === 'mixed'))).shots.map(({ id }) => id);
  await endWorker();
});
afterAll(async () => {
  delete process.env.ZADDLE_DELIVER_TO;
  await rig.stop();
  rmSync(root, { recursive: true, force: true });
});

const all = (): Promise<Delivery[]> => rig.get('/api/deliveries');
const of = async (batch: string): Promise<Delivery[]> => (await all()).filter(({ batchId }) => batchId === batch).sort((a, b) => a.place - b.place);
const order = async (body: object): Promise<Made> => (await rig.post<Made>('/api/deliveries', { shots, ...body })).body;
const change = (batch: string, body: object): Promise<Response> => fetch(`${rig.url}/api/batches/${batch}`, { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
const madeAll = (batch: string): Promise<Delivery[]> => until(() => of(batch), (list) => list.every(({ state }) => state === 'done'));
const waitingJobs = async (): Promise<string[]> => ((await rig.served.workshop.database.query(`SELECT singleton_key AS id FROM pgboss.job WHERE name = 'deliver' AND state = 'created' ORDER BY priority DESC, created_on, id`)) as { id: string }[]).map(({ id }) => id);
const bytes = async (path: string): Promise<Buffer> => Buffer.from(await (await fetch(rig.url + path)).arrayBuffer());

describe('batches', () => {
  test('go one after the other, picture by picture, as they are moved; rest, go on, and are stopped; a stopped one can be made after all', async () => {
    const [first, second, third] = [await order({ orders: ['full', 'web'] }), await order({}), await order({})];
    expect(await waitingJobs()).toEqual([...first.ids, ...second.ids, ...third.ids]);
    await change(third.batch, { move: 'first' });
    await change(second.batch, { move: 'earlier' });
    expect(await waitingJobs()).toEqual([...third.ids, ...second.ids, ...first.ids]);
    await change(second.batch, { move: 'later' });
    expect(await waitingJobs()).toEqual([...third.ids, ...first.ids, ...second.ids]);
    expect((await rig.get<{ batches: { id: string }[] }>('/api/batches')).batches.map(({ id }) => id)).toEqual([third.batch, first.batch, second.batch]);
    // At rest, nobody brings its jobs back.
    await change(third.batch, { paused: true });
    await queueForgotten(rig.served.workshop.database, rig.served.workshop.boss);
    expect(await waitingJobs()).toEqual([...first.ids, ...second.ids]);
    expect((await rig.get<Forecast>('/api/forecast')).batches.find(({ id }) => id === third.batch)).toMatchObject({ ends: null });
    expect((await rig.post<{ stopped: number }>(`/api/batches/${second.batch}/stop`)).body).toEqual({ stopped: 3 });
    expect((await of(second.batch)).map(({ state }) => state)).toEqual(['stopped', 'stopped', 'stopped']);
    worker = rig.startWorker();
    const made = await madeAll(first.batch);
    expect(made.map(({ doneAt }) => doneAt)).toEqual(made.map(({ doneAt }) => doneAt).sort());
    expect((await of(third.batch)).every(({ state }) => state === 'waiting')).toBe(true);
    await change(third.batch, { paused: false });
    await madeAll(third.batch);
    expect((await rig.post<{ again: number }>(`/api/batches/${second.batch}/retry`)).body).toEqual({ again: 3 });
    const late = await madeAll(second.batch);
    expect(await bytes(`/api/deliveries/${late[0].id}/file`)).toEqual(await bytes(`/api/deliveries/${made.find(({ order: as }) => as === 'full')!.id}/file`));
    expect((await rig.post(`/api/batches/${second.batch}/retry`)).status).toBe(409);
  });
  test('work that was forgotten comes back in its turn', async () => {
    await endWorker();
    const [one, two] = [await order({}), await order({})];
    await change(two.batch, { move: 'first' });
    await rig.served.workshop.database.query(`DELETE FROM pgboss.job WHERE name = 'deliver' AND state = 'created'`);
    await queueForgotten(rig.served.workshop.database, rig.served.workshop.boss);
    expect(await waitingJobs()).toEqual([...two.ids, ...one.ids]);
    for (const { batch } of [one, two]) await rig.post(`/api/batches/${batch}/stop`);
    worker = rig.startWorker();
  });
  test('stopped while a picture is made: it is not delivered, and nothing of it stays', async () => {
    const { batch, ids } = await order({ shots: shots.slice(0, 1), orders: ['layers'] });
    await until(() => of(batch), ([{ state }]) => state === 'running');
    await rig.post(`/api/batches/${batch}/stop`);
    // Whoever makes it finds out at its next step; the next batch is made after that.
    const after = await order({ shots: shots.slice(0, 1) });
    await madeAll(after.batch);
    expect((await of(batch))[0].state).toBe('stopped');
    expect(readdirSync(join(rig.store, 'delivery'))).not.toContain(ids[0]);
  });
  test('all pictures of a batch come as one archive, a folder an order, byte for byte', async () => {
    const { batch } = await order({ orders: ['full', 'web'] });
    expect((await fetch(`${rig.url}/api/batches/${batch}/archive`)).status).toBe(409);
    const made = await madeAll(batch);
    const files = unzipSync(await bytes(`/api/batches/${batch}/archive`));
    expect(Object.keys(files).sort()).toEqual(made.map(({ name, order: as }) => `${as}/${name}`).sort());
    for (const { id, name, order: as } of made) expect(Buffer.from(files[`${as}/${name}`])).toEqual(await bytes(`/api/deliveries/${id}/file`));
    expect((await fetch(`${rig.url}/api/batches/${batch}`, { method: 'DELETE', headers: ASKED })).status).toBe(204);
    expect(await of(batch)).toEqual([]);
    for (const { id } of made) expect(readdirSync(join(rig.store, 'delivery'))).not.toContain(id);
  });
  test('a batch is delivered once more from what it was made of, whatever became of its shots: the same elsewhere, or by other orders', async () => {
    const { batch } = await order({ shots: shots.slice(0, 2) });
    expect((await rig.post(`/api/batches/${batch}/again`, {})).status).toBe(409);
    const first = await madeAll(batch);
    const { mix } = await rig.get<{ mix: { document: { passes: { id: string }[] } } }>(`/api/shots/${first[0].shotId}`);
    expect((await rig.post(`/api/shots/${first[0].shotId}/mix/commands`, { kind: 'changePass', id: mix.document.passes.at(-1)!.id, changes: { exposure: 1.5 } })).status).toBe(200);
    const again = async (body: object): Promise<Delivery[]> => madeAll((await rig.post<Made>(`/api/batches/${batch}/again`, body)).body.batch);
    const file = ({ id }: Delivery): Promise<Buffer> => bytes(`/api/deliveries/${id}/file`);
    const same = await again({ folder: 'again' });
    expect(same.map(({ name, liesAt }) => [name, liesAt])).toEqual(first.map(({ name }) => [name, `again/${name}`]));
    for (const [k, each] of same.entries()) expect(await file(each)).toEqual(await file(first[k]));
    const others = await again({ orders: ['web', 'listing'] });
    expect(others.map(({ shotId, order: as }) => [shotId, as])).toEqual(first.flatMap(({ shotId }) => [[shotId, 'web'], [shotId, 'listing']]));
    // What the shots are now is something else, where something was changed.
    const now = await madeAll((await order({ shots: shots.slice(0, 2), orders: ['web', 'listing'] })).batch);
    expect(now.map(({ name }) => name)).toEqual(others.map(({ name }) => name));
    const equal = await Promise.all(others.map(async (each, k) => (await file(each)).equals(await file(now[k]))));
    expect(equal).toEqual([false, false, true, true]);
    for (const [body, status] of [[{ orders: ['toString'] }, 400], [{ orders: [] }, 400], [{ orders: ['7d444840-9dc0-11d1-b245-5ffdce74fad2'] }, 404], [{ receiver: 'Nobody' }, 409], [{ folder: '../x' }, 422]] as const) expect((await rig.post(`/api/batches/${batch}/again`, body)).status).toBe(status);
  });
  test('what is no batch and no change of one is refused in words', async () => {
    for (const id of ['x', '7d444840-9dc0-11d1-b245-5ffdce74fad2', '__proto__']) for (const path of ['archive', '']) expect((await fetch(`${rig.url}/api/batches/${id}/${path}`, path ? {} : { method: 'DELETE', headers: ASKED })).status).toBe(404);
    const { batch } = await order({});
    for (const body of [{}, { move: 'up' }, { paused: 'yes' }, { place: 1 }]) expect((await change(batch, body)).status).toBe(400);
    await rig.post(`/api/batches/${batch}/stop`);
  });
});

test('names in an archive are distinct, whatever their case and order', () => {
  const named = (name: string, as: string): { name: string; order: string } => ({ name, order: as });
  expect(archiveNames([named('Hall.jpg', 'full'), named('hall.jpg', 'full'), named('Hall-2.jpg', 'full')]).map(([path]) => path)).toEqual(['Hall.jpg', 'hall-2.jpg', 'Hall-2-2.jpg']);
  expect(archiveNames([named('Hall.jpg', 'full'), named('Hall.jpg', 'Web / big')]).map(([path]) => path)).toEqual(['full/Hall.jpg', 'web-big/Hall.jpg']);
});

describe('the folder for deliveries', () => {
  const filesOf = (folder: string): string[] => readdirSync(join(root, folder)).sort();
  test('gets each picture once, whole, also when it is made twice; one that is there already is not written over', async () => {
    const { batch } = await order({ shots: shots.slice(0, 2), folder: 'Ropery / final' });
    const made = await madeAll(batch);
    expect(made.map(({ liesAt }) => liesAt)).toEqual(made.map(({ name }) => `Ropery/final/${name}`));
    for (const { id, liesAt } of made) expect(readFileSync(join(root, liesAt!))).toEqual(await bytes(`/api/deliveries/${id}/file`));
    // Its process ended before it was noted: it is made again, into the same file.
    await rig.served.workshop.database.query(`UPDATE deliveries SET state = 'running' WHERE id = $1`, [made[0].id]);
    await queueForgotten(rig.served.workshop.database, rig.served.workshop.boss);
    await madeAll(batch);
    expect(filesOf('Ropery/final')).toEqual(made.map(({ name }) => name).sort());
    const again = await madeAll((await order({ shots: shots.slice(0, 1), folder: 'Ropery/final' })).batch);
    expect(again[0].liesAt).toBe(`Ropery/final/${made[0].name.replace('.jpg', '-2.jpg')}`);
    expect(filesOf('Ropery/final')).toHaveLength(3);
  });
  test('nothing leads out of it: neither names nor links', async () => {
    expect(folderNames('a//b \\ c:d')).toBe('a/b/cd');
    for (const typed of ['..', '../x', 'a/../../b', '/', '.', ' ', 'a/b/c/d/e/f/g/h/i']) expect(() => folderNames(typed)).toThrow(/Name a folder/);
    expect((await rig.post('/api/deliveries', { shots, folder: '../out' })).status).toBe(422);
    const outside = mkdtempSync(join(tmpdir(), 'zaddle-outside-'));
    mkdirSync(join(root, 'linked'));
    symlinkSync(outside, join(root, 'linked', 'away'));
    const { batch } = await order({ shots: shots.slice(0, 1), folder: 'linked/away' });
    const [failed] = await until(() => of(batch), ([{ state }]) => state === 'failed');
    expect(failed.why).toMatch(/leads out of the folder for deliveries/);
    expect(readdirSync(outside)).toEqual([]);
    rmSync(outside, { recursive: true });
  });
  test('a server that was started without one says so', async () => {
    delete process.env.ZADDLE_DELIVER_TO;
    const { status, body } = await rig.post<{ detail: string }>('/api/deliveries', { shots, folder: 'a' });
    process.env.ZADDLE_DELIVER_TO = root;
    expect([status, body.detail]).toEqual([409, expect.stringContaining('--deliver-to')]);
  });
});

describe('the forecast', () => {
  interface Told { shoots: { id: string; delivered: number; within: number; inHand: number; byHandShots: number; handPerShot: number; handIsOwn: boolean }[]; hand: { shots: number }; measured: boolean }
  const told = async (id: string) => (await rig.get<Told>('/api/forecast')).shoots.find((each) => each.id === id);
  const plan = (id: string, body: object): Promise<Response> => fetch(`${rig.url}/api/shoots/${id}`, { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
  test('has what is left by machine and by hand, against the due time; a person may say what a shot takes; what is delivered is left out', async () => {
    expect(await told(shoot)).toBeUndefined();
    const other = (await rig.post<{ id: string }>('/api/shoots', { name: 'Ferry house', dueAt: new Date(Date.now() + 3600_000).toISOString() })).body.id;
    // Nothing to foresee until there is something to do.
    expect(await told(other)).toBeUndefined();
    await rig.upload(other, 'F.jpg', await fakeFrame(61, 0, 61 * 600));
    await until(() => rig.get<{ shots: { state: string }[] }>(`/api/shoots/${other}`), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed');
    const usual = (await told(other))!;
    expect(usual).toMatchObject({ byHandShots: 1, handIsOwn: false });
    expect(usual.delivered).toBeGreaterThan(usual.handPerShot);
    expect(usual.inHand + usual.delivered).toBeGreaterThan(3500);
    expect((await plan(other, { handSeconds: 1800 })).status).toBe(200);
    const own = (await told(other))!;
    expect(own).toMatchObject({ handPerShot: 1800, handIsOwn: true });
    expect(own.delivered - usual.delivered).toBeCloseTo(1800 - usual.handPerShot, 1);
    await plan(other, { dueAt: new Date(Date.now() + 600_000).toISOString(), handSeconds: null });
    expect((await told(other))!.inHand).toBeLessThan(600);
    for (const body of [{}, { dueAt: 'soon' }, { dueAt: '3000-01-01T00:00:00Z' }, { handSeconds: -1 }, { handSeconds: 1e9 }, { name: 'x' }]) expect((await plan(other, body)).status).toBe(400);
    expect((await plan('x', { handSeconds: 1 })).status).toBe(404);
  });
  test('knows the pace of what was done here', async () => {
    const kinds = ((await rig.served.workshop.database.query('SELECT kind, count(*)::int AS n, min(units) AS least FROM work_times GROUP BY kind')) as { kind: string; n: number; least: number }[]);
    // Frames as small as these may be read in less than counts as work.
    expect(kinds.find(({ kind }) => kind === 'gather')?.n ?? 0).toBeLessThanOrEqual(4);
    // The last shot's worker was ended as soon as there was a picture.
    expect(kinds.find(({ kind }) => kind === 'propose')!.n).toBeGreaterThanOrEqual(2);
    expect(kinds.find(({ kind }) => kind === 'deliver jpeg')!.n).toBeGreaterThan(10);
    expect(kinds.every(({ least }) => least > 0)).toBe(true);
  });
});
