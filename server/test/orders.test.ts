import exifr from 'exifr';
import { fromArrayBuffer } from 'geotiff';
import sharp from 'sharp';
import { afterAll, describe, expect, test } from 'vitest';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import type { Pixels } from '@zaddle/core/image/plane';
import { asShot } from '@zaddle/core/mix/frameMix';
import { inOrder } from '@zaddle/core/mix/orderMix';
import type { Mix, Order } from '@zaddle/document';
import { encodeDeepPng } from '../src/picture/encodePicture';
import { imageOfOrder, ORDERS, type MadeFile } from '../src/picture/orders';
import { closeRenderPool } from '../src/picture/renderPool';

afterAll(closeRenderPool);
const SHARP = { sharpening: { amount: 1, radius: 1, edges: 0.01, halo: 0.02 } };
const META = { description: 'x', changed: [], taken: null };

type Sharpened = Pick<Mix, 'sharpening'>;
/** Numbers of wider profiles, and the same colour in sRGB. */
const WIDE = [['p3', [195, 97, 55], [210, 90, 40]], ['oprgb', [184, 90, 47], [210, 90, 40]], ['oprgb', [128, 128, 128], [129, 129, 129]]] as const;
const made = (picture: Pixels, mix: Sharpened, order: Order): Promise<MadeFile & { readonly file: Buffer }> => imageOfOrder(picture, mix, order as Parameters<typeof imageOfOrder>[2], 95, META);

/** Noise: what compresses worst. */
function noise(width: number, height: number): { width: number; height: number; data: Uint8Array } {
  let seed = 5;
  return { width, height, data: Uint8Array.from({ length: width * height * 3 }, () => (seed = (seed * 48271) % 2147483647) & 255) };
}
const mixOf = (width: number, height: number): Mix => ({
  reference: 'a', lens: NO_LENS, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: IDENTITY, width, height, merge: ['a'], passes: [],
  frames: { a: { width, height, homography: IDENTITY, mesh: null, stops: 0, balance: [1, 1, 1] } },
});

describe('orders', () => {
  test('a listing picture has its ratio, its size to the pixel, and stays below its limit of bytes', async () => {
    const { file, width, height } = await made(noise(2660, 1995), SHARP, ORDERS.listing);
    expect([width, height]).toEqual([2048, 1536]);
    expect(file.length).toBeLessThanOrEqual(2_000_000);
    expect(await sharp(file).metadata()).toMatchObject({ format: 'jpeg', width: 2048, height: 1536 });
  });
  test('tall pictures stay tall, small ones are not enlarged', async () => {
    expect(await made(noise(1995, 2660), SHARP, ORDERS.listing)).toMatchObject({ width: 1536, height: 2048 });
    expect(await made(noise(800, 600), SHARP, ORDERS.listing)).toMatchObject({ width: 800, height: 600 });
  });
  test('what nobody wants sharpened is not sharpened for its size either', async () => {
    const picture = noise(2660, 1995);
    const [soft, sharpened] = await Promise.all([{ sharpening: null }, SHARP].map(async (mix) => (await made(picture, mix, ORDERS.web)).file));
    const plain = await sharp(picture.data, { raw: { width: 2660, height: 1995, channels: 3 } }).resize(2048, 1536, { fit: 'fill', kernel: 'lanczos3' }).raw().toBuffer();
    const off = async (file: Buffer): Promise<number> => (await sharp(file).raw().toBuffer()).reduce((sum, v, i) => sum + Math.abs(v - plain[i]), 0) / plain.length;
    // 2048 of 2660 is not much smaller: neither is sharpened anew.
    expect(await off(soft)).toBeCloseTo(await off(sharpened), 6);
    const small = { ...ORDERS.web, longerSide: 900 };
    const [a, b] = await Promise.all([{ sharpening: null }, SHARP].map(async (mix) => (await made(picture, mix, small)).file));
    expect(a.equals(b)).toBe(false);
  });
  test('sizes by millions of pixels, with or without a longer side: whichever is smaller', async () => {
    const order = { ...ORDERS.full, megapixels: 1 };
    const { width, height } = await made(noise(2400, 1600), SHARP, order);
    expect(width * height).toBeLessThanOrEqual(1e6);
    expect(width * height).toBeGreaterThan(0.995e6);
    expect(await made(noise(2400, 1600), SHARP, { ...order, longerSide: 600 })).toMatchObject({ width: 600, height: 400 });
    expect(await made(noise(900, 600), SHARP, order)).toMatchObject({ width: 900, height: 600 });
  });
  test('files of every kind hold the same picture, say whose it is, and carry a profile', async () => {
    const [width, height] = [96, 64];
    const picture = { width, height, data: Uint8Array.from({ length: width * height * 3 }, (_, i) => [60 + Math.floor(i / 3) % 96, 120, 200 - Math.floor(i / 288)][i % 3]) };
    const words = { title: 'Attic, 1', creator: 'A. Nonym', copyright: '© Mill & Sons' };
    for (const [kind, format, most] of [['png', 'png', 0], ['webp', 'webp', 6], ['avif', 'heif', 6], ['jpeg', 'jpeg', 4]] as const) {
      const { file } = await made(picture, { sharpening: null }, { ...ORDERS.full, file: kind, quality: 95, words });
      const read = sharp(file);
      const { format: told, icc, exif, xmp } = await read.metadata();
      expect(told).toBe(format);
      expect(icc).toBeDefined();
      expect(exif!.toString('latin1')).toContain('A. Nonym');
      expect(xmp!.toString()).toContain('<dc:title><rdf:Alt><rdf:li xml:lang="x-default">Attic, 1<');
      expect(xmp!.toString()).toContain('© Mill &amp; Sons');
      const back = await read.removeAlpha().raw().toBuffer();
      expect(Math.max(...back.map((v, i) => Math.abs(v - picture.data[i])))).toBeLessThanOrEqual(most);
    }
  });
  test.each(WIDE)('numbers of %s stay what they are in every kind of file, and whoever reads its profile sees the colour that they stand for', async (profile, numbers, seen) => {
    const picture = { width: 32, height: 32, data: Uint8Array.from({ length: 32 * 32 * 3 }, (_, i) => numbers[i % 3]) };
    for (const [file, most] of [['png', 0], ['tiff8', 0], ['jpeg', 1], ['webp', 4], ['avif', 3]] as const) {
      const delivered = (await made(picture, { sharpening: null }, { ...ORDERS.full, file, profile, ppi: 240 })).file;
      // Two of these say their density in EXIF or nowhere.
      if (file === 'jpeg' || file === 'png' || file === 'tiff8') expect((await sharp(delivered).metadata()).density).toBe(240);
      const read = async (options: object): Promise<number[]> => [...(await sharp(delivered, options).toColourspace('srgb').removeAlpha().raw().toBuffer()).subarray(0, 3)];
      expect(Math.max(...(await read({ ignoreIcc: true })).map((v, c) => Math.abs(v - numbers[c])))).toBeLessThanOrEqual(most);
      expect(Math.max(...(await read({})).map((v, c) => Math.abs(v - seen[c])))).toBeLessThanOrEqual(most + 2);
    }
    const data = Uint16Array.from(picture.data, (v) => v * 257);
    const png = await encodeDeepPng({ width: 32, height: 32, data }, META, profile);
    expect(new Uint16Array((await sharp(png, { ignoreIcc: true } as never).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer()).slice().buffer)).toEqual(data);
    expect((await sharp(png).metadata()).icc).toEqual((await sharp((await made(picture, { sharpening: null }, { ...ORDERS.full, file: 'tiff8', profile })).file).metadata()).icc);
  });
  test('a TIFF of 8 bit holds the picture to the byte, in either profile, and says whose it is by its tags', async () => {
    const picture = { width: 40, height: 30, data: Uint8Array.from({ length: 3600 }, (_, i) => (i * 7) % 256) };
    const words = { title: 'Attic', creator: 'A. Nonym', copyright: '' };
    const [plain, wide] = await Promise.all((['srgb', 'p3'] as const).map(async (profile) => (await made(picture, { sharpening: null }, { ...ORDERS.full, file: 'tiff8', ppi: 240, profile, words })).file));
    expect(await sharp(plain).metadata()).toMatchObject({ format: 'tiff', depth: 'uchar', hasProfile: true, density: 240 });
    expect(new Uint8Array(await sharp(plain, { ignoreIcc: true } as never).raw().toBuffer())).toEqual(picture.data);
    const image = await (await fromArrayBuffer(new Uint8Array(plain).buffer)).getImage();
    expect(new Uint8Array(((await image.readRasters({ interleave: true })) as unknown as Uint8Array).slice())).toEqual(picture.data);
    expect(await exifr.parse(plain, { tiff: true })).toMatchObject({ Artist: 'A. Nonym', Software: 'Zaddle' });
    expect(new Uint8Array(await sharp(wide, { ignoreIcc: true } as never).raw().toBuffer())).toEqual(picture.data);
  });
  test('a PNG of 16 bit has all of them, with profile and EXIF', async () => {
    const data = Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => (i * 7) % 65536);
    const file = await encodeDeepPng({ width: 64, height: 48, data }, { description: 'Joined from 3 frames', changed: [], taken: null, ppi: 300, words: { title: '', creator: 'A. Nonym', copyright: '' } });
    const told = await sharp(file).metadata();
    expect(told).toMatchObject({ format: 'png', depth: 'ushort', hasProfile: true, density: 300 });
    expect(told.exif!.toString('latin1')).toContain('A. Nonym');
    const back = new Uint16Array((await sharp(file, { ignoreIcc: true } as never).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer()).slice().buffer);
    // A profile that is its own is brought to it in fixed point.
    expect(Math.max(...back.map((v, i) => Math.abs(v - data[i])))).toBeLessThanOrEqual(2);
    // PNG, 11.2.1: width, height, bits of a sample, RGB.
    expect([file.readUInt32BE(16), file.readUInt32BE(20), file[24], file[25]]).toEqual([64, 48, 16, 2]);
  });
  test('a print says how many pixels an inch it has', async () => {
    expect((await sharp((await made(noise(300, 200), SHARP, ORDERS.print)).file).metadata()).density).toBe(300);
  });
  test('a mix is cropped to the ratio of an order: as large as fits, within what a person has cropped', () => {
    const whole = mixOf(3000, 2000);
    expect(inOrder(whole, ORDERS.full)).toBe(whole);
    const listing = inOrder(whole, ORDERS.listing);
    expect(listing.height).toBe(2000);
    expect(listing.width / listing.height).toBeCloseTo(4 / 3, 3);
    expect(inOrder(mixOf(2000, 3000), ORDERS.listing)).toMatchObject({ width: 2000 });
    const cropped = { ...whole, framing: { ...asShot(), crop: { at: [0.4, 0.3] as const, width: 0.4, height: 0.2 } } };
    const print = inOrder({ ...cropped, width: 1200, height: 600 }, ORDERS.print);
    // Whole pixels that lie within it.
    expect(Math.abs(print.width - 900)).toBeLessThanOrEqual(1);
    expect(Math.abs(print.height - 600)).toBeLessThanOrEqual(1);
    expect(Math.abs(print.geometry[2] - 750)).toBeLessThanOrEqual(1);
  });
});
