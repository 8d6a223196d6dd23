import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Mix } from '@zaddle/document';
import { readyMix } from '@zaddle/core/graph/readyMix';
import { AUTOMATIC, proposeMix } from '@zaddle/core/propose/proposeMix';
import { decodeFrame, readFacts } from '../src/picture/decodeFrame';
import { newTools } from '../src/picture/kernels';
import { RejectedFile } from '../src/picture/limits';
import { closeRenderPool } from '../src/picture/renderPool';
import { FrameShelf, shelfBytes } from '../src/picture/frameShelf';
import { gatherFile } from '../src/picture/gatherFile';
import { linearPicture, withRendering } from '../src/picture/rendering';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';
import { writeDng } from './writeDng';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-formats-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const encoded = (light: number): number => Math.round(255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055));
/** Four grey fields of known linear light. */
const FIELDS = [[0.18, 0.5], [0.054, 0.9]] as const;
const field = (x: number, y: number, w: number, h: number): number => FIELDS[y * 2 < h ? 0 : 1][x * 2 < w ? 0 : 1];

describe('raw files', () => {
  test('a DNG is developed as linear light, turned as the camera was held, with what it says of its exposure', async () => {
    const dng = writeDng({ width: 300, height: 200, orientation: 6, seconds: [1, 60], taken: '2026:06:11 10:00:05', light: (x, y) => field(x, y, 300, 200) });
    const facts = await readFacts(dng, 'x', 'x.dng');
    expect(facts).toMatchObject({ format: 'raw', width: 200, height: 300, aperture: 8, iso: 200, focalLength: 19, camera: 'Rig One', takenAt: Date.parse('2026-06-11T10:00:05Z') });
    expect(facts.seconds).toBeCloseTo(1 / 60, 4);
    const { width, height, data } = await decodeFrame(dng);
    const deep = await decodeFrame(dng, facts.deep);
    expect([width, height, deep.data instanceof Uint16Array]).toEqual([200, 300, true]);
    // Turned by a quarter: what lay at (x, y) lies at (h - 1 - y, x).
    for (const [x, y] of [[40, 40], [260, 40], [40, 160], [260, 160]]) {
      const at = (x * width + (199 - y)) * 3;
      for (let c = 0; c < 3; c++) {
        expect(Math.abs(data[at + c] - encoded(field(x, y, 300, 200)))).toBeLessThanOrEqual(3);
        expect(Math.abs(deep.data[at + c] / 257 - data[at + c])).toBeLessThanOrEqual(0.51);
      }
    }
  });
  test('damaged ones are rejected in words', async () => {
    const dng = writeDng({ width: 300, height: 200, orientation: 1, seconds: [1, 60], taken: '2026:06:11 10:00:05', light: () => 0.2 });
    for (const file of [Buffer.from('FUJIFILMCCD-RAW 0201 nothing more'), Buffer.from('\0\0\0\x18ftypcrx \0\0\0\x01')]) await expect(readFacts(file, 'x', 'x.raf')).rejects.toBeInstanceOf(RejectedFile);
    await expect(readFacts(dng.subarray(0, 200), 'x', 'x.dng').then(() => decodeFrame(dng.subarray(0, 200)))).rejects.toBeInstanceOf(RejectedFile);
  });
});

/** One frame, brightened by five stops, as the red of a row of the picture. */
async function brightened(file: Buffer, facts: FrameFacts): Promise<number[]> {
  const proxy = await decodeFrame(file);
  const { mix, findings } = proposeMix(newTools(64_000_000), [{ facts, proxy }], AUTOMATIC, () => 0);
  const pass = mix.passes.find((p) => p.kind === 'light')!;
  const plain = { ...mix, geometry: IDENTITY, passes: [{ ...pass, source: { kind: 'frame', frame: facts.id }, mask: [], balance: [1, 1, 1], exposure: 5 }] } as Mix;
  const { prepared } = readyMix(newTools(64_000_000), plain, findings, new Map([[facts.id, proxy]]));
  const size = { width: facts.width, height: facts.height };
  const { data } = await withRendering(prepared, () => ({ deep: facts.deep === true, open: () => decodeFrame(file, facts.deep) }), { size, kind: 'linear', folder: tmpdir() }, linearPicture);
  await closeRenderPool();
  return Array.from({ length: size.width }, (_, x) => data[(60 * size.width + x) * 3]);
}

test('what a 16-bit file has beyond 8 bits is in the picture: shadows lifted by five stops stay smooth', async () => {
  const [w, h] = [400, 120];
  const light = (x: number): number => 0.002 + (0.01 * x) / w;
  const codes = Uint16Array.from({ length: w * h * 3 }, (_, i) => Math.round(65535 * linearToSrgb(light(Math.floor(i / 3) % w))));
  const tiff = await sharp(codes, { raw: { width: w, height: h, channels: 3 } }).toColourspace('rgb16').tiff({ compression: 'none' }).toBuffer();
  const facts = await readFacts(tiff, 'x', 'x.tif');
  expect(facts.deep).toBe(true);
  const errors = async (deep: boolean): Promise<number> => Math.max(...(await brightened(tiff, { ...facts, deep })).slice(4, -4).map((v, k) => Math.abs(v / (32 * light(k + 4)) - 1)));
  expect(await errors(true)).toBeLessThan(0.01);
  // The same file at 8 bit shows why: its steps are several per cent.
  expect(await errors(false)).toBeGreaterThan(0.03);
});

test('HEIC files are read, whatever they are called', async () => {
  const png = join(folder, 'in.png');
  await sharp({ create: { width: 320, height: 200, channels: 3, background: { r: 180, g: 120, b: 60 } } }).png().toFile(png);
  execFileSync('heif-enc', ['-q', '95', png, '-o', join(folder, 'out.heic')], { stdio: 'ignore' });
  const file = join(folder, 'renamed.jpg');
  writeFileSync(file, readFileSync(join(folder, 'out.heic')));
  expect(await readFacts(file, 'x', 'renamed.jpg')).toMatchObject({ format: 'heic', width: 320, height: 200 });
  const { data } = await decodeFrame(file);
  for (const [c, v] of [180, 120, 60].entries()) expect(Math.abs(data[c + 3 * 32_000] - v)).toBeLessThanOrEqual(4);
});

test('an embedded profile is honoured: the same colour, whatever the numbers', async () => {
  const srgb = await sharp({ create: { width: 80, height: 80, channels: 3, background: { r: 200, g: 90, b: 60 } } }).png().toBuffer();
  const wide = await sharp(srgb).withIccProfile('p3').jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
  const numbers = await sharp(wide, { ignoreIcc: true } as never).raw().toBuffer();
  expect(Math.abs(numbers[0] - 200) + Math.abs(numbers[1] - 90)).toBeGreaterThan(8);
  const { data } = await decodeFrame(wide);
  for (const [c, v] of [200, 90, 60].entries()) expect(Math.abs(data[3000 + c] - v)).toBeLessThanOrEqual(3);
});

describe('two files of one exposure', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await startRig();
  });
  afterAll(() => rig.stop());

  test('the raw file is worked with, and a person can want the other', async () => {
    interface Frame { id: string; name: string; state: string; facts: { twinOf: string | null }; shotId: string }
    interface Shoot { frames: Frame[]; shots: { id: string; state: string }[] }
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Twins' })).body.id;
    const jpeg = await fakeFrame(3, 0, 5);
    const { data, info } = await sharp(jpeg).raw().toBuffer({ resolveWithObject: true });
    const light = (x: number, y: number): number => (data[(y * info.width + x) * 3] / 255) ** 2.2;
    await rig.upload(shoot, 'A1.jpg', jpeg);
    await rig.upload(shoot, 'A1.dng', writeDng({ width: info.width, height: info.height, orientation: 1, seconds: [1, 4], taken: '2026:06:11 10:00:05', light }));
    rig.startWorker();
    const ready = (s: Shoot): boolean => s.frames.length === 2 && s.shots.length === 1 && s.shots[0].state === 'mixed';
    const look = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
    const by = (s: Shoot, name: string): Frame => s.frames.find((f) => f.name === name)!;
    const first = await until(look, ready);
    expect(by(first, 'A1.jpg').facts.twinOf).toBe(by(first, 'A1.dng').id);
    const reference = async (): Promise<string> => (await rig.get<{ mix: { document: { reference: string } } | null }>(`/api/shots/${first.shots[0].id}`)).mix?.document.reference ?? '';
    expect(await reference()).toBe(by(first, 'A1.dng').id);
    expect((await rig.post(`/api/frames/${by(first, 'A1.dng').id}/want`)).status).toBe(409);
    await fetch(`${rig.url}/api/frames/${by(first, 'A1.jpg').id}/want`, { method: 'POST', headers: ASKED });
    await until(reference, (id) => id === by(first, 'A1.jpg').id);
    const turned = await until(look, ready);
    expect(by(turned, 'A1.dng').facts.twinOf).toBe(by(turned, 'A1.jpg').id);
    // Frames that come later do not undo the wish.
    await rig.upload(shoot, 'A2.jpg', await fakeFrame(3, -2, 7));
    const later = await until(look, (s) => s.frames.length === 3 && s.frames.every((f) => f.state === 'gathered' && f.shotId) && s.shots.every((x) => x.state === 'mixed'));
    expect(by(later, 'A1.dng').facts.twinOf).toBe(by(later, 'A1.jpg').id);
  });

  test('what is known of a lens is kept for its camera and used for the next shot; another reference is one step', async () => {
    interface Mix { mix: { document: { reference: string; frames: Record<string, unknown>; lens: { k1: number; red: number } }; canUndo: boolean } }
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Lens' })).body.id;
    const tagged = async (seed: number, stops: number, second: number): Promise<Buffer> => sharp(await fakeFrame(seed, stops, second)).withMetadata().withExifMerge({ IFD0: { Model: 'Rig Two' }, IFD2: { FocalLength: '24/1', LensModel: 'Rig 24 mm' } }).jpeg({ quality: 95 }).toBuffer();
    for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `L${k}.jpg`, await tagged(7, stops, k));
    const look = (): Promise<{ frames: { id: string; name: string }[]; shots: { id: string; state: string }[] }> => rig.get(`/api/shoots/${shoot}`);
    const ready = await until(look, (s) => s.shots.length === 1 && s.shots[0].state === 'mixed');
    const shot = ready.shots[0].id;
    await rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changeMix', changes: { lens: { k1: 0.031, k2: 0, red: 0.0003, blue: 0, falloff: [0.2, 0] } } });
    expect((await rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changeMix', changes: { lens: { k1: 7 } } })).status).toBe(422);
    const kept = await (await fetch(`${rig.url}/api/shots/${shot}/lens`, { method: 'PUT', headers: ASKED })).json() as { lens: object; kept: object };
    expect(kept.lens).toEqual({ camera: 'Rig Two', lens: 'Rig 24 mm', focalLength: 24 });
    const other = ready.frames.find((f) => f.name === 'L1.jpg')!.id;
    const answer = await rig.post<{ document: { reference: string }; canUndo: boolean }>(`/api/shots/${shot}/mix/reference`, { frame: other });
    expect([answer.status, answer.body.document.reference]).toEqual([200, other]);
    await rig.post(`/api/shots/${shot}/mix/undo`);
    expect((await rig.get<Mix>(`/api/shots/${shot}`)).mix.document.reference).not.toBe(other);
    // Another room by the same camera starts from what was kept.
    await rig.upload(shoot, 'M0.jpg', await tagged(8, 0, 40));
    const two = await until(look, (s) => s.shots.length === 2 && s.shots.every((x) => x.state === 'mixed'));
    expect((await rig.get<Mix>(`/api/shots/${two.shots.find((s) => s.id !== shot)!.id}`)).mix.document.lens).toMatchObject({ k1: 0.031, red: 0.0003 });
    // Labels that were used before are offered elsewhere.
    await fetch(`${rig.url}/api/shots/${shot}`, { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ label: 'Net loft' }) });
    const fresh = (await rig.post<{ id: string }>('/api/shoots', { name: 'Next' })).body.id;
    expect(await rig.get(`/api/shoots/${fresh}/labels`)).toEqual(['Net loft']);
    expect(await rig.get(`/api/shoots/${shoot}/labels`)).toEqual([]);
  });
});

test.each([['8 bit', 'uchar', 255], ['16 bit', 'ushort', 65535]] as const)('a frame of %s has one proxy, whether it is gathered or lies decoded in memory', async (_, depth, most) => {
  const [w, h] = [1900, 1250];
  const codes = new (depth === 'uchar' ? Uint8Array : Uint16Array)(w * h * 3).map((_v, i) => Math.round((most * ((i * 7919) % 1009)) / 1009));
  const tiff = await sharp(codes, { raw: { width: w, height: h, channels: 3 } }).toColourspace(depth === 'uchar' ? 'srgb' : 'rgb16').tiff({ compression: 'none' }).toBuffer();
  const { facts, proxy } = await gatherFile(tiff, 'x', 'x.tif');
  const shelf = new FrameShelf(shelfBytes(w, h, facts.deep === true), 1 << 20);
  shelf.place('x', await decodeFrame(tiff, facts.deep));
  expect([proxy.width, proxy.height]).toEqual([1500, 987]);
  expect(Buffer.from(shelf.proxy('x').data as Uint8Array).equals(Buffer.from(proxy.data as Uint8Array))).toBe(true);
});
