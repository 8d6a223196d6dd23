import { mkdtempSync, readFileSync, rmSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import exifr from 'exifr';
import { strFromU8, unzipSync } from 'fflate';
import { fromArrayBuffer } from 'geotiff';
import { readExr, readHdr } from 'hdrify';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { displayLight } from '@zaddle/core/finish/toneCurve';
import { processCard } from '../src/commands/process';
import { encodeTiff } from '../src/picture/encodeTiff';
import { layerPixels } from '../src/picture/layerPixels';
import { fakeFrame } from './harness';

/** Formats for going on elsewhere: what one library writes, others read back. */

const work = mkdtempSync(join(tmpdir(), 'zaddle-formats-'));
let outputs: Record<string, { file: string; width: number; height: number }>;
/** A file of an order. */
function own(name: string, file: string): string {
  const path = join(work, `${name}.json`);
  writeFileSync(path, JSON.stringify({ format: 'zaddle-order', version: 1, name, file }));
  return path;
}
beforeAll(async () => {
  const card = join(work, 'card');
  mkdirSync(card);
  for (const [k, stops] of [0, -2, 2].entries()) writeFileSync(join(card, `A${k}.JPG`), await fakeFrame(11, stops, k));
  const report = await processCard(card, { out: work, lens: true, straighten: true, clean: true, method: 'natural', strength: 70, order: ['full', 'master', own('exr', 'openexr'), own('hdr', 'radiance')], linear: true, layers: true });
  outputs = Object.fromEntries(((report.shots as { outputs: { order: string; file: string; width: number; height: number }[] }[])[0].outputs).map((each) => [each.order, each]));
});
afterAll(() => rmSync(work, { recursive: true, force: true }));
const read = (order: string): Buffer => readFileSync(join(work, outputs[order].file));

async function tiffOf(file: Buffer) {
  const image = await (await fromArrayBuffer(new Uint8Array(file).buffer)).getImage();
  return { image, data: ((await image.readRasters({ interleave: true })) as unknown as Uint16Array | Float32Array).slice() };
}
const bytes = ({ buffer }: Uint16Array | Float32Array): Buffer => Buffer.from(buffer);
const deep = async (file: Buffer | Uint8Array): Promise<Uint16Array> => new Uint16Array((await sharp(file, { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer()).slice().buffer);

test('every order that was asked for is there, under a name of its own', () => {
  expect(Object.values(outputs).map(({ file }) => file)).toEqual(['shot-01-full.jpg', 'shot-01-master.tif', 'shot-01-exr.exr', 'shot-01-hdr.hdr', 'shot-01-linear.tif', 'shot-01-layers.ora']);
});

describe('TIFF', () => {
  test('of 16 bits is the finished picture, finer than its JPEG, with profile, description and what was changed', async () => {
    const file = read('master');
    const { image, data } = await tiffOf(file);
    expect([image.getWidth(), image.getHeight(), image.getBitsPerSample()]).toEqual([outputs.full.width, outputs.full.height, 16]);
    expect(bytes(await deep(file)).equals(bytes(data))).toBe(true);
    expect(await sharp(file).metadata()).toMatchObject({ depth: 'ushort', hasProfile: true, density: 300 });
    const facts = await exifr.parse(file, { xmp: true, tiff: true });
    expect(facts.ImageDescription).toMatch(/Joined from \d+ frames/);
    expect(facts.DigitalSourceType).toMatch(/computationalCapture$/);
    const jpeg = await sharp(read('full')).raw().toBuffer();
    const off = jpeg.reduce((sum, v, i) => sum + Math.abs(v - data[i] / 257), 0) / jpeg.length;
    expect(off).toBeLessThan(1.5);
    expect(new Set(data).size).toBeGreaterThan(400);
  });
  test('of floats is light before the display curve: displayed, it is the picture', async () => {
    const { image, data } = await tiffOf(read('linear'));
    expect([image.getBitsPerSample(), image.getSampleFormat()]).toEqual([32, 3]);
    const merged = await deep(unzipSync(read('layers'))['mergedimage.png']);
    let worst = 0;
    for (let i = 0; i < data.length; i += 3 * 41) {
      const shown = displayLight([data[i], data[i + 1], data[i + 2]]);
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(65535 * linearToSrgb(shown[c]) - merged[i + c]));
    }
    expect(worst).toBeLessThan(20);
  });
  test('keeps samples to the bit, also those beyond 0 and 1, whatever is said of them', async () => {
    const data = Float32Array.from({ length: 31 * 17 * 3 }, (_, i) => (i - 300) / 97);
    const { data: back } = await tiffOf(await encodeTiff({ width: 31, height: 17, data }, { description: 'Küche „neu“', changed: Array.from({ length: 400 }, (_, k) => `Place ${k} & “more”: filled from the picture itself`), taken: '2026:03:04 10:00:00' }));
    expect(bytes(back).equals(bytes(data))).toBe(true);
  });
});

describe('OpenRaster', () => {
  const composed = async (files: Record<string, Uint8Array>): Promise<Float64Array> => {
    const xml = strFromU8(files['stack.xml']);
    const [w, h] = [outputs.layers.width, outputs.layers.height];
    const out = new Float64Array(w * h * 3);
    const layers = [...xml.matchAll(/<layer name="[^"]*" src="([^"]+)" x="(\d+)" y="(\d+)" opacity="([\d.]+)"/g)].reverse();
    for (const [, src, x, y, opacity] of layers) {
      const { width, height } = await sharp(files[src]).metadata();
      const pixels = await deep(files[src]);
      for (let i = 0; i < width * height; i++) {
        const at = 3 * ((Math.floor(i / width) + Number(y)) * w + (i % width) + Number(x));
        const cover = (pixels[4 * i + 3] / 65535) * Number(opacity);
        for (let c = 0; c < 3; c++) out[at + c] += cover * (pixels[4 * i + c] - out[at + c]);
      }
    }
    return out;
  };
  test('has its type first and plain, a layer for each pass by its name, and makes the picture when it is composed', async () => {
    const file = read('layers');
    expect(file.subarray(30, 38).toString()).toBe('mimetype');
    expect(file.subarray(38, 54).toString()).toBe('image/openraster');
    const files = unzipSync(file);
    expect(Object.keys(files)).toEqual(expect.arrayContaining(['mimetype', 'stack.xml', 'mergedimage.png', 'Thumbnails/thumbnail.png', 'data/layer000.png']));
    const names = [...strFromU8(files['stack.xml']).matchAll(/<layer name="([^"]*)"/g)].map(([, name]) => name);
    expect(names.length).toBeGreaterThan(1);
    expect(names).toContain('Tone');
    const merged = await deep(files['mergedimage.png']);
    const made = await composed(files);
    let worst = 0;
    made.forEach((v, i) => { worst = Math.max(worst, Math.abs(v - merged[i])); });
    expect(worst).toBeLessThan(8);
    expect(Math.max((await sharp(files['Thumbnails/thumbnail.png']).metadata()).width)).toBeLessThanOrEqual(256);
  });
  test('layers make any picture of any other, whatever the mask says, and keep opacity apart where that can be', () => {
    const values = fc.array(fc.integer({ min: 0, max: 65535 }), { minLength: 36, maxLength: 36 });
    fc.assert(fc.property(values, values, fc.array(fc.constantFrom(0, 0, 13000, 65535), { minLength: 12, maxLength: 12 }), fc.double({ min: 0.05, max: 1, noNaN: true }), (before, after, mask, opacity) => {
      const layer = layerPixels(Uint16Array.from(before), Uint16Array.from(after), Uint16Array.from(mask), 4, opacity);
      const out = Float64Array.from(before);
      if (layer) for (let i = 0; i < layer.width * layer.height; i++) {
        const at = 3 * ((Math.floor(i / layer.width) + layer.y) * 4 + (i % layer.width) + layer.x);
        const cover = (layer.data[4 * i + 3] / 65535) * layer.opacity;
        for (let c = 0; c < 3; c++) out[at + c] += cover * (layer.data[4 * i + c] - out[at + c]);
      }
      after.forEach((v, i) => expect(Math.abs(out[i] - v)).toBeLessThan(1.5));
    }));
    const flat = (v: number): Uint16Array => new Uint16Array(12).fill(v);
    expect(layerPixels(flat(30000), flat(33000), Uint16Array.from([65535, 0, 0, 0]), 4, 0.3)).toMatchObject({ opacity: 0.3 });
    expect(layerPixels(flat(30000), flat(30000), new Uint16Array(4), 4, 1)).toBeNull();
  });
});

test('OpenEXR and Radiance hold the same light as the TIFF of floats, as finely as they can', async () => {
  const { data } = await tiffOf(read('linear'));
  for (const [order, readBack, off] of [['exr', readExr, 1 / 1000], ['hdr', readHdr, 1 / 100]] as const) {
    const picture = readBack(new Uint8Array(read(order)));
    expect([picture.width, picture.height]).toEqual([outputs[order].width, outputs[order].height]);
    let most = 0;
    for (let i = 0; i < data.length / 3; i++) {
      const top = Math.max(0.01, data[3 * i], data[3 * i + 1], data[3 * i + 2]);
      for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(picture.data[4 * i + c] - Math.max(order === 'hdr' ? 0 : -1, data[3 * i + c])) / top);
    }
    expect(most).toBeLessThan(off);
  }
});
