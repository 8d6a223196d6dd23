import fc from 'fast-check';
import { readExr, readHdr } from 'hdrify';
import parseExr from 'parse-exr';
import parseHdr from 'parse-hdr';
import { describe, expect, test } from 'vitest';
import { encodeOpenExr, halfBits } from '../src/picture/encodeOpenExr';
import { encodeRadiance } from '../src/picture/encodeRadiance';

/** Files of light, read back by two libraries each that know nothing of those that wrote them. */

interface Light { readonly width: number; readonly height: number; readonly data: Float32Array }
const META = { description: 'Joined from 3 frames – Räume', words: { title: '', creator: 'Ada Brook', copyright: '' } };
/** Light over many stops, with even stretches that pack into runs, and with none. */
const light: fc.Arbitrary<Light> = fc.record({ width: fc.integer({ min: 8, max: 300 }), height: fc.integer({ min: 1, max: 40 }), seed: fc.integer({ min: 1, max: 1e9 }), even: fc.double({ min: 0, max: 1, noNaN: true }) }).map(({ width, height, seed, even }) => {
  let state = seed;
  const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
  let last = [0.2, 0.3, 0.4];
  const data = new Float32Array(3 * width * height);
  for (let i = 0; i < width * height; i++) {
    if (next() > even) last = [0, 1, 2].map(() => next() * 2 ** Math.round(14 * next() - 9));
    data.set(last, 3 * i);
  }
  return { width, height, data };
});
/** Largest distance from what was written, as a share of the pixel's strongest colour. */
function off({ data }: Light, read: ArrayLike<number>, step: number, row: (pixel: number) => number = (pixel) => pixel): number {
  let most = 0;
  for (let i = 0; i < data.length / 3; i++) {
    const top = Math.max(data[3 * i], data[3 * i + 1], data[3 * i + 2], 1e-6);
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(read[step * row(i) + c] - data[3 * i + c]) / top);
  }
  return most;
}

describe('Radiance pictures', () => {
  test('are read back to 1 in 128 of the strongest colour, however wide, by both', () => {
    fc.assert(fc.property(light, (picture) => {
      const file = new Uint8Array(encodeRadiance(picture, META));
      const one = readHdr(file);
      expect([one.width, one.height]).toEqual([picture.width, picture.height]);
      expect(off(picture, one.data, 4)).toBeLessThan(1 / 120);
      const other = parseHdr(file);
      expect([...other.shape]).toEqual([picture.width, picture.height]);
      expect(off(picture, other.data, 4)).toBeLessThan(1 / 120);
    }), { numRuns: 120 });
  });
  test('pack what is even, and keep nothing below nothing', () => {
    const even = { width: 400, height: 50, data: new Float32Array(60_000).fill(0.18) };
    expect(encodeRadiance(even, META).length).toBeLessThan(4000);
    const below = { width: 8, height: 1, data: Float32Array.from({ length: 24 }, (_, i) => (i % 3 === 0 ? -0.2 : i % 3 === 1 ? 0.5 : 0)) };
    const { data } = readHdr(new Uint8Array(encodeRadiance(below, META)));
    for (let i = 0; i < 8; i++) expect(Math.max(data[4 * i], data[4 * i + 2])).toBeLessThan(1 / 256);
    expect(readHdr(new Uint8Array(encodeRadiance({ ...below, data: new Float32Array(24) }, META))).data.slice(0, 3)).toEqual(Float32Array.from([0, 0, 0]));
  });
});

describe('OpenEXR pictures', () => {
  test('are read back to half precision by both', () => {
    fc.assert(fc.property(light, (picture) => {
      const file = new Uint8Array(encodeOpenExr(picture, META));
      const one = readExr(file);
      expect([one.width, one.height]).toEqual([picture.width, picture.height]);
      expect(off(picture, one.data, 4)).toBeLessThan(1 / 2000);
      const other = parseExr(file.slice().buffer, 1015);
      expect([other.width, other.height]).toEqual([picture.width, picture.height]);
      // This one has its rows from below.
      const { width, height } = picture;
      expect(off(picture, other.data, 4, (i) => (height - 1 - Math.floor(i / width)) * width + (i % width))).toBeLessThan(1 / 2000);
    }), { numRuns: 80 });
  });
  test('say what light they hold, and who made it', () => {
    const head = encodeOpenExr({ width: 2, height: 1, data: new Float32Array(6) }, META).toString('latin1');
    expect(head).toContain('chromaticities');
    expect(head).toContain('Joined from 3 frames');
    expect(head).toContain('Ada Brook');
  });
  test('numbers of half precision are the nearest there are', () => {
    for (const [value, bits] of [[0, 0], [1, 0x3c00], [-2, 0xc000], [65504, 0x7bff], [1e9, 0x7bff], [Infinity, 0x7bff], [NaN, 0], [2 ** -14, 0x0400], [2 ** -24, 1], [0.1, 0x2e66], [1 / 3, 0x3555], [1 + 2 ** -11, 0x3c00], [1 + 3 * 2 ** -11, 0x3c02]]) expect(halfBits(value)).toBe(bits);
  });
});
