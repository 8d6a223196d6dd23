import { randomUUID } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Command, MixDocument } from '@zaddle/document';
import { FrameEntity } from '../src/data/entities';
import { handleFailure, MOST_ATTEMPTS } from '../src/jobs/failures';
import { gatherTask } from '../src/jobs/gatherTask';
import { queueForgotten } from '../src/jobs/unqueuedWork';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

/*
 * What a person has done outlives late frames, regrouping, second windows, lost answers and odd files.
 */

interface Frame { id: string; name: string; sha256: string; state: string; why: string; shotId: string | null; dropped: boolean }
interface Shot { id: string; label: string; state: string; why: string; readings: { kind: string; text: string }[] }
interface Shoot { frames: Frame[]; shots: Shot[] }
interface Mix { document: MixDocument; revision: number; canUndo: boolean; canRedo: boolean }
interface Detail { shot: Shot; frames: Frame[]; mix: Mix | null }
interface Delivery { id: string; shotId: string; name: string; state: string }

let rig: Rig;
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
});
afterAll(() => rig.stop());

const open = async (name: string): Promise<string> => (await rig.post<{ id: string }>('/api/shoots', { name })).body.id;
const look = (shoot: string): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
const detail = (shot: string): Promise<Detail> => rig.get(`/api/shots/${shot}`);
const settled = (shoot: string, frames: number): Promise<Shoot> =>
  until(() => look(shoot), (s) => s.frames.length === frames && s.frames.every((f) => f.state === 'rejected' || f.dropped || f.shotId !== null) && s.shots.every((x) => x.state !== 'sorted'));
const command = (shot: string, what: Command, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(`${rig.url}/api/shots/${shot}/mix/commands`, { method: 'POST', headers: { 'Content-Type': 'application/json', ...headers }, body: JSON.stringify(what) });
const label = (shot: string, text: string): Promise<Response> => fetch(`${rig.url}/api/shots/${shot}`, { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ label: text }) });
const deliveries = (): Promise<Delivery[]> => rig.get('/api/deliveries');
async function deliver(shot: string): Promise<string> {
  const { body } = await rig.post<{ ids: string[] }>('/api/deliveries', { shots: [shot], quality: 90 });
  await until(deliveries, (list) => list.find((d) => d.id === body.ids[0])?.state === 'done');
  return body.ids[0];
}
/** A shot of two frames on which somebody has worked: named, changed, delivered. */
async function workedShot(shoot: string, name: string): Promise<{ shot: string; delivery: string }> {
  const { shots } = await settled(shoot, (await look(shoot)).frames.length);
  const shot = shots.at(-1)!.id;
  await label(shot, name);
  const { mix } = await detail(shot);
  expect((await command(shot, { kind: 'changePass', id: mix!.document.passes[0].id, changes: { exposure: 0.77 } })).status).toBe(200);
  return { shot, delivery: await deliver(shot) };
}

describe('a frame that comes late', () => {
  test('changes its shot and does not replace it: mix, history, label and deliveries stay, and the new frame is offered, muted', async () => {
    const shoot = await open('Lime kiln');
    for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `A${k}.jpg`, await fakeFrame(1, stops, k * 2));
    const { shot, delivery } = await workedShot(shoot, 'Kitchen');
    const before = (await detail(shot)).mix!;
    // Undone steps can still be redone after the offer.
    await command(shot, { kind: 'changePass', id: before.document.passes[0].id, changes: { opacity: 0.5 } });
    await rig.post(`/api/shots/${shot}/mix/undo`);
    await rig.upload(shoot, 'A2.jpg', await fakeFrame(1, 2, 4));
    const then = await settled(shoot, 3);
    expect(then.shots.map((s) => [s.id, s.label])).toEqual([[shot, 'Kitchen']]);
    const offered = await until(() => detail(shot), (d) => d.mix!.document.passes.length > before.document.passes.length);
    const late = then.frames.find((f) => f.name === 'A2.jpg')!;
    const mix = offered.mix!.document;
    expect(mix.passes[0].exposure).toBe(0.77);
    const added = mix.passes.filter((p) => !before.document.passes.some((old) => old.id === p.id));
    expect(added.map((p) => [p.on, 'source' in p && p.source])).toEqual([[false, { kind: 'frame', frame: late.id }]]);
    expect(Object.keys(mix.frames)).toContain(late.id);
    expect(mix.passes.filter((p) => !added.includes(p))).toEqual(before.document.passes);
    expect((await until(() => detail(shot), (d) => d.shot.readings.some((r) => r.kind === 'changed'))).shot.readings.find((r) => r.kind === 'changed')!.text).toMatch(/A2\.jpg: came after you began/);
    expect((await deliveries()).find((d) => d.id === delivery)?.state).toBe('done');
    // The offer is a step like others; what was undone before it is still there to be redone.
    const redone = (await rig.post<Mix>(`/api/shots/${shot}/mix/redo`)).body;
    expect(redone.document.passes[0]).toMatchObject({ exposure: 0.77, opacity: 0.5 });
    await rig.post(`/api/shots/${shot}/mix/undo`);
    expect((await rig.post<Mix>(`/api/shots/${shot}/mix/undo`)).body.document).toEqual(before.document);
  });

  test('leaves bundles and what is tied as they are, and lies outside them', async () => {
    const shoot = await open('Drying loft');
    for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `H${k}.jpg`, await fakeFrame(12, stops, k * 2));
    const [{ id: shot }] = (await settled(shoot, 2)).shots;
    const { document } = (await detail(shot)).mix!;
    const base = document.passes[0];
    const tone = document.passes.find((p) => p.kind === 'adjust')!;
    const inBundle = (id: string): Command => ({ kind: 'addPass', index: 1, pass: { ...base, id, name: id, within: null, opacity: 0.5 } });
    const bundle: Command = { kind: 'addPass', index: 3, pass: { id: 'bundle', name: 'Bundle', within: null, why: '', kind: 'bundle', on: true, opacity: 0.8, mask: [], exposure: 0.2, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 } };
    const into: Command[] = ['two', 'one'].map((id) => ({ kind: 'movePass', id, index: 1, within: 'bundle' }));
    expect((await command(shot, { kind: 'several', commands: [inBundle('one'), inBundle('two'), bundle, ...into, { kind: 'addPass', index: 1, pass: { ...tone, id: 'tied', within: 'bundle', tied: true } as typeof tone }] })).status).toBe(200);
    const before = (await detail(shot)).mix!.document.passes;
    expect(before.filter((p) => p.within === 'bundle').map((p) => p.id).sort()).toEqual(['one', 'tied', 'two']);
    await rig.upload(shoot, 'H2.jpg', await fakeFrame(12, 2, 4));
    const offered = (await until(() => detail(shot), (d) => d.mix!.document.passes.length > before.length)).mix!.document.passes;
    const added = offered.filter((p) => !before.some(({ id }) => id === p.id));
    expect(added.map((p) => [p.on, p.within])).toEqual([[false, null]]);
    expect(offered.filter((p) => !added.includes(p))).toEqual(before);
    // What is mixed into a bundle lies right under it, late frames or not.
    const at = offered.findIndex((p) => p.id === 'bundle');
    expect(offered.slice(at - 3, at).every((p) => p.within === 'bundle')).toBe(true);
  });

  test('an untouched shot keeps its id, too', async () => {
    const shoot = await open('Slipway');
    for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `B${k}.jpg`, await fakeFrame(2, stops, k * 2));
    const [{ id }] = (await settled(shoot, 2)).shots;
    await rig.upload(shoot, 'B2.jpg', await fakeFrame(2, 2, 4));
    expect((await settled(shoot, 3)).shots.map((s) => s.id)).toEqual([id]);
    const { mix } = await detail(id);
    expect(Object.keys(mix!.document.frames)).toHaveLength(3);
  });
});

test('joining shots and undoing it brings back a shot with everything that was made of it', async () => {
  const shoot = await open('Granary');
  await rig.upload(shoot, 'C0.jpg', await fakeFrame(3, 0, 0));
  await rig.upload(shoot, 'D0.jpg', await fakeFrame(4, 0, 40));
  const { shot, delivery } = await workedShot(shoot, 'Bath');
  const { shots } = await look(shoot);
  expect(shots).toHaveLength(2);
  expect((await rig.post(`/api/shoots/${shoot}/grouping/commands`, { kind: 'join', shots: shots.map((s) => s.id) })).status).toBe(200);
  expect((await settled(shoot, 2)).shots).toHaveLength(1);
  expect((await deliveries()).some((d) => d.id === delivery)).toBe(true);
  expect((await fetch(`${rig.url}/api/deliveries/${delivery}/file`)).status).toBe(200);
  expect((await fetch(`${rig.url}/api/shots/${shot}`)).status).toBe(404);
  expect((await rig.post(`/api/shoots/${shoot}/grouping/undo`)).status).toBe(200);
  const back = await settled(shoot, 2);
  expect(back.shots.find((s) => s.id === shot)?.label).toBe('Bath');
  const { mix } = await detail(shot);
  expect([mix!.document.passes[0].exposure, mix!.canUndo]).toEqual([0.77, true]);
});

describe('changes of one mix from several places', () => {
  let shot: string;
  const stroke = (x: number): Command => ({ kind: 'addStroke', pass: 'tone', area: 'painted', stroke: { points: [[x, 0.2]], radius: 0.05, softness: 0.5, strength: 1, reveal: true } });
  const headers = (base: number, known = base, editor = randomUUID(), key = randomUUID()): Record<string, string> => ({ 'Base-Revision': String(base), 'Known-Revision': String(known), 'Editor-Id': editor, 'Idempotency-Key': key });
  beforeAll(async () => {
    const shoot = await open('Bell tower');
    await rig.upload(shoot, 'E0.jpg', await fakeFrame(5, 0, 0));
    shot = (await settled(shoot, 1)).shots[0].id;
    const { document } = (await detail(shot)).mix!;
    const tone = document.passes.find((p) => p.kind === 'adjust')!;
    expect((await command(shot, { kind: 'addPass', index: 9, pass: { ...tone, id: 'tone', mask: [{ id: 'painted', kind: 'brush', join: 'add', inverted: false, strokes: [] }] } })).status).toBe(200);
  });

  test('strokes made on the same revision are all there; a value that somebody else changed is not overwritten', async () => {
    const { revision } = (await detail(shot)).mix!;
    for (const x of [0.1, 0.2, 0.3]) expect((await command(shot, stroke(x), headers(revision))).status).toBe(200);
    expect((await command(shot, { kind: 'changePass', id: 'tone', changes: { contrast: 1.5 } }, headers(revision))).status).toBe(200);
    const late = await command(shot, { kind: 'changePass', id: 'tone', changes: { contrast: 2 } }, headers(revision));
    expect(late.status).toBe(409);
    const problem = (await late.json()) as { detail: string; mix: Mix };
    expect(problem.detail).toMatch(/another window/);
    const now = (await detail(shot)).mix!;
    expect(problem.mix.document).toEqual(now.document);
    const tone = now.document.passes.find((p) => p.id === 'tone')!;
    expect(tone).toMatchObject({ contrast: 1.5 });
    expect(tone.mask[0].kind === 'brush' && tone.mask[0].strokes.map((s) => s.points[0][0])).toEqual([0.1, 0.2, 0.3]);
    // Undoing something that is not what was looked at is refused, too.
    expect((await fetch(`${rig.url}/api/shots/${shot}/mix/undo`, { method: 'POST', headers: { 'Content-Type': 'application/json', ...headers(revision) } })).status).toBe(409);
  });

  test('one that is sent twice is done once; its own earlier changes do not stand in the way', async () => {
    const { revision } = (await detail(shot)).mix!;
    const [editor, key] = [randomUUID(), randomUUID()];
    for (let n = 0; n < 3; n++) expect((await command(shot, stroke(0.4), headers(revision, revision, editor, key))).status).toBe(200);
    const again = await command(shot, { kind: 'changePass', id: 'tone', changes: { contrast: 1.1 } }, headers(revision, revision + 1, editor));
    // Who knows the revision before is not sent the document again.
    const answer = (await again.json()) as Partial<Mix>;
    expect([again.status, answer.revision, answer.document]).toEqual([200, revision + 2, undefined]);
    expect((await command(shot, { kind: 'changePass', id: 'tone', changes: { contrast: 1.2 } }, headers(revision, revision, editor))).status).toBe(200);
    const tone = (await detail(shot)).mix!.document.passes.find((p) => p.id === 'tone')!;
    expect(tone.mask[0].kind === 'brush' && tone.mask[0].strokes.filter((s) => s.points[0][0] === 0.4)).toHaveLength(1);
  });

  test('a bundle that another window dissolved: what was painted in it stays, what was meant for it is refused and told', async () => {
    const { revision, document } = (await detail(shot)).mix!;
    const at = document.passes.findIndex((p) => p.id === 'tone');
    const bundle: Command = { kind: 'addPass', index: at + 1, pass: { id: 'pair', name: 'Pair', within: null, why: '', kind: 'bundle', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 } };
    expect((await command(shot, { kind: 'several', commands: [bundle, { kind: 'movePass', id: 'tone', index: at, within: 'pair' }] }, headers(revision))).status).toBe(200);
    const both = revision + 1;
    expect((await command(shot, { kind: 'several', commands: [{ kind: 'movePass', id: 'tone', index: at, within: null }, { kind: 'removePass', id: 'pair' }] }, headers(both))).status).toBe(200);
    // The other window still sees the bundle.
    expect((await command(shot, stroke(0.7), headers(both))).status).toBe(200);
    for (const meant of [{ kind: 'changePass', id: 'pair', changes: { opacity: 0.4 } }, { kind: 'movePass', id: document.passes[0].id, index: 0, within: 'pair' }] as const) {
      const refused = await command(shot, meant, headers(both));
      expect([409, 422]).toContain(refused.status);
      expect(((await refused.json()) as { detail: string }).detail.length).toBeGreaterThan(20);
    }
    const now = (await detail(shot)).mix!.document;
    expect(now.passes.some((p) => p.id === 'pair' || p.within !== null)).toBe(false);
    const tone = now.passes.find((p) => p.id === 'tone')!;
    expect(tone.mask[0].kind === 'brush' && tone.mask[0].strokes.some((s) => s.points[0][0] === 0.7)).toBe(true);
  });

  test('a mix that was begun anew counts on: nothing from before fits it', async () => {
    const { revision } = (await detail(shot)).mix!;
    await rig.post(`/api/shots/${shot}/mix/anew`);
    const fresh = (await until(() => detail(shot), (d) => d.mix !== null)).mix!;
    expect(fresh.revision).toBeGreaterThan(revision);
    expect((await command(shot, { kind: 'changePass', id: fresh.document.passes[0].id, changes: { opacity: 0.3 } }, headers(revision))).status).toBe(409);
  });

  const FRAMING = { roll: 0, pitch: 0, yaw: 0, focal: 0.7, strength: 1, turn: 0, stretch: 1, lines: [], ratio: null, crop: null };
  const GRAIN = { brightness: [0.01, 0.01, 0.01, 0.01], colour: [0.01, 0.01, 0.01, 0.01] };
const BAND = { hue: 30, width: 20, softness: 10, shift: 0, chroma: 1, lightness: 0 };
  test('what would break the picture is refused', async () => {
    const { document } = (await detail(shot)).mix!;
    const [id, use] = Object.entries(document.frames)[0];
    const pass = document.passes.find((p) => 'source' in p)!;
    const other = (await rig.post<{ id: string }>('/api/shoots', { name: 'Elsewhere' })).body.id;
    const foreign = (await rig.upload(other, 'F0.jpg', await fakeFrame(6, 0, 0))).body.id;
    await settled(other, 1);
    const poison: unknown[] = [
      { kind: 'changeMix', changes: { merge: ['toString'] } },
      { kind: 'changePass', id: pass.id, changes: { source: { kind: 'frame', frame: 'constructor' } } },
      { kind: 'changePass', id: pass.id, changes: { toString: 1 } },
      { kind: 'addFrame', id: 'x', use }, { kind: 'addFrame', id: randomUUID(), use }, { kind: 'addFrame', id: '__proto__', use }, { kind: 'addFrame', id: foreign, use },
      { kind: 'changeMix', changes: { width: 100_000, height: 100_000 } },
      ...[{ ...FRAMING, roll: 90 }, { ...FRAMING, focal: 0 }, { ...FRAMING, crop: { at: [0, 0], width: 1e9, height: 1 } }, { ...FRAMING, lines: Array.from({ length: 9 }, () => ({ from: [0, 0], to: [1, 1] })) }, { ...FRAMING, toString: 1 }, 'level'].map((framing) => ({ kind: 'changeMix', changes: { framing } })),
      ...[{ amount: 99, radius: 1, edges: 0, halo: 0 }, { amount: 1, radius: 0, edges: 0, halo: 0 }, { amount: 1 }, []].map((sharpening) => ({ kind: 'changeMix', changes: { sharpening } })),
      ...[{ brightness: 2, colour: 0, grain: GRAIN }, { brightness: 0, colour: 0 }, { brightness: 0, colour: 0, grain: { ...GRAIN, colour: [0.1] } }, { brightness: 0, colour: 0, grain: { ...GRAIN, brightness: [1e9, 0, 0, 0] } }].map((noise) => ({ kind: 'changeMix', changes: { noise } })),
      ...[Array.from({ length: 13 }, () => BAND), [{ ...BAND, hue: 400 }], [{ ...BAND, width: 0 }], {}].map((bands) => ({ kind: 'changePass', id: document.passes.find((p) => p.kind === 'adjust')!.id, changes: { bands } })),
      ...[[0, 0, 0, 0, 0, 0, 0, 0, 0], [1e308, 0, 0, 0, 1e308, 0, 1e308, 1e308, 1e308], [1, 0, 1e7, 0, 1, 0, 0, 0, 1], [-1, 0, 0, 0, 1, 0, 0, 0, 1]].map((geometry) => ({ kind: 'changeMix', changes: { geometry } })),
      ...[[1e300, 0, 0, 0, 1e300, 0, 0, 0, 1e-300], [1, 0, 0, 0, 1, 0, 1, 1, -300], [1e-3, 0, 0, 0, 1, 0, 0, 0, 1]].map((alignment) => ({ kind: 'changePass', id: pass.id, changes: { source: { kind: 'frame', frame: id }, alignment } })),
      { kind: 'several', commands: document.passes.map((p) => ({ kind: 'removePass', id: p.id })) },
      { kind: 'addStroke', pass: pass.id, area: 'nobody', stroke: { points: [[0, 0]], radius: 0.1, softness: 0, strength: 1, reveal: true } },
      { kind: 'changePass', id: pass.id, changes: { name: 'a\u0000b' } }, { kind: 'changePass', id: pass.id, changes: { name: '\ud800' } },
    ];
    for (const body of poison) {
      const { status, body: problem } = await rig.post<{ detail: string }>(`/api/shots/${shot}/mix/commands`, body);
      expect([400, 422], JSON.stringify(body)).toContain(status);
      expect(problem.detail.length).toBeGreaterThan(10);
    }
    expect((await detail(shot)).mix!.document).toEqual(document);
  });
});

describe('an odd file', () => {
  /** A JPEG whose EXIF names a camera with bytes that are no text. */
  async function oddCamera(seed: number): Promise<Buffer> {
    const plain = await sharp(await fakeFrame(seed, 0, 0)).withExif({ IFD0: { Model: 'QQQQQQQQ', Software: 'x' }, IFD2: { DateTimeOriginal: '2026:06:11 10:00:00' } }).jpeg().toBuffer();
    const at = plain.indexOf('QQQQQQQQ');
    return Buffer.concat([plain.subarray(0, at), Buffer.from([0x52, 0x00, 0x07, 0xed, 0xa0, 0x80, 0x52, 0x52]), plain.subarray(at + 8)]);
  }

  test('stops nobody: text that is none is cleaned, what cannot be read is rejected with a reason, the others are sorted', async () => {
    const shoot = await open('Smithy');
    await rig.upload(shoot, 'odd.jpg', await oddCamera(7));
    await rig.upload(shoot, 'good.jpg', await fakeFrame(8, 0, 50));
    const done = await settled(shoot, 2);
    expect(done.frames.map((f) => f.state)).toEqual(['gathered', 'gathered']);
    const { facts } = (await rig.served.workshop.database.getRepository(FrameEntity).findOneByOrFail({ shootId: shoot, name: 'odd.jpg' }));
    expect(facts!.camera ?? '').not.toMatch(/[\u0000-\u001f\ud800-\udfff]/);
  });

  test('that ends whoever reads it is given up; dropped again, it is tried again', async () => {
    const { workshop } = rig.served;
    const frames = workshop.database.getRepository(FrameEntity);
    const shoot = await open('Forge');
    const file = await fakeFrame(9, 0, 0);
    await settled(shoot, 0);
    const { id } = (await rig.upload(shoot, 'deadly.jpg', file)).body;
    await until(() => look(shoot), (s) => s.frames[0]?.state === 'gathered');
    // As if every process that read it had ended in the middle.
    await frames.update({ id }, { state: 'waiting', attempts: MOST_ATTEMPTS, shotId: null });
    await gatherTask(workshop, id);
    const given = (await look(shoot)).frames[0];
    expect(given.state).toBe('rejected');
    expect(given.why).toMatch(/several tries/);
    const { known } = (await rig.post<{ known: string[] }>(`/api/shoots/${shoot}/frames/known`, { hashes: [given.sha256] })).body;
    expect(known).toEqual([]);
    expect((await rig.upload(shoot, 'deadly.jpg', file)).body.id).toBe(id);
    await until(() => look(shoot), (s) => s.frames[0].state === 'gathered' && s.frames[0].shotId !== null);
  });

  test('an error that nobody foresaw is told as a sentence, and tried once more before', async () => {
    const { workshop } = rig.served;
    const frames = workshop.database.getRepository(FrameEntity);
    const shoot = await open('Mint');
    const { id } = (await rig.upload(shoot, 'M.jpg', await fakeFrame(10, 0, 0))).body;
    await until(() => look(shoot), (s) => s.frames[0].state === 'gathered');
    await frames.update({ id }, { state: 'waiting', attempts: 1 });
    const error = new TypeError("Cannot destructure property 'x' of 'undefined'");
    expect(await handleFailure(workshop, 'gather', { frame: id }, error)).toBe('failed');
    await frames.update({ id }, { attempts: 2 });
    expect(await handleFailure(workshop, 'gather', { frame: id }, error)).toBe('given up');
    const [frame] = (await look(shoot)).frames;
    expect(frame.state).toBe('rejected');
    expect(frame.why).not.toMatch(/destructure/);
  });
});

test('work that is noted but has no job is found and queued', async () => {
  const { database, boss } = rig.served.workshop;
  const shoot = await open('Toll house');
  const { id } = (await rig.upload(shoot, 'G0.jpg', await fakeFrame(11, 0, 0))).body;
  const [{ id: shot }] = (await settled(shoot, 1)).shots;
  const delivery = await deliver(shot);
  const jobs = (): Promise<{ id: string; name: string }[]> => database.query(`SELECT id, name FROM pgboss.job WHERE singleton_key = ANY($1)`, [[delivery, id]]);
  const before = new Set((await jobs()).map((job) => job.id));
  // As if a process had ended between noting and queueing, in versions that did one after the other.
  await database.query(`UPDATE deliveries SET state = 'waiting' WHERE id = $1`, [delivery]);
  await database.query(`UPDATE frames SET state = 'waiting', shot_id = NULL WHERE id = $1`, [id]);
  // The server looks for such work by itself, too, and may have found some of it before.
  await queueForgotten(database, boss);
  expect((await jobs()).filter((job) => !before.has(job.id)).map((job) => job.name).sort()).toEqual(['deliver', 'gather']);
  expect(await queueForgotten(database, boss)).toBe(0);
  await until(deliveries, (list) => list.find((d) => d.id === delivery)?.state === 'done');
  await settled(shoot, 1);
});

describe('what is sent in', () => {
  test('files are bytes, whatever type they claim', async () => {
    const shoot = await open('Chandlery');
    const file = await fakeFrame(12, 0, 0);
    for (const type of ['application/json', 'application/vnd.api+json', 'image/jpeg']) {
      const response = await fetch(`${rig.url}/api/shoots/${shoot}/frames?name=x.jpg`, { method: 'POST', headers: { 'Content-Type': type }, body: new Uint8Array(file) });
      expect(response.status).toBe(201);
    }
    expect((await look(shoot)).frames).toHaveLength(1);
  });

  test('ids in other spellings, text that is none, and times out of reach are refused', async () => {
    const shoot = await open('Sail loft');
    for (const id of [`{${shoot}}`, `[${shoot}]`, shoot.replace(/-/g, ''), shoot.toUpperCase(), '%00', 'constructor']) expect((await fetch(`${rig.url}/api/shoots/${id}`)).status, id).toBe(404);
    for (const body of [{ name: 'a\u0000' }, { name: '\ud800' }, { name: 'x', dueAt: '+275760-09-13T00:00:00.001Z' }, { name: 'x', dueAt: '-271821-04-20' }]) expect((await rig.post('/api/shoots', body)).status, JSON.stringify(body)).toBe(400);
  });

  test('pages of other programs, and forms, change nothing', async () => {
    const port = new URL(rig.url).port;
    const post = (headers: Record<string, string>, body: string | null = '{"name":"x"}'): Promise<number> => fetch(`${rig.url}/api/shoots`, { method: 'POST', headers, body }).then((r) => r.status);
    const json = { 'Content-Type': 'application/json' };
    expect(await post({ ...json, Origin: rig.url })).toBe(201);
    for (const origin of ['http://localhost:3000', 'http://127.0.0.1:1', `https://127.0.0.1:${port}`, 'null', 'http://evil.example']) expect(await post({ ...json, Origin: origin }), origin).toBe(403);
    expect(await post({ ...json, 'Sec-Fetch-Site': 'cross-site' })).toBe(403);
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=b']) expect(await post({ 'Content-Type': type }), type).toBe(403);
    expect((await fetch(`${rig.url}/api/shots/${randomUUID()}/mix/undo`, { method: 'POST' })).status).toBe(403);
    expect((await fetch(`${rig.url}/api/shots/${randomUUID()}/mix/undo`, { method: 'POST', headers: ASKED })).status).toBe(404);
  });
});

test('pictures that are labelled alike get distinct names', async () => {
  const shoot = await open('Two bedrooms');
  await rig.upload(shoot, 'H0.jpg', await fakeFrame(13, 0, 0));
  await rig.upload(shoot, 'H1.jpg', await fakeFrame(14, 0, 60));
  const { shots } = await settled(shoot, 2);
  await label(shots[0].id, 'Bedroom');
  await label(shots[1].id, 'bedroom');
  const { body } = await rig.post<{ ids: string[] }>('/api/deliveries', { shots: shots.map((s) => s.id), quality: 90 });
  const names = (await deliveries()).filter((d) => body.ids.includes(d.id)).map((d) => d.name).sort();
  expect(names).toEqual(['Bedroom.jpg', 'bedroom-2.jpg']);
});

test('parts of a frame come at every level, as the originals have them', async () => {
  const shoot = await open('Ice house');
  const gradient = Buffer.from(Uint8Array.from({ length: 1001 * 667 * 3 }, (_, i) => (Math.floor(i / 3) % 1001) / 4));
  const { id } = (await rig.upload(shoot, 'I0.png', await sharp(gradient, { raw: { width: 1001, height: 667, channels: 3 } }).png().toBuffer())).body;
  await settled(shoot, 1);
  const part = async (query: string): Promise<{ width: number; height: number; at: (x: number, y: number) => number }> => {
    const view = new DataView(await (await fetch(`${rig.url}/api/frames/${id}/pixels?${query}`)).arrayBuffer());
    const width = view.getUint32(0, true);
    return { width, height: view.getUint32(4, true), at: (x, y) => view.getUint8(8 + (y * width + x) * 3) };
  };
  const whole = await part('x=0&y=0&w=6000&h=4000');
  expect([whole.width, whole.height, whole.at(800, 600)]).toEqual([1001, 667, 200]);
  const half = await part('x=100&y=50&w=300&h=900&level=1');
  expect([half.width, half.height]).toEqual([300, 284]);
  expect(Math.abs(half.at(0, 7) - 50)).toBeLessThanOrEqual(1);
  const eighth = await part('x=100&y=0&w=100&h=100&level=3');
  expect([eighth.width, eighth.height]).toEqual([26, 84]);
  expect((await part('x=2000&y=0&w=10&h=10')).width).toBe(0);
  for (const query of ['x=0&y=0&w=90000&h=90000', 'x=-1&y=0&w=1&h=1', 'x=0&y=0&w=1&h=1&level=4', 'x=&y=0&w=1&h=1', 'x=1&x=2&y=0&w=1&h=1']) expect((await fetch(`${rig.url}/api/frames/${id}/pixels?${query}`)).status, query).toBe(400);
});

describe('deleting', () => {
  const originals = (): string[] => readdirSync(join(rig.store, 'originals'), { recursive: true, encoding: 'utf8' }).filter((n) => /[0-9a-f]{64}$/.test(n));
  const remove = (path: string): Promise<number> => fetch(rig.url + path, { method: 'DELETE', headers: ASKED }).then((r) => r.status);

  test('a delivery, a dropped frame, a shoot: the store is freed of what nobody else has', async () => {
    const shoot = await open('Cooperage');
    const other = await open('Cooperage, again');
    const shared = await fakeFrame(15, 0, 0);
    const own = await fakeFrame(15, -2, 2);
    await rig.upload(shoot, 'J0.jpg', shared);
    await rig.upload(other, 'J0.jpg', shared);
    await rig.upload(shoot, 'J1.jpg', own);
    const { shots, frames } = await settled(shoot, 2);
    await settled(other, 1);
    const delivery = await deliver(shots[0].id);
    const fileOf = (sha: string): boolean => originals().some((n) => n.endsWith(sha));
    const j1 = frames.find((f) => f.name === 'J1.jpg')!;
    expect(await remove(`/api/frames/${j1.id}`)).toBe(409);
    await rig.post(`/api/shoots/${shoot}/grouping/commands`, { kind: 'drop', frames: [j1.id] });
    expect(await remove(`/api/frames/${j1.id}`)).toBe(204);
    expect([fileOf(j1.sha256), existsSync(join(rig.store, 'proxy', j1.id))]).toEqual([false, false]);
    // Taking back the drop finds no frame to bring back, and breaks nothing.
    expect((await rig.post(`/api/shoots/${shoot}/grouping/undo`)).status).toBe(200);
    await settled(shoot, 1);
    expect(await remove(`/api/deliveries/${delivery}`)).toBe(204);
    expect(existsSync(join(rig.store, 'delivery', delivery))).toBe(false);
    const j0 = frames.find((f) => f.name === 'J0.jpg')!;
    expect(await remove(`/api/shoots/${shoot}`)).toBe(204);
    expect((await fetch(`${rig.url}/api/shoots/${shoot}`)).status).toBe(404);
    expect(fileOf(j0.sha256)).toBe(true);
    expect(await remove(`/api/shoots/${other}`)).toBe(204);
    expect(fileOf(j0.sha256)).toBe(false);
    expect(await remove(`/api/shoots/${other}`)).toBe(404);
  });
});

test('nobody else gets into the database or reads its password', async () => {
  const { Client } = (await import('pg')).default;
  const url = new URL(rig.postgres.url);
  expect(url.password.length).toBeGreaterThan(20);
  url.password = '';
  const client = new Client({ connectionString: url.href });
  await expect(client.connect()).rejects.toThrow(/password/i);
  const key = `${join(rig.store, '..', 'postgres')}.key`;
  expect(readFileSync(key, 'utf8')).toBe(new URL(rig.postgres.url).password);
  expect((await import('node:fs')).statSync(key).mode & 0o077).toBe(0);
});
