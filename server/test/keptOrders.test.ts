import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Order, OrderAsFile } from '@zaddle/document';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Kept { id: string; name: string; order: Order }
interface Delivery { id: string; shotId: string; name: string; order: string; asked: Order; quality: number; state: string; why: string }

let rig: Rig;
let shoot = '';
let shots: { id: string; label: string }[] = [];
type Listed = { shots: { id: string; state: string; label: string }[] };
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Malt house / east' })).body.id;
  for (const [k, seed] of [41, 42].entries()) await rig.upload(shoot, `M${k}.jpg`, await fakeFrame(seed, 0, k * 600));
  shots = (await until(() => rig.get<Listed>(`/api/shoots/${shoot}`), (s) => s.shots.length === 2 && s.shots.every(({ state }) => state === 'mixed'))).shots;
});
afterAll(() => rig.stop());

const send = (verb: string, path: string, body?: unknown): Promise<Response> => fetch(rig.url + path, { method: verb, headers: { ...ASKED, 'Content-Type': 'application/json' }, ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
const list = (): Promise<Kept[]> => rig.get('/api/orders');
const portal = (more: Partial<OrderAsFile> = {}): object => ({ format: 'zaddle-order', version: 1, name: 'Harbour portal', client: 'Harbour agents', ratio: 1.5, longerSide: 480, quality: 71, naming: '{property} {number:3} {room}', words: { title: '{room}, {property} for {client}', creator: 'B. Quill', copyright: '' }, ...more });
const deliver = async (body: object): Promise<Delivery[]> => {
  const { ids } = (await rig.post<{ ids: string[] }>('/api/deliveries', body)).body;
  const done = await until(() => rig.get<Delivery[]>('/api/deliveries'), (all) => ids.every((id) => all.some((d) => d.id === id && (d.state === 'done' || d.state === 'failed'))));
  return ids.map((id) => done.find((d) => d.id === id)!);
};

test('orders are kept, changed, exchanged as files and thrown away; a name is there once, whatever its case', async () => {
  const made = (await rig.post<Kept>('/api/orders', portal())).body;
  expect(made.order).toMatchObject({ file: 'jpeg', longerSide: 480, quality: 71, profile: 'srgb', mostBytes: null });
  const file = await send('GET', `/api/orders/${made.id}/file`);
  expect(file.headers.get('content-disposition')).toContain('harbour-portal.json');
  const read = (await file.json()) as OrderAsFile;
  expect((await rig.post('/api/orders', { ...read, name: 'HARBOUR PORTAL' })).status).toBe(409);
  for (const name of ['web', 'Listing', 'full size']) expect((await rig.post('/api/orders', { ...read, name })).status).toBe(409);
  const twin = (await rig.post<Kept>('/api/orders', { ...read, name: 'Twin' })).body;
  expect((await send('PUT', `/api/orders/${twin.id}`, { ...read, name: 'harbour portal' })).status).toBe(409);
  expect((await send('PUT', `/api/orders/${twin.id}`, { ...read, name: 'Twin', longerSide: 900 })).status).toBe(200);
  expect((await list()).map(({ name, order }) => [name, order.longerSide])).toEqual([['Harbour portal', 480], ['Twin', 900]]);
  for (const { id } of [made, twin]) expect((await send('DELETE', `/api/orders/${id}`)).status).toBe(204);
  expect(await list()).toEqual([]);
  // Those that ship can be taken as a file, too, to begin with.
  expect(await (await send('GET', '/api/orders/listing/file')).json()).toMatchObject({ format: 'zaddle-order', name: 'Listing', longerSide: 2048 });
});

test('what is no order is refused with what is wrong', async () => {
  for (const [more, word] of [[{ naming: '{street}' }, 'street'], [{ longerSide: 1e9 }, 'longerSide'], [{ file: 'tiff16' }, 'longerSide'], [{ words: { title: 4 } }, 'title'], [{ name: '' }, 'name'], [{ more: 1 }, 'more']] as const) {
    const { status, body } = await rig.post<{ detail: string }>('/api/orders', { ...portal(), ...more });
    expect([status, body.detail]).toEqual([400, expect.stringContaining(word)]);
  }
  for (const id of [randomUUID(), 'full', '__proto__']) expect((await send('PUT', `/api/orders/${id}`, portal())).status).toBe(404);
  expect((await rig.post('/api/deliveries', { shots: [shots[0].id], orders: [randomUUID()] })).status).toBe(404);
});

test('pictures are delivered by a kept order: size, quality, names by its pattern, words in the file; as it was then, whatever becomes of it', async () => {
  const own = (await rig.post<Kept>('/api/orders', portal())).body;
  expect((await send('PATCH', `/api/shots/${shots[1].id}`, { label: shots[0].label })).status).toBeLessThan(300);
  const named = await rig.get<{ shot: string; picture: { number: number; property: string } }[]>(`/api/shoots/${shoot}/named-pictures`);
  expect(named.map(({ picture }) => [picture.number, picture.property])).toEqual([[1, 'Malt house / east'], [2, 'Malt house / east']]);
  const room = shots[0].label.replace(/ /g, '-');
  const [first, full] = await deliver({ shots: [shots[1].id], orders: [own.id, 'full'] });
  expect([first.state, full.state, first.why]).toEqual(['done', 'done', '']);
  // Only the second is delivered, and is called as it would be among all.
  expect([first.name, full.name]).toEqual([`Malt-house-east-002-${room}-2.jpg`, `${room}-2.jpg`]);
  expect(first).toMatchObject({ order: 'Harbour portal', quality: 71, asked: { longerSide: 480, words: { title: `${shots[0].label}, Malt house / east for Harbour agents` } } });
  const file = Buffer.from(await (await send('GET', `/api/deliveries/${first.id}/file`)).arrayBuffer());
  const { width, height, exif, xmp } = await sharp(file).metadata();
  expect(Math.max(width, height)).toBe(480);
  expect(width / height).toBeCloseTo(1.5, 1);
  expect(exif!.toString('latin1')).toContain('B. Quill');
  expect(xmp!.toString()).toContain('Malt house / east');
  await send('DELETE', `/api/orders/${own.id}`);
  const again = (await (await send('POST', `/api/deliveries/${first.id}/again`)).json()) as { id: string };
  await until(() => rig.get<Delivery[]>('/api/deliveries'), (all) => all.find(({ id }) => id === again.id)?.state === 'done');
  expect(Buffer.from(await (await send('GET', `/api/deliveries/${again.id}/file`)).arrayBuffer()).equals(file)).toBe(true);
});
