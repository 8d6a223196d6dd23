import { randomBytes } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { ListingPortal } from '../../rig/src/portal/listingPortal';
import { USUAL_RULES } from '../../rig/src/portal/pictureRules';
import { receiversOf } from '../src/outbox/receivers';
import { sendFile } from '../src/outbox/sendFile';
import { fakeFrame, startRig, until, type Rig } from './harness';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-portal-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
/** Anything that is a picture. */
const EASY = { ratio: null, leastSide: 1, mostSide: 100_000, mostBytes: 100_000_000 };
/** A picture of a few megabytes: several parts. */
async function largePicture(name: string): Promise<string> {
  const path = join(folder, name);
  writeFileSync(path, await sharp(randomBytes(3600 * 2700 * 3), { raw: { width: 3600, height: 2700, channels: 3 } }).jpeg({ quality: 92 }).toBuffer());
  return path;
}

describe('sending a file', () => {
  test('comes through requests that fail, are cut off or wait, whole and once', async () => {
    const file = await largePicture('a.jpg');
    expect(readFileSync(file).length).toBeGreaterThan(8e6);
    for (const seed of [1, 2, 3]) {
      const portal = await ListingPortal.open(join(folder, `bad-${seed}`), 0, EASY, { failing: 0.45, delay: 30, seed });
      let url: string | null = null;
      let sent = await sendFile(portal.url, { file, name: 'a.jpg', reference: 'one', url }, async (at) => { url = at; });
      for (let k = 0; k < 20 && sent.kind === 'later'; k++) sent = await sendFile(portal.url, { file, name: 'a.jpg', reference: 'one', url }, async (at) => { url = at; });
      expect(sent).toEqual({ kind: 'taken' });
      expect(portal.pictures).toHaveLength(1);
      expect(readFileSync(portal.pictures[0].file).equals(readFileSync(file))).toBe(true);
      await portal.close();
    }
  }, 120_000);
  test('goes on where it was cut off, and not from the beginning', async () => {
    const file = await largePicture('b.jpg');
    const portal = await ListingPortal.open(join(folder, 'resumed'), 0, EASY);
    let url: string | null = null;
    // The sender ends after the first part.
    const first = await fetch(portal.url, { method: 'POST', headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(readFileSync(file).length), 'Upload-Metadata': `reference ${btoa('b')},filename ${btoa('b.jpg')}` } });
    url = first.headers.get('location')!;
    await fetch(url, { method: 'PATCH', headers: { 'Tus-Resumable': '1.0.0', 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' }, body: new Uint8Array(readFileSync(file).subarray(0, 5_000_000)) });
    expect(await sendFile(portal.url, { file, name: 'b.jpg', reference: 'b', url }, async () => undefined)).toEqual({ kind: 'taken' });
    expect(readFileSync(portal.pictures[0].file).equals(readFileSync(file))).toBe(true);
    expect(readdirSync(join(folder, 'resumed')).filter((name) => !name.endsWith('.json'))).toHaveLength(1);
    // The answer got lost: asked again, it is there already.
    expect(await sendFile(portal.url, { file, name: 'b.jpg', reference: 'b', url: null }, async () => undefined)).toEqual({ kind: 'taken' });
    expect(portal.pictures).toMatchObject([{ reference: 'b', times: 2 }]);
    const gone = portal.url;
    await portal.close();
    expect(await sendFile(gone, { file, name: 'b.jpg', reference: 'b', url: null }, async () => undefined)).toMatchObject({ kind: 'later', why: 'it does not answer' });
    // Started again it knows what it has.
    const again = await ListingPortal.open(join(folder, 'resumed'), 0, EASY);
    expect(await sendFile(again.url, { file, name: 'b.jpg', reference: 'b', url: null }, async () => undefined)).toEqual({ kind: 'taken' });
    expect(again.pictures).toMatchObject([{ reference: 'b', times: 3 }]);
    await again.close();
  }, 60_000);
  test('what the receiver does not want is refused for good, in its words', async () => {
    const portal = await ListingPortal.open(join(folder, 'strict'), 0, { ...USUAL_RULES, mostBytes: 3_000_000 });
    const send = async (name: string, data: Buffer): Promise<unknown> => {
      writeFileSync(join(folder, name), data);
      return sendFile(portal.url, { file: join(folder, name), name, reference: name, url: null }, async () => undefined);
    };
    const flat = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#888' } });
    expect(await send('w.jpg', await flat(1500, 1000).jpeg().toBuffer())).toEqual({ kind: 'refused', why: 'The picture is 1500 × 1000; the sides must be as 1.333 to 1.' });
    expect(await send('s.jpg', await flat(800, 600).jpeg().toBuffer())).toMatchObject({ kind: 'refused', why: expect.stringContaining('800 pixels') });
    expect(await send('p.jpg', await flat(1600, 1200).png().toBuffer())).toMatchObject({ kind: 'refused', why: 'Only JPEG files are taken.' });
    expect(await send('n.jpg', Buffer.from('no picture'))).toMatchObject({ kind: 'refused', why: 'Only JPEG files are taken.' });
    expect(await send('ok.jpg', await flat(1600, 1200).jpeg().toBuffer())).toEqual({ kind: 'taken' });
    expect(portal.pictures.map(({ name }) => name)).toEqual(['ok.jpg']);
    await portal.close();
  }, 60_000);
});

test('receivers are given with a name and an address, or refused in words', () => {
  expect(receiversOf(['Estuary lettings=http://127.0.0.1:8491/uploads', 'B=https://b.example/u?x=1'])).toEqual({ 'Estuary lettings': 'http://127.0.0.1:8491/uploads', B: 'https://b.example/u?x=1' });
  for (const text of ['', 'x', '=http://a', 'A=ftp://b', 'A=file:///etc/passwd', 'A=nonsense', '__proto__=http://a']) expect(() => receiversOf([text])).toThrow();
});

describe('a batch for a receiver', () => {
  interface Delivery { id: string; state: string; sending: string | null; sendingWhy: string; batchId: string }
  let rig: Rig;
  let portal: ListingPortal;
  let shots: string[] = [];
  beforeAll(async () => {
    portal = await ListingPortal.open(join(folder, 'portal'), 0, { ...EASY, ratio: 4 / 3 }, { failing: 0.3, delay: 20, seed: 7 });
    process.env.ZADDLE_RECEIVERS = JSON.stringify({ 'Quay lettings': portal.url });
    rig = await startRig();
    rig.startWorker();
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Quay' })).body.id;
    for (const seed of [81, 82]) await rig.upload(shoot, `Q${seed}.jpg`, await fakeFrame(seed, 0, seed * 600));
    shots = (await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 2 && s.shots.every(({ state }) => state === 'mixed'))).shots.map(({ id }) => id);
  });
  afterAll(async () => {
    delete process.env.ZADDLE_RECEIVERS;
    await rig.stop();
    await portal.close();
  });
  const of = async (batch: string): Promise<Delivery[]> => (await rig.get<Delivery[]>('/api/deliveries')).filter(({ batchId }) => batchId === batch);
  const order = async (orders: string[], receiver = 'Quay lettings'): Promise<{ status: number; batch: string }> => {
    const { status, body } = await rig.post<{ batch: string }>('/api/deliveries', { shots, orders, receiver });
    return { status, batch: body.batch };
  };

  test('is made, then sent: each picture is there once, though requests fail', async () => {
    const { batch } = await order(['listing']);
    const sent = await until(() => of(batch), (list) => list.every(({ sending }) => sending === 'sent'));
    expect(portal.pictures.map(({ reference }) => reference).sort()).toEqual(sent.map(({ id }) => id).sort());
    for (const { reference, file } of portal.pictures) expect(readFileSync(file)).toEqual(Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${reference}/file`)).arrayBuffer()));
    expect((await rig.post(`/api/deliveries/${sent[0].id}/send`)).status).toBe(409);
  });
  test('what is refused says why and stops nothing; one that does not answer is waited for', async () => {
    const { batch } = await order(['web']);
    const refused = await until(() => of(batch), (list) => list.every(({ sending }) => sending === 'refused'));
    expect(refused[0].sendingWhy).toMatch(/sides must be as 1\.333/);
    expect(refused.every(({ state }) => state === 'done')).toBe(true);
    const { port } = new URL(portal.url);
    await portal.close();
    const later = (await order(['listing'])).batch;
    await until(() => of(later), (list) => list.every(({ sending, sendingWhy }) => sending === 'waiting' && sendingWhy === 'it does not answer'));
    portal = await ListingPortal.open(join(folder, 'portal-2'), Number(port), { ...EASY, ratio: 4 / 3 });
    for (const { id } of await of(later)) expect((await rig.post(`/api/deliveries/${id}/send`)).status).toBe(202);
    await until(() => of(later), (list) => list.every(({ sending }) => sending === 'sent'));
    expect(portal.pictures).toHaveLength(2);
  });
  test('only to whom the server was told of', async () => {
    expect((await order(['listing'], 'Somebody')).status).toBe(409);
    expect((await order(['listing'], '__proto__')).status).toBe(409);
  });
});
