import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

let rig: Rig;
let shot = '';
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'One wall' })).body.id;
  await rig.upload(shoot, 'S0.jpg', await fakeFrame(31, 0, 0));
  const ready = await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed');
  shot = ready.shots[0].id;
});
afterAll(() => rig.stop());

const put = (body: unknown, id = shot): Promise<Response> => fetch(`${rig.url}/api/shots/${id}/stays`, { method: 'PUT', headers: { ...ASKED, 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
const stays = async (): Promise<unknown> => (await rig.get<{ shot: { stays: unknown } }>(`/api/shots/${shot}`)).shot.stays;

test('places that may stay are remembered, each once, and can be taken back', async () => {
  expect(await stays()).toEqual([]);
  expect((await put({ at: [0.25, 0.5], stays: true })).status).toBe(200);
  await put({ at: [0.75, 0.1], stays: true });
  // A hair off is the same place.
  await put({ at: [0.252, 0.5], stays: true });
  expect(await stays()).toEqual([[0.75, 0.1], [0.252, 0.5]]);
  await put({ at: [0.25, 0.501], stays: false });
  expect(await stays()).toEqual([[0.75, 0.1]]);
});

test('told at once, all are remembered', async () => {
  await Promise.all(Array.from({ length: 12 }, (_, k) => put({ at: [k / 20, 0.9], stays: true })));
  expect(((await stays()) as unknown[]).length).toBe(13);
});

test('nonsense is refused', async () => {
  for (const body of [{}, { at: [0.5], stays: true }, { at: [0.5, 0.5, 0.5], stays: true }, { at: [-0.1, 0.5], stays: true }, { at: [0.5, 2], stays: true }, { at: ['0.5', 0.5], stays: true }, { at: [0.5, 0.5] }, { at: [0.5, 0.5], stays: 'yes' }]) expect((await put(body)).status).toBe(400);
  for (const id of [randomUUID(), 'x']) expect((await put({ at: [0.5, 0.5], stays: true }, id)).status).toBe(404);
});
