import sharp from 'sharp';
import { afterAll, describe, expect, test } from 'vitest';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import { asShot } from '@zaddle/core/mix/frameMix';
import type { Mix } from '@zaddle/document';
import { jpegOfOrder, inOrder, ORDERS } from '../src/picture/orders';
import { closeRenderPool } from '../src/picture/renderPool';

afterAll(closeRenderPool);
const SHARP = { sharpening: { amount: 1, radius: 1, edges: 0.01, halo: 0.02 } };
const META = { description: 'x', changed: [], taken: null };

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
    const { file, width, height } = await jpegOfOrder(noise(2660, 1995), SHARP, ORDERS.listing, 95, META);
    expect([width, height]).toEqual([2048, 1536]);
    expect(file.length).toBeLessThanOrEqual(2_000_000);
    expect(await sharp(file).metadata()).toMatchObject({ format: 'jpeg', width: 2048, height: 1536 });
  });
  test('tall pictures stay tall, small ones are not enlarged', async () => {
    expect(await jpegOfOrder(noise(1995, 2660), SHARP, ORDERS.listing, 95, META)).toMatchObject({ width: 1536, height: 2048 });
    expect(await jpegOfOrder(noise(800, 600), SHARP, ORDERS.listing, 95, META)).toMatchObject({ width: 800, height: 600 });
  });
  test('what nobody wants sharpened is not sharpened for its size either', async () => {
    const picture = noise(2660, 1995);
    const [soft, sharpened] = await Promise.all([{ sharpening: null }, SHARP].map(async (mix) => (await jpegOfOrder(picture, mix, ORDERS.web, 95, META)).file));
    const plain = await sharp(picture.data, { raw: { width: 2660, height: 1995, channels: 3 } }).resize(2048, 1536, { fit: 'fill', kernel: 'lanczos3' }).raw().toBuffer();
    const off = async (file: Buffer): Promise<number> => (await sharp(file).raw().toBuffer()).reduce((sum, v, i) => sum + Math.abs(v - plain[i]), 0) / plain.length;
    // 2048 of 2660 is not much smaller: neither is sharpened anew.
    expect(await off(soft)).toBeCloseTo(await off(sharpened), 6);
    const small = { ...ORDERS.web, longerSide: 900 };
    const [a, b] = await Promise.all([{ sharpening: null }, SHARP].map(async (mix) => (await jpegOfOrder(picture, mix, small, 95, META)).file));
    expect(a.equals(b)).toBe(false);
  });
  test('a print says how many pixels an inch it has', async () => {
    expect((await sharp((await jpegOfOrder(noise(300, 200), SHARP, ORDERS.print, 95, META)).file).metadata()).density).toBe(300);
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
