import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { StoredFound, wantedBy } from '@zaddle/core/found/storedFound';
import type { MixDocument } from '@zaddle/document';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Mix { document: MixDocument; revision: number; canUndo: boolean }
interface Version { id: string; name: string; createdAt: string }
interface Detail { shot: { state: string }; mix: Mix | null }

let rig: Rig;
let shoot = '';
let shot = '';
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Ropery' })).body.id;
  for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `A${k}.jpg`, await fakeFrame(11, stops, k * 2));
  const ready = await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed');
  shot = ready.shots[0].id;
});
afterAll(() => rig.stop());

const mix = async (): Promise<Mix> => (await rig.get<Detail>(`/api/shots/${shot}`)).mix!;
const versions = (): Promise<Version[]> => rig.get(`/api/shots/${shot}/versions`);
const keep = (name: unknown) => rig.post<Version>(`/api/shots/${shot}/versions`, { name });
const back = (version: string) => rig.post<Mix>(`/api/shots/${shot}/mix/version`, { version });
const expose = async (exposure: number): Promise<void> => {
  const { document } = await mix();
  expect((await rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id: document.passes[0].id, changes: { exposure } })).status).toBe(200);
};
const ask = (path: string, method: string, body?: object): Promise<Response> => fetch(rig.url + path, { method, headers: { ...ASKED, 'Content-Type': 'application/json' }, body: body ? JSON.stringify(body) : null });

describe('a version', () => {
  test('is the mix as it stood; going back to it is a step that can be undone', async () => {
    await expose(0.5);
    const first = await keep('As proposed');
    expect(first.status).toBe(201);
    const then = (await mix()).document;
    await expose(1.5);
    const { body } = await back(first.body.id);
    expect(body.document).toEqual(then);
    expect(body.canUndo).toBe(true);
    expect((await rig.post<Mix>(`/api/shots/${shot}/mix/undo`)).body.document.passes[0].exposure).toBe(1.5);
    expect((await versions()).map((v) => v.name)).toEqual(['As proposed']);
  });
  test('is told as it is, to be compared with what stands now', async () => {
    const { body } = await keep('To compare');
    const told = await rig.get<{ name: string; document: MixDocument }>(`/api/shots/${shot}/versions/${body.id}`);
    expect(told).toMatchObject({ name: 'To compare', document: (await mix()).document });
    expect((await ask(`/api/shots/${shot}/versions/${randomUUID()}`, 'GET')).status).toBe(404);
    expect((await ask(`/api/shots/${shot}/versions/${body.id}`, 'DELETE')).status).toBe(204);
  });
  test('what was done is told in words, with what is undone', async () => {
    const [lowest] = (await mix()).document.passes;
    await expose(0.75);
    await rig.post(`/api/shots/${shot}/mix/undo`);
    const { position, steps } = await rig.get<{ position: number; steps: { step: number; words: string; undone: boolean }[] }>(`/api/shots/${shot}/history`);
    expect(steps.at(-1)).toEqual({ step: position + 1, words: `${lowest.name}: +0.75 stops`, undone: true });
    expect(steps.slice(0, -1).every(({ undone }) => !undone)).toBe(true);
    expect((await ask(`/api/shots/${randomUUID()}/history`, 'GET')).status).toBe(404);
  });
  test('bundles are kept, and a pass that would lie apart from its bundle is refused with a word', async () => {
    const { document } = await mix();
    const [lowest] = document.passes;
    const bundle = { id: 'bundle', name: 'Both', within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], kind: 'bundle', mode: 'normal', brightness: 1, colour: 1 };
    const made = await rig.post<Mix>(`/api/shots/${shot}/mix/commands`, { kind: 'several', commands: [{ kind: 'addPass', pass: bundle, index: 1 }, { kind: 'movePass', id: lowest.id, index: 0, within: 'bundle' }] });
    expect(made.status).toBe(200);
    expect((await mix()).document.passes.slice(0, 2).map(({ id, within }) => [id, within])).toEqual([[lowest.id, 'bundle'], ['bundle', null]]);
    const apart = await rig.post<{ detail: string }>(`/api/shots/${shot}/mix/commands`, { kind: 'removePass', id: 'bundle' });
    expect(apart.status).toBeGreaterThanOrEqual(400);
    expect(apart.body.detail).toContain('bundle');
    expect((await rig.post(`/api/shots/${shot}/mix/undo`)).status).toBe(200);
    expect((await mix()).document).toEqual(document);
  });
  test('outlives a mix that is begun anew', async () => {
    const kept = (await versions())[0];
    expect((await rig.post(`/api/shots/${shot}/mix/anew`)).status).toBeLessThan(300);
    await until(() => rig.get<Detail>(`/api/shots/${shot}`), (d) => d.shot.state === 'mixed' && d.mix !== null);
    const { status, body } = await back(kept.id);
    expect(status).toBe(200);
    expect(body.document.passes[0].exposure).toBe(0.5);
  });
  test('is renamed and thrown away; what is not there is told', async () => {
    const { body } = await keep('Warmer');
    expect(await (await ask(`/api/shots/${shot}/versions/${body.id}`, 'PATCH', { name: 'Warmer, calmer' })).json()).toMatchObject({ name: 'Warmer, calmer' });
    expect((await ask(`/api/shots/${shot}/versions/${body.id}`, 'DELETE')).status).toBe(204);
    expect((await versions()).some((v) => v.id === body.id)).toBe(false);
    expect((await back(body.id)).status).toBe(404);
    expect((await ask(`/api/shots/${shot}/versions/${body.id}`, 'DELETE')).status).toBe(404);
    expect((await ask(`/api/shots/${randomUUID()}/versions`, 'GET')).status).toBe(404);
  });
  test.each([['nothing', ''], ['too much', 'x'.repeat(81)], ['a number', 7], ['no text', 'a\u0000b'], ['half a character', '\ud800']])('has a name that is one: not %s', async (_, name) => {
    const before = (await versions()).length;
    expect((await keep(name)).status).toBe(400);
    expect((await versions()).length).toBe(before);
  });
  test('cannot be gone back to by an older window over what another did meanwhile', async () => {
    const { body } = await keep('Now');
    const { revision } = await mix();
    await expose(2);
    const late = await fetch(`${rig.url}/api/shots/${shot}/mix/version`, { method: 'POST', headers: { 'Content-Type': 'application/json', 'Base-Revision': String(revision) }, body: JSON.stringify({ version: body.id }) });
    expect(late.status).toBe(409);
    expect((await mix()).document.passes[0].exposure).toBe(2);
  });
});

test('a delivery can be made again to the byte, whatever became of the mix', async () => {
  const done = async (id: string): Promise<Buffer> => {
    await until(() => rig.get<{ id: string; state: string }[]>('/api/deliveries'), (list) => list.find((d) => d.id === id)?.state === 'done');
    return Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${id}/file`)).arrayBuffer());
  };
  const [first] = (await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [shot], quality: 90 })).body.ids;
  const picture = await done(first);
  await expose(-2);
  const again = await rig.post<{ id: string }>(`/api/deliveries/${first}/again`);
  expect(again.status).toBe(202);
  expect((await done(again.body.id)).equals(picture)).toBe(true);
  const [changed] = (await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [shot], quality: 90 })).body.ids;
  expect((await done(changed)).equals(picture)).toBe(false);
});

test('one picture is delivered by several orders: each in its ratio, under a name of its own, and again as the same order', async () => {
  type Told = { id: string; state: string; name: string; order: string };
  const done = async (id: string): Promise<{ told: Told; file: Buffer }> => {
    const list = await until(() => rig.get<Told[]>('/api/deliveries'), (all) => all.find((d) => d.id === id)?.state === 'done');
    return { told: list.find((d) => d.id === id)!, file: Buffer.from(await (await fetch(`${rig.url}/api/deliveries/${id}/file`)).arrayBuffer()) };
  };
  const { status, body } = await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [shot], orders: ['listing', 'print'], quality: 90 });
  expect([status, body.ids.length]).toEqual([202, 2]);
  const made = await Promise.all(body.ids.map(done));
  const listing = made.find(({ told }) => told.order === 'listing')!;
  expect(made.map(({ told }) => told.name).sort()).toEqual(['Shot-1-listing.jpg', 'Shot-1-print.jpg']);
  for (const { told, file } of made) {
    const { width = 1, height = 1, density } = await sharp(file).metadata();
    expect(Math.abs(width / height - (told.order === 'listing' ? 4 / 3 : 3 / 2))).toBeLessThan(0.01);
    if (told.order === 'print') expect(density).toBe(300);
  }
  const again = await rig.post<{ id: string }>(`/api/deliveries/${listing.told.id}/again`);
  const repeated = await done(again.body.id);
  expect(repeated.told.order).toBe('listing');
  expect(repeated.file.equals(listing.file)).toBe(true);
  for (const orders of [[], ['poster'], ['web', 'web'], 'web']) expect((await rig.post('/api/deliveries', { shots: [shot], orders })).status).toBe(400);
});

test('what was found is sent once: asked again with what is at hand, only that nothing changed is said', async () => {
  const first = await fetch(`${rig.url}/api/shots/${shot}/found`);
  expect(first.status).toBe(200);
  const tag = first.headers.get('etag')!;
  // As browsers ask again.
  expect(StoredFound.unpack(new Uint8Array(await first.arrayBuffer())).has(wantedBy((await mix()).document))).toBe(true);
  const again = await fetch(`${rig.url}/api/shots/${shot}/found`, { headers: { 'If-None-Match': tag, 'Cache-Control': 'max-age=0' } });
  expect(again.status).toBe(304);
  const other = await fetch(`${rig.url}/api/shots/${shot}/found`, { headers: { 'If-None-Match': '"something else"', 'Cache-Control': 'max-age=0' } });
  expect([other.status, other.headers.get('etag')]).toEqual([200, tag]);
  expect((await fetch(`${rig.url}/api/shots/${randomUUID()}/found`)).status).toBe(404);
});
