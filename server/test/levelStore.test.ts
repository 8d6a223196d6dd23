import { mkdtemp, mkdir, rm, stat, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Pixels } from '@zaddle/core/image/plane';
import { FileStore } from '../src/data/fileStore';
import { levelSize, LEVELS } from '../src/levels/levelSize';
import { LevelStore } from '../src/levels/levelStore';

const FRAME = { id: 'a-frame', sha256: 'ab'.repeat(32), width: 301, height: 203, deep: false };
let folder: string;
let store: FileStore;
let levels: LevelStore;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'zaddle-levels-'));
  store = new FileStore(folder);
  await mkdir(dirname(store.original(FRAME.sha256)), { recursive: true });
  const data = Uint8Array.from({ length: FRAME.width * FRAME.height * 3 }, (_, k) => (k * 7919) % 251);
  await sharp(data, { raw: { width: FRAME.width, height: FRAME.height, channels: 3 } }).png().toFile(store.original(FRAME.sha256));
  levels = new LevelStore(store);
});
afterAll(async () => {
  await levels.close();
  await rm(folder, { recursive: true });
});

const whole = (level: (typeof LEVELS)[number]) => levels.read(FRAME, level, { x: 0, y: 0, ...sizeOf(level) });
const sizeOf = (level: (typeof LEVELS)[number]) => {
  const { width, height } = levelSize(FRAME.width, FRAME.height, level);
  return { w: width, h: height };
};

test('the first part comes straight from the file, as it is from disk later, also of a frame that was turned', async () => {
  const turned = { id: 'turned', sha256: 'cd'.repeat(32), width: 203, height: 301, deep: false };
  await mkdir(dirname(store.original(turned.sha256)), { recursive: true });
  const data = Uint8Array.from({ length: 301 * 203 * 3 }, (_, k) => (k * 104729) % 253);
  await sharp(data, { raw: { width: 301, height: 203, channels: 3 } }).withMetadata({ orientation: 6 }).jpeg({ quality: 90 }).toFile(store.original(turned.sha256));
  const part = { x: 31, y: 170, w: 90, h: 77 };
  const direct = await levels.read(turned, 0, part);
  expect([direct.width, direct.height]).toEqual([90, 77]);
  // It is opened by itself a moment later.
  await expect.poll(() => stat(store.derived('level', `${turned.id}-3`)).then(() => true, () => false), { timeout: 20_000 }).toBe(true);
  expect(Uint8Array.from((await levels.read(turned, 0, part)).data)).toEqual(Uint8Array.from(direct.data));
});

test('a part is the same from memory and from disk, at every level; a level that was cut off is made again', async () => {
  const fromMemory: Pixels[] = [];
  // The second level is asked for first: so the frame is opened, and the first one comes from memory.
  for (const level of [1, 0, 2, 3] as const) fromMemory[level] = await whole(level);
  // The last level is written last; another store knows only what lies on disk.
  await expect.poll(() => stat(store.derived('level', `${FRAME.id}-3`)).then(() => true, () => false), { timeout: 20_000 }).toBe(true);
  await levels.close();
  levels = new LevelStore(store);
  for (const level of LEVELS) expect((await whole(level)).data).toEqual(fromMemory[level].data);
  const part = await levels.read(FRAME, 1, { x: 20, y: 11, w: 33, h: 40 });
  const row = (y: number) => fromMemory[1].data.slice(((11 + y) * fromMemory[1].width + 20) * 3, ((11 + y) * fromMemory[1].width + 53) * 3);
  for (const y of [0, 39]) expect(part.data.slice(y * 99, y * 99 + 99)).toEqual(row(y));
  await truncate(store.derived('level', `${FRAME.id}-1`), 1000);
  expect((await whole(1)).data).toEqual(fromMemory[1].data);
});

test('a deep frame is given as deep as it is, straight from the file and from disk; its lower levels have 8 bits', async () => {
  const deep = { id: 'deep', sha256: 'ef'.repeat(32), width: 220, height: 140, deep: true };
  await mkdir(dirname(store.original(deep.sha256)), { recursive: true });
  const data = Uint16Array.from({ length: deep.width * deep.height * 3 }, (_, k) => (k * 40503) % 65521);
  await sharp(data, { raw: { width: deep.width, height: deep.height, channels: 3 } }).toColourspace('rgb16').tiff({ compression: 'none' }).toFile(store.original(deep.sha256));
  const part = { x: 17, y: 30, w: 50, h: 41 };
  const wanted = Uint16Array.from({ length: 50 * 41 * 3 }, (_, i) => data[((30 + Math.floor(i / 150)) * deep.width + 17) * 3 + (i % 150)]);
  expect((await levels.read(deep, 0, part)).data).toEqual(wanted);
  await expect.poll(() => stat(store.derived('level', `${deep.id}-3`)).then(() => true, () => false), { timeout: 20_000 }).toBe(true);
  // What an earlier version kept at 8 bits is not taken for 16.
  for (const size of [null, deep.width * deep.height * 3]) {
    if (size) await truncate(store.derived('level', `${deep.id}-0`), size);
    expect((await levels.read(deep, 0, part)).data).toEqual(wanted);
  }
  const half = await levels.read(deep, 1, { x: 0, y: 0, w: 110, h: 70 });
  expect(half.data).toBeInstanceOf(Uint8Array);
  expect(half.data[0] * 257).toBeCloseTo((data[0] + data[3] + data[deep.width * 3] + data[deep.width * 3 + 3]) / 4, -3);
});
