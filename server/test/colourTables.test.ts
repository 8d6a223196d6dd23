import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { neutralTable } from '@zaddle/core/finish/colourTable';
import { readCube } from '@zaddle/core/finish/readCube';
import { writeCube } from '@zaddle/core/finish/writeCube';
import type { AdjustPass, Method, MixDocument, TableUse } from '@zaddle/document';
import { methodNamed } from '../src/commands/methodNamed';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Kept { digest: string; name: string; what: string }
interface Delivery { id: string; state: string; why: string }

let here: Rig;
let there: Rig;
let shoot = '';
let shot = '';
/** Everything to a brown of its own brightness. */
const neutral = neutralTable(9, 'Peat');
const BROWN = [0.95, 0.75, 0.5];
const brown = writeCube({ ...neutral, values: neutral.values.map((_, i, all) => BROWN[i % 3] * (0.3 * all[i - (i % 3)] + 0.6 * all[i - (i % 3) + 1] + 0.1 * all[i - (i % 3) + 2])) });
const digest = createHash('sha256').update(brown).digest('hex');
const use = (strength = 1): TableUse => ({ digest, name: 'Peat', space: 'srgb', strength });

beforeAll(async () => {
  [here, there] = [await startRig(), await startRig()];
  here.startWorker();
  there.startWorker();
  shoot = (await here.post<{ id: string }>('/api/shoots', { name: 'Ropewalk' })).body.id;
  for (const [k, stops] of [0, -2].entries()) await here.upload(shoot, `W${k}.jpg`, await fakeFrame(83, stops, k));
  shot = (await until(() => here.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed')).shots[0].id;
});
afterAll(() => Promise.all([here.stop(), there.stop()]));

const add = async (rig: Rig, text: string, name = 'Peat'): Promise<{ status: number; body: Kept & { detail?: string } }> => {
  const response = await fetch(`${rig.url}/api/tables?name=${encodeURIComponent(name)}`, { method: 'POST', headers: { ...ASKED, 'Content-Type': 'text/plain' }, body: text });
  return { status: response.status, body: await response.json() };
};
const remove = (rig: Rig, id = digest): Promise<Response> => fetch(`${rig.url}/api/tables/${id}`, { method: 'DELETE', headers: ASKED });
const list = (rig: Rig): Promise<Kept[]> => rig.get('/api/tables');
const mixOf = async (rig: Rig): Promise<MixDocument> => (await rig.get<{ mix: { document: MixDocument } }>(`/api/shots/${shot}`)).mix.document;
const setTable = async (table: unknown): Promise<number> => (await here.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: 'finish', changes: { table } })).status;
async function deliver(rig: Rig): Promise<{ delivery: Delivery; file: Buffer }> {
  const { ids } = (await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [shot], quality: 90 })).body;
  const delivery = (await until(() => rig.get<Delivery[]>('/api/deliveries'), (all) => ['done', 'failed'].includes(all.find(({ id }) => id === ids[0])!.state))).find(({ id }) => id === ids[0])!;
  return { delivery, file: Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${ids[0]}/file`)).arrayBuffer()) };
}
/** Mean distance of channels from each other, 8-bit values. */
async function colourOf(file: Buffer): Promise<number> {
  const { data } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
  let sum = 0;
  for (let i = 0; i < data.length; i += 3) sum += Math.max(data[i], data[i + 1], data[i + 2]) - Math.min(data[i], data[i + 1], data[i + 2]);
  return (3 * sum) / data.length;
}

describe('colour tables', () => {
  test('are kept by content, once, and read back as they came', async () => {
    const first = await add(here, brown, 'Peat');
    expect(first).toMatchObject({ status: 201, body: { digest, name: 'Peat', what: '9 × 9 × 9 colours' } });
    expect(first.body).not.toHaveProperty('body');
    expect((await add(here, brown, 'Peat once more')).body).toMatchObject({ digest, name: 'Peat' });
    expect(await list(here)).toHaveLength(1);
    const file = await fetch(`${here.url}/api/tables/${digest}`);
    expect([file.headers.get('content-type'), file.headers.get('content-disposition')]).toEqual([expect.stringContaining('text/plain'), expect.stringContaining('Peat.cube')]);
    expect(await file.text()).toBe(brown);
  });

  test('that are none are refused with the line that is wrong, and what names none is not found', async () => {
    for (const [text, words] of [['LUT_3D_SIZE 2\n0 0 0\n0 0\n', 'Line 3:'], ['', 'empty'], ['GIF89a', 'Line 1:'], [`LUT_3D_SIZE 66\n`, 'from 2 to 65'], ['\u0000\u0001', 'Line 1:']]) {
      const { status, body } = await add(here, text);
      expect([status, body.detail]).toEqual([422, expect.stringContaining(words)]);
    }
    expect((await fetch(`${here.url}/api/tables`, { method: 'POST', headers: { ...ASKED, 'Content-Type': 'text/plain' }, body: brown })).status).toBe(400);
    expect((await add(here, 'x'.repeat(17 << 20))).status).toBe(413);
    for (const id of ['nothing', 'f'.repeat(64), '../../etc/passwd', `${'a'.repeat(63)}G`]) expect((await fetch(`${here.url}/api/tables/${encodeURIComponent(id)}`)).status).toBe(404);
    expect((await remove(here, 'f'.repeat(64))).status).toBe(404);
    expect(await list(here)).toHaveLength(1);
  });

  test('a pass takes those alone that are here, in a space that is one', async () => {
    const wrong: unknown[] = [{ ...use(), digest: 'f'.repeat(64) }, { ...use(), digest: 'zz' }, { ...use(), space: 'film' }, { ...use(), strength: 2 }, { ...use(), name: '' }, 'Peat', 7, { digest }];
    for (const table of wrong) expect(await setTable(table)).toBe(422);
    expect(((await mixOf(here)).passes.find(({ id }) => id === 'finish') as AdjustPass).table ?? null).toBeNull();
  });

  test('show in what is delivered, by their strength', async () => {
    const plain = await deliver(here);
    expect(await setTable(use())).toBe(200);
    const whole = await deliver(here);
    expect(await setTable(use(0.5))).toBe(200);
    const half = await deliver(here);
    const [a, b, c] = await Promise.all([plain, half, whole].map(({ file }) => colourOf(file)));
    expect(a).toBeLessThan(4);
    expect(c).toBeGreaterThan(25);
    expect(b).toBeGreaterThan(a + 0.2 * c);
    expect(b).toBeLessThan(0.8 * c);
  });

  test('are not thrown away while something needs them', async () => {
    const kept = await remove(here);
    expect(kept.status).toBe(409);
    expect(((await kept.json()) as { detail: string }).detail).toMatch(/1 picture, 2 deliveries, 2 steps/);
    const spare = writeCube(neutralTable(3, 'Spare'));
    const { body } = await add(here, spare, 'Spare');
    expect((await remove(here, body.digest)).status).toBe(204);
    expect((await list(here)).map(({ name }) => name)).toEqual(['Peat']);
  });

  test('go along with methods that are exchanged, which are refused where they lack them', async () => {
    const method: Method = { format: 'zaddle-method', version: 1, name: 'Peaty', what: '', room: 'any room', light: 'any light', parts: { tone: { table: use(0.7) } } };
    const refused = await there.post<{ detail: string }>('/api/methods', method);
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('.cube')]);
    const { id } = (await here.post<{ id: string }>('/api/methods', method)).body;
    const file = (await (await fetch(`${here.url}/api/methods/${id}/file`)).json()) as Method & { tables: { name: string; text: string }[] };
    expect(file.tables).toEqual([{ name: 'Peat', text: brown }]);
    const broken = await there.post<{ detail: string }>('/api/methods', { ...file, tables: [{ name: 'Peat', text: `${brown}0 0 0\n` }] });
    expect([broken.status, broken.body.detail]).toEqual([422, expect.stringMatching(/Line \d+: a value too many/)]);
    expect(await list(there)).toEqual([]);
    const taken = await there.post<{ method: Method }>('/api/methods', file);
    expect([taken.status, taken.body.method]).toEqual([201, method]);
    expect((await list(there)).map((each) => each.digest)).toEqual([digest]);
    for (const each of await there.get<{ id: string; method: Method }[]>('/api/methods')) if (each.method.name === 'Peaty') await fetch(`${there.url}/api/methods/${each.id}`, { method: 'DELETE', headers: ASKED });
    expect((await remove(there)).status).toBe(204);
  });

  test('come with a method’s file at the command line, too; without them it is refused', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'zaddle-tables-'));
    const file = (content: unknown): string => {
      const path = join(folder, 'peaty.json');
      writeFileSync(path, JSON.stringify(content));
      return path;
    };
    const method: Method = { format: 'zaddle-method', version: 1, name: 'Peaty', what: '', room: 'any room', light: 'any light', parts: { tone: { table: use(0.7) } } };
    const named = await methodNamed(file({ ...method, tables: [{ name: 'Peat', text: brown }] }));
    expect(named!.method).toEqual(method);
    expect(named!.tables.get(digest)).toEqual(readCube(brown));
    await expect(methodNamed(file(method))).rejects.toThrow(/does not come along/);
    await expect(methodNamed(file({ ...method, tables: [{ name: 'Peat', text: 'LUT_3D_SIZE 99' }] }))).rejects.toThrow(/“Peat” is none. Line 1: a size from 2 to 65/);
    rmSync(folder, { recursive: true });
  });

  test('go along with a shoot to another machine, where its pictures are the same to the byte', async () => {
    const mine = await deliver(here);
    const archive = Buffer.from(await (await fetch(`${here.url}/api/shoots/${shoot}/archive`)).arrayBuffer());
    const restored = await fetch(`${there.url}/api/shoots/archive`, { method: 'POST', headers: { 'Content-Type': 'application/zip' }, body: archive });
    expect(restored.status).toBe(201);
    expect(readCube(await (await fetch(`${there.url}/api/tables/${digest}`)).text()).size).toBe(9);
    const theirs = await deliver(there);
    expect(theirs.delivery.state).toBe('done');
    expect(theirs.file.equals(mine.file)).toBe(true);
  });
});
