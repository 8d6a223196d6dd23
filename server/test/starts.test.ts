import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startOf } from '@zaddle/core/propose/starts';
import type { MixDocument } from '@zaddle/document';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Detail { mix: { document: MixDocument; canUndo: boolean } | null }
interface Chosen { start: string; untouched: { shot: string; start: string }[] }

let rig: Rig;
let shoot = '';
let shots: string[] = [];
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Three walls' })).body.id;
  for (const [k, seed] of [21, 22, 23].entries()) await rig.upload(shoot, `S${k}.jpg`, await fakeFrame(seed, 0, k * 600));
  const ready = await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 3 && s.shots.every((shot) => shot.state === 'mixed'));
  shots = ready.shots.map(({ id }) => id);
});
afterAll(() => rig.stop());

const passes = async (shot: string) => (await rig.get<Detail>(`/api/shots/${shot}`)).mix!.document.passes;
const starts = (): Promise<Chosen> => rig.get(`/api/shoots/${shoot}/start`);
const choose = (body: object, id = shoot): Promise<Response> => fetch(`${rig.url}/api/shoots/${id}/start`, { method: 'PUT', headers: { ...ASKED, 'Content-Type': 'application/json' }, body: JSON.stringify(body) });

test('what a shoot begins with is remembered, and given to the shots that nobody has changed, each as a step that can be undone', async () => {
  expect(await starts()).toMatchObject({ start: 'even' });
  expect((await starts()).untouched.map(({ shot }) => shot).sort()).toEqual([...shots].sort());
  // Somebody has begun to work on one of them.
  const [worked, first, second] = shots;
  const [lowest] = await passes(worked);
  expect((await rig.post(`/api/shots/${worked}/mix/commands`, { kind: 'changePass', id: lowest.id, changes: { exposure: 1.25 } })).status).toBe(200);
  expect(await (await choose({ start: 'airy', others: true })).json()).toEqual({ changed: 2 });
  for (const shot of [first, second]) expect(startOf(await passes(shot))).toBe('airy');
  expect(startOf(await passes(worked))).toBe('even');
  expect((await passes(worked))[0].exposure).toBe(1.25);
  expect((await starts()).start).toBe('airy');
  // Having been given one is no work: another one can be given.
  expect(await (await choose({ start: 'deep', others: true })).json()).toEqual({ changed: 2 });
  expect(startOf(await passes(first))).toBe('deep');
  expect((await rig.post(`/api/shots/${first}/mix/undo`)).status).toBe(200);
  expect(startOf(await passes(first))).toBe('airy');
});

test('a shot that comes later begins with it', async () => {
  await choose({ start: 'stood', others: false });
  await rig.upload(shoot, 'S9.jpg', await fakeFrame(29, 0, 9000));
  const ready = await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 4 && s.shots.every((shot) => shot.state === 'mixed'));
  const late = ready.shots.find(({ id }) => !shots.includes(id))!;
  expect(startOf(await passes(late.id))).toBe('stood');
});

test('nonsense is refused', async () => {
  for (const body of [{ start: 'dramatic', others: false }, { start: 'airy' }, { start: 'airy', others: 'yes' }, {}]) expect((await choose(body)).status).toBe(400);
  for (const id of [randomUUID(), 'x']) expect((await choose({ start: 'airy', others: true }, id)).status).toBe(404);
});
