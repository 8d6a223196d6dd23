import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { StandingOrders } from '../src/api/standingOrders';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Shoot { frames: { state: string }[]; shots: { id: string; state: string }[]; standing: { orders: string[]; batches: string[]; fault: string | null } | null }
interface Delivery { id: string; shotId: string; batchId: string; order: string; state: string }

let rig: Rig;
let shoot = '';
let clock = 0;
let orders: StandingOrders;
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  // Time is told here: the server's own looks wait for real seconds.
  orders = new StandingOrders(rig.served.workshop, 60_000, () => clock);
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Net loft' })).body.id;
});
afterAll(() => rig.stop());

const told = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
const deliveries = (): Promise<Delivery[]> => rig.get('/api/deliveries');
const ahead = (body: unknown): Promise<Response> => fetch(`${rig.url}/api/shoots/${shoot}/standing`, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
const ready = (shots: number): Promise<Shoot> => until(told, (s) => s.shots.length === shots && s.shots.every(({ state }) => state === 'mixed'));
/** Looks, and looks again after a time. */
const lookTwice = async (after: number): Promise<number> => {
  const first = await orders.look();
  clock += after;
  return first + (await orders.look());
};

test('what is ordered before a shoot is ready is delivered once it is, once; what comes later, or gets more frames, then', async () => {
  expect((await ahead({ orders: ['web', 'listing'] })).status).toBe(200);
  // Nothing is there yet.
  expect(await lookTwice(70_000)).toBe(0);
  const foreseen = async (): Promise<{ byHandShots: number; ordersToCome: string[] } | undefined> => (await rig.get<{ shoots: { id: string; byHandShots: number; ordersToCome: string[] }[] }>('/api/forecast')).shoots.find(({ id }) => id === shoot);
  for (const seed of [61, 62]) await rig.upload(shoot, `N${seed}.jpg`, await fakeFrame(seed, 0, seed * 600));
  await ready(2);
  // Nobody is at the desk: no hand is waited for, and the orders are to come.
  expect(await foreseen()).toMatchObject({ byHandShots: 0, ordersToCome: ['web', 'listing'] });
  expect(await lookTwice(30_000)).toBe(0);
  clock += 40_000;
  expect(await orders.look()).toBe(2);
  const made = await deliveries();
  expect(made.map(({ order }) => order).sort()).toEqual(['listing', 'listing', 'web', 'web']);
  expect((await told()).standing!.batches).toEqual([made[0].batchId]);
  // Asked again, by this server or another one, there is nothing left to do.
  expect(await lookTwice(70_000)).toBe(0);
  const other = new StandingOrders(rig.served.workshop, 0, () => clock);
  expect([await other.look(), await other.look(), await other.look()]).toEqual([0, 0, 0]);
  // Nor after somebody has cleared the outbox and started the server anew.
  await until(deliveries, (list) => list.every(({ state }) => state === 'done'));
  for (const { id } of await deliveries()) await fetch(`${rig.url}/api/deliveries/${id}`, { method: 'DELETE', headers: ASKED });
  const anew = new StandingOrders(rig.served.workshop, 0, () => clock);
  expect([await anew.look(), await anew.look(), await anew.look()]).toEqual([0, 0, 0]);
  // A third shot, and a second frame of the first one.
  await rig.upload(shoot, 'N63.jpg', await fakeFrame(63, 0, 63 * 600));
  await rig.upload(shoot, 'N61b.jpg', await fakeFrame(61, -2, 61 * 600 + 1));
  await until(told, (s) => s.frames.length === 4 && s.frames.every(({ state }) => state === 'gathered'));
  await ready(3);
  expect(await lookTwice(70_000)).toBe(2);
  expect(await deliveries()).toHaveLength(4);
  await until(deliveries, (list) => list.every(({ state }) => state === 'done'));
}, 400_000);

test('taken back it delivers nothing; an order that is gone, or one that never was, is told of', async () => {
  const asked = await rig.post<{ id: string }>('/api/orders', { format: 'zaddle-order', version: 1, name: 'Agent', longerSide: 300 });
  expect((await ahead({ orders: [asked.body.id] })).status).toBe(200);
  expect((await fetch(`${rig.url}/api/orders/${asked.body.id}`, { method: 'DELETE', headers: ASKED })).status).toBe(204);
  expect(await lookTwice(70_000)).toBe(0);
  expect((await told()).standing!.fault).toMatch(/no such order/);
  // It rests until somebody orders anew.
  expect(await lookTwice(70_000)).toBe(0);
  expect((await fetch(`${rig.url}/api/shoots/${shoot}/standing`, { method: 'DELETE', headers: ASKED })).status).toBe(204);
  expect((await told()).standing).toBeNull();
  const before = (await deliveries()).length;
  expect(await lookTwice(70_000)).toBe(0);
  expect(await deliveries()).toHaveLength(before);
  expect((await ahead({ orders: [randomUUID()] })).status).toBe(404);
  for (const wrong of [{}, { orders: [] }, { orders: ['web', 'web'] }, { orders: ['web'], quality: 10 }, { orders: 'web' }]) expect((await ahead(wrong)).status).toBe(400);
  expect((await ahead({ orders: ['web'], folder: 'Agent' })).status).toBe(409);
  expect((await fetch(`${rig.url}/api/shoots/${randomUUID()}/standing`, { method: 'DELETE', headers: ASKED })).status).toBe(404);
});
