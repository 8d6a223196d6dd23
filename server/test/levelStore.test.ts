import { mkdtemp, mkdir, rm, stat, truncate } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Pixels } from '@zaddle/core/image/plane';
import { FileStore } from '../src/data/fileStore';
import { levelSize, LEVELS } from '../src/levels/levelSize';
import { LevelStore } from '../src/levels/levelStore';

const FRAME = { id: 'a-frame', sha256: 'ab'.repeat(32), width: 301, height: 203 };
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

test('a part is the same from memory and from disk, at every level; a level that was cut off is made again', async () => {
  const fromMemory: Pixels[] = [];
  for (const level of LEVELS) fromMemory.push(await whole(level));
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
