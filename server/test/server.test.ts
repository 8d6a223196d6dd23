import { randomBytes } from 'node:crypto';
import { request } from 'node:http';
import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { MixDocument } from '@zaddle/document';
import { fakeFrame, startRig, until, type Rig } from './harness';

interface ShootBody { shots: { id: string; state: string; label: string; readings: { kind: string }[] }[]; frames: { id: string; name: string; state: string; why: string; shotId: string | null; role: string }[] }
interface MixBody { document: MixDocument; canUndo: boolean; canRedo: boolean; detail?: string }

/** A small PNG whose header claims another size. */
async function claimingToBe(width: number, height: number): Promise<Buffer> {
  const png = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#888' } }).png().toBuffer();
  png.writeUInt32BE(width, 16);
  png.writeUInt32BE(height, 20);
  png.writeUInt32BE(crc32(png.subarray(12, 29)), 29);
  return png;
}

let rig: Rig;
let shoot: string;
beforeAll(async () => {
  rig = await startRig();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Boat shed' })).body.id;
});
afterAll(() => rig.stop());

const look = (): Promise<ShootBody> => rig.get(`/api/shoots/${shoot}`);
const ready = (count: number) => until(look, (s) => s.shots.length === count && s.shots.every((shot) => shot.state === 'mixed') && s.frames.every((f) => f.state !== 'waiting'));

describe('gathering', () => {
  test('files become shots with a mix; bad files are rejected with reasons and stop nothing; what comes twice counts once', async () => {
    const a = await Promise.all([0, -2, 2].map((stops, k) => fakeFrame(1, stops, k * 3)));
    const b = await fakeFrame(2, 0, 40);
    for (const [k, file] of a.entries()) expect((await rig.upload(shoot, `A${k}.jpg`, file)).status).toBe(201);
    await rig.upload(shoot, 'B Küche 🛶.jpg', b);
    await rig.upload(shoot, 'again.jpg', a[0]);
    await rig.upload(shoot, 'cut.jpg', a[1].subarray(0, a[1].length / 2));
    await rig.upload(shoot, 'random.jpg', randomBytes(5000));
    await rig.upload(shoot, 'empty.jpg', Buffer.alloc(0));
    await rig.upload(shoot, 'huge.png', await claimingToBe(20_000, 15_000));
    rig.startWorker();
    const done = await ready(2);
    const by = (name: string) => done.frames.find((f) => f.name === name)!;
    expect(done.frames).toHaveLength(8);
    expect(by('cut.jpg').why).toMatch(/damaged or cut off/);
    expect(by('random.jpg').why).toMatch(/not a picture/);
    expect(by('empty.jpg').state).toBe('rejected');
    expect(by('huge.png').why).toMatch(/megapixels/);
    expect(new Set(['A0.jpg', 'A1.jpg', 'A2.jpg'].map((n) => by(n).shotId)).size).toBe(1);
    expect(by('B Küche 🛶.jpg').shotId).not.toBe(by('A0.jpg').shotId);
    expect(by('A1.jpg').role).toBe('ambient');
    expect(done.shots[0].readings.map((r) => r.kind)).toContain('misalignment');
  });

  test('tells which files it has already', async () => {
    const { body } = await rig.post<{ known: string[] }>(`/api/shoots/${shoot}/frames/known`, { hashes: ['0'.repeat(64)] });
    expect(body.known).toEqual([]);
  });

  test('proxies come without loss and thumbnails as pictures', async () => {
    const { frames } = await look();
    const id = frames.find((f) => f.name === 'A0.jpg')!.id;
    const packed = new DataView(await (await fetch(`${rig.url}/api/frames/${id}/proxy`)).arrayBuffer());
    expect([packed.getUint32(0, true), packed.getUint32(4, true), packed.byteLength]).toEqual([600, 400, 8 + 600 * 400 * 3]);
    expect((await sharp(Buffer.from(await (await fetch(`${rig.url}/api/frames/${id}/thumbnail`)).arrayBuffer())).metadata()).format).toBe('jpeg');
    const part = new Uint8Array(await (await fetch(`${rig.url}/api/frames/${id}/pixels?x=590&y=0&w=50&h=3`)).arrayBuffer());
    expect(part.length).toBe(8 + 10 * 3 * 3);
    expect([...part.subarray(8, 11)]).toEqual([0, 1, 2].map((c) => packed.getUint8(8 + 590 * 3 + c)));
  });
});

describe('the mix and its history', () => {
  test('commands, undo and redo are kept; a new command drops what was undone', async () => {
    const shot = (await look()).shots[0].id;
    const start = (await rig.get<{ mix: MixBody }>(`/api/shots/${shot}`)).mix;
    const pass = start.document.passes[0];
    const command = (exposure: number) => rig.post<MixBody>(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: pass.id, changes: { exposure } });
    expect((await command(1)).body.document.passes[0].exposure).toBe(1);
    expect((await command(2)).body.canUndo).toBe(true);
    expect((await rig.post<MixBody>(`/api/shots/${shot}/mix/undo`)).body.document.passes[0].exposure).toBe(1);
    expect((await rig.post<MixBody>(`/api/shots/${shot}/mix/undo`)).body.document).toEqual(start.document);
    expect((await rig.post<MixBody>(`/api/shots/${shot}/mix/undo`)).status).toBe(409);
    const redone = (await rig.post<MixBody>(`/api/shots/${shot}/mix/redo`)).body;
    expect([redone.document.passes[0].exposure, redone.canRedo]).toEqual([1, true]);
    expect((await command(-1)).body.canRedo).toBe(false);
    expect((await rig.get<{ mix: MixBody }>(`/api/shots/${shot}`)).mix.document.passes[0].exposure).toBe(-1);
  });

  test('what does not fit is refused in words and changes nothing', async () => {
    const shot = (await look()).shots[0].id;
    const before = (await rig.get<{ mix: MixBody }>(`/api/shots/${shot}`)).mix;
    const id = before.document.passes[0].id;
    for (const body of [{ kind: 'explode' }, { kind: 'changePass', id, changes: { exposure: 99 } }, { kind: 'changePass', id, changes: { kind: 'heal' } }, { kind: 'removePass', id: 'nobody' }, { kind: 'changePass', id, changes: { source: { kind: 'frame', frame: 'foreign' } } }, null]) {
      const { status, body: problem } = await rig.post<{ detail: string }>(`/api/shots/${shot}/mix/commands`, body);
      expect([400, 422]).toContain(status);
      expect(problem.detail.length).toBeGreaterThan(10);
    }
    expect((await rig.get<{ mix: MixBody }>(`/api/shots/${shot}`)).mix).toEqual(before);
  });
});

describe('delivery', () => {
  test('a killed worker loses nothing: another one does the job again', async () => {
    const shots = (await look()).shots.map((s) => s.id);
    const worker = rig.startWorker();
    const { status, body } = await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [...shots, ...[]], quality: 90 });
    expect(status).toBe(202);
    const deliveries = () => rig.get<{ id: string; shotId: string; state: string; attempts: number; bytes: string; name: string }[]>('/api/deliveries');
    // All workers die while they have a delivery in hand, the one of the first test included.
    while (((await rig.served.workshop.database.query("SELECT 1 FROM deliveries WHERE state = 'running'")) as unknown[]).length === 0) await new Promise((resolve) => setTimeout(resolve, 2));
    worker.kill('SIGKILL');
    await killAll();
    rig.startWorker();
    const done = await until(deliveries, (list) => list.length === body.ids.length && list.every((d) => d.state === 'done'));
    expect(done).toHaveLength(shots.length);
    expect(Math.max(...done.map((d) => d.attempts))).toBeGreaterThan(1);
    const file = Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${done[0].id}/file`)).arrayBuffer());
    const meta = await sharp(file).metadata();
    // As large as its mix, which may have been straightened.
    const { width, height } = (await rig.get<{ mix: { document: { width: number; height: number } } }>(`/api/shots/${done[0].shotId}`)).mix.document;
    expect([meta.format, meta.width, meta.height, meta.hasProfile]).toEqual(['jpeg', width, height, true]);
    expect(width).toBeGreaterThan(540);
  });

  test('orders for what is not there or not possible are refused', async () => {
    expect((await rig.post('/api/deliveries', { shots: ['7d444840-9dc0-11d1-b245-5ffdce74fad2'] })).status).toBe(404);
    expect((await rig.post('/api/deliveries', { shots: ['x'] })).status).toBe(400);
    expect((await rig.post('/api/deliveries', { shots: [], quality: 95 })).status).toBe(400);
  });

  async function killAll(): Promise<void> {
    const rows = (await rig.served.workshop.database.query('SELECT DISTINCT worker FROM claims')) as { worker: string }[];
    for (const { worker } of rows) {
      try { process.kill(Number(worker.split('-')[0]), 'SIGKILL'); } catch { /* it is gone already */ }
    }
  }
});

describe('what is refused', () => {
  test('unknown places answer with problem documents', async () => {
    for (const path of ['/api/none', '/api/shoots/7d444840-9dc0-11d1-b245-5ffdce74fad2', '/api/shots/nonsense', '/api/frames/../../etc/passwd/thumbnail', '/nothing.js']) {
      const response = await fetch(rig.url + path);
      expect(response.status).toBe(404);
      expect(response.headers.get('content-type')).toMatch(/application\/problem\+json/);
    }
  });
  test('foreign pages and names', async () => {
    expect((await fetch(`${rig.url}/api/shoots`, { headers: { Origin: 'http://evil.example' } })).status).toBe(403);
    const status = await new Promise<number>((resolve) => request(`${rig.url}/api/health`, { headers: { Host: 'evil.example' } }, (r) => resolve(r.statusCode!)).end());
    expect(status).toBe(403);
  });
  test('broken JSON, bodies too large, names that are paths', async () => {
    expect((await fetch(`${rig.url}/api/shoots`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: '{' })).status).toBe(400);
    expect((await rig.post('/api/shoots', { name: 'x'.repeat(500) })).status).toBe(400);
    const file = await fakeFrame(9, 0, 1);
    const id = (await rig.post<{ id: string }>('/api/shoots', { name: 'Names' })).body.id;
    await rig.upload(id, '../../evil.jpg', file);
    expect((await rig.get<ShootBody>(`/api/shoots/${id}`)).frames[0].name).toBe('evil.jpg');
    expect((await fetch(`${rig.url}/api/shoots/${id}/frames`, { method: 'POST', headers: { 'Content-Type': 'image/jpeg' }, body: 'x' })).status).toBe(400);
  });
});
