import { randomBytes } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { decodeFrame, readFacts } from '../src/picture/decodeFrame';
import { RejectedFile } from '../src/picture/limits';
import { readCard, type Card } from '../src/picture/readCard';
import { fakeFrame } from './harness';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-hostile-'));
const outside = mkdtempSync(join(tmpdir(), 'zaddle-outside-'));
let good: Buffer;
let card: Card;
const long = `${'ä'.repeat(125)}.jpg`;

beforeAll(async () => {
  good = await fakeFrame(1, 0, 1);
  const other = await fakeFrame(2, 0, 30);
  mkdirSync(join(folder, 'DCIM', '100 Küche 🛶'), { recursive: true });
  writeFileSync(join(folder, 'DCIM', '100 Küche 🛶', 'a b.jpg'), good);
  writeFileSync(join(folder, long), other);
  writeFileSync(join(folder, '.hidden.jpg'), good);
  writeFileSync(join(folder, 'empty.jpg'), '');
  writeFileSync(join(folder, 'noise.tif'), randomBytes(4000));
  writeFileSync(join(folder, 'cut.jpg'), good.subarray(0, 9000));
  // A block of another file in the middle, as a failing card writes it: its markers have no business there. (Blocks without
  // markers cannot always be told from picture data: the code of a JPEG falls back into step by itself.)
  writeFileSync(join(folder, 'middle.jpg'), Buffer.concat([good.subarray(0, 20_000), other.subarray(0, 300), good.subarray(20_300)]));
  writeFileSync(join(folder, 'tiny.png'), await sharp({ create: { width: 8, height: 8, channels: 3, background: '#888' } }).png().toBuffer());
  writeFileSync(join(folder, 'drawing.svg'), '<svg xmlns="http://www.w3.org/2000/svg" width="900" height="600"><rect width="900" height="600"/></svg>');
  writeFileSync(join(outside, 'secret.jpg'), good);
  symlinkSync(join(outside, 'secret.jpg'), join(folder, 'link.jpg'));
  symlinkSync(outside, join(folder, 'linked'));
  symlinkSync(folder, join(folder, 'DCIM', 'loop'));
  mkdirSync(join(folder, ...'abcdefghijkl'), { recursive: true });
  writeFileSync(join(folder, ...'abcdefghijkl', 'too-deep.jpg'), good);
  chmodSync(folder, 0o555);
  card = await readCard(folder);
});
afterAll(async () => {
  await card.close();
  chmodSync(folder, 0o755);
  for (const path of [folder, outside]) rmSync(path, { recursive: true, force: true });
});

describe('a hostile card', () => {
  test('frames are read whatever they are called and however deep they lie; links and what is hidden are not followed', () => {
    expect(card.facts.map((f) => f.id).sort()).toEqual([join('DCIM', '100 Küche 🛶', 'a b.jpg'), long].sort());
    expect(card.shots).toHaveLength(2);
  });
  test('every other file is listed with its reason', () => {
    const why = Object.fromEntries(card.rejected.map((r) => [r.file, r.why]));
    expect(Object.keys(why).sort()).toEqual(['cut.jpg', 'drawing.svg', 'empty.jpg', 'middle.jpg', 'noise.tif', 'tiny.png']);
    expect(why['cut.jpg']).toMatch(/damaged or cut off/);
    expect(why['middle.jpg']).toMatch(/damaged/);
    expect(why['empty.jpg']).toMatch(/not a picture/);
    expect(why['drawing.svg']).toMatch(/svg/);
    expect(why['tiny.png']).toMatch(/8 × 8/);
  });
  test('originals are never written, nor is anything beside them', () => {
    expect(readFileSync(join(folder, 'DCIM', '100 Küche 🛶', 'a b.jpg')).equals(good)).toBe(true);
    expect(existsSync(join(folder, 'link.jpg'))).toBe(true);
  });
});

describe('any bytes', () => {
  test('are a frame or are rejected in words, and nothing else happens', async () => {
    await fc.assert(fc.asyncProperty(fc.integer({ min: 0, max: 40_000 }), fc.uint8Array({ minLength: 0, maxLength: 60 }), async (at, bytes) => {
      const damaged = Buffer.from(good);
      damaged.set(bytes.subarray(0, Math.max(0, damaged.length - at)), Math.min(at, damaged.length));
      try {
        const facts = await readFacts(damaged, 'x', 'x.jpg');
        expect(facts.width * facts.height).toBeGreaterThan(0);
        const pixels = await decodeFrame(damaged);
        expect(pixels.data.length).toBe(pixels.width * pixels.height * 3);
      } catch (error) {
        expect(error).toBeInstanceOf(RejectedFile);
        expect((error as Error).message.length).toBeGreaterThan(8);
      }
    }), { numRuns: 60 });
  });
  test('16-bit files and pictures with transparency come as 8-bit RGB', async () => {
    const deep = await sharp(good).toColourspace('rgb16').tiff({ compression: 'none' }).toBuffer();
    const clear = await sharp({ create: { width: 90, height: 70, channels: 4, background: { r: 200, g: 100, b: 50, alpha: 0.5 } } }).png().toBuffer();
    for (const file of [deep, clear]) {
      const pixels = await decodeFrame(file);
      expect(pixels.data.length).toBe(pixels.width * pixels.height * 3);
    }
  });
});
