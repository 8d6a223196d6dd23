import { execFile } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import exifr from 'exifr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { fakeFrame } from './harness';

/*
 * `./zaddle process` is a contract that people script: what it writes, what its report says, how it ends.
 */

interface Report {
  readonly shots: readonly {
    readonly name: string;
    readonly output: string;
    readonly reference: string;
    readonly width: number;
    readonly height: number;
    readonly frames: readonly { file: string; role: string; seconds: number; used: boolean; homography: number[] | null; residualPx: number | null }[];
    readonly geometry: readonly number[];
    readonly windows: readonly (readonly [number, number])[][];
    readonly changed: readonly unknown[];
    readonly masks: { readonly glass?: string };
    readonly readings: readonly { kind: string; value: number; unit: string; state: string }[];
    readonly passes: readonly { kind: string; source: string; why: string }[];
    readonly ms: Readonly<Record<string, number>>;
  }[];
  readonly rejected: readonly { file: string; why: string }[];
  readonly totals: { readonly frames: number; readonly shots: number; readonly ms: number; readonly peakRssMiB: number };
}

const CLI = fileURLToPath(new URL('../src/cli.ts', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'zaddle-process-'));
const card = join(work, 'card');

/** Runs the program as a person would. */
async function zaddle(...args: string[]): Promise<{ status: number; stderr: string }> {
  try {
    const { stderr } = await promisify(execFile)(process.execPath, ['--import', import.meta.resolve('tsx'), CLI, ...args]);
    return { status: 0, stderr };
  } catch (error) {
    const { code, stderr } = error as { code: number; stderr: string };
    return { status: code, stderr };
  }
}

async function made(out: string, ...more: string[]): Promise<Report> {
  const { status, stderr } = await zaddle('process', card, '--out', join(work, out), '--report', join(work, `${out}.json`), ...more);
  expect(status, stderr).toBe(0);
  return JSON.parse(readFileSync(join(work, `${out}.json`), 'utf8')) as Report;
}

beforeAll(async () => {
  mkdirSync(join(card, 'DCIM'), { recursive: true });
  for (const [k, stops] of [0, -2, 2].entries()) {
    writeFileSync(join(card, 'DCIM', `A${k}.JPG`), await fakeFrame(11, stops, k));
    writeFileSync(join(card, 'DCIM', `B${k}.JPG`), await fakeFrame(12, stops, 30 + k));
  }
  writeFileSync(join(card, 'NOTES.TXT'), 'not a picture');
});
afterAll(() => rmSync(work, { recursive: true, force: true }));

describe('a card, with nobody at the desk', () => {
  test('each shot becomes a picture, and the report says how', async () => {
    const report = await made('plain');
    expect(report.totals).toMatchObject({ frames: 6, shots: 2 });
    expect(report.rejected).toEqual([{ file: 'NOTES.TXT', why: expect.stringMatching(/not a picture/) }]);
    for (const [k, shot] of report.shots.entries()) {
      expect(shot.frames.map((f) => f.file)).toEqual([0, 1, 2].map((n) => join('DCIM', `${'AB'[k]}${n}.JPG`)));
      const reference = shot.frames.find((f) => f.file === shot.reference)!;
      expect(reference).toMatchObject({ used: true, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] });
      for (const frame of shot.frames) {
        expect(frame).toMatchObject({ role: 'ambient', seconds: expect.any(Number) });
        expect(frame.homography).toHaveLength(9);
        expect(frame.residualPx).toBeLessThan(0.6);
      }
      expect(shot.geometry).toHaveLength(9);
      for (const reading of shot.readings) expect(['good', 'check', 'bad']).toContain(reading.state);
      for (const pass of shot.passes) expect(pass.why.length).toBeGreaterThan(5);
      for (const part of ['decode', 'align', 'merge', 'propose', 'render', 'encode', 'total']) expect(shot.ms[part]).toBeGreaterThanOrEqual(0);
      const picture = await sharp(join(work, 'plain', shot.output)).metadata();
      expect(picture).toMatchObject({ format: 'jpeg', width: shot.width, height: shot.height });
      expect((await exifr.parse(join(work, 'plain', shot.output))).ImageDescription).toMatch(/Joined from \d+ frames/);
      // Nothing was replaced: it is joined from several captures, and says so.
      expect((await exifr.parse(join(work, 'plain', shot.output), { xmp: true })).DigitalSourceType).toMatch(/computationalCapture$/);
      expect(shot.changed).toEqual([]);
      // What was found lies beside the report, in pixels of the reference.
      expect(shot.masks.glass !== undefined).toBe(shot.passes.some(({ kind }) => kind === 'view'));
      if (shot.masks.glass) expect(await sharp(join(work, shot.masks.glass)).metadata()).toMatchObject({ width: 600, height: 400, channels: 1, depth: 'uchar' });
    }
    const page = readFileSync(join(work, 'plain.html'), 'utf8');
    for (const { output } of report.shots) expect(page).toContain(`href="plain/${output}"`);
    for (const { file } of report.rejected) expect(page).toContain(file);
  });
  test('linear light and layers are written on request, alone where nothing else is asked for', async () => {
    const report = await made('linear', '--linear', '--layers');
    expect(report.shots.map(({ output }) => output)).toEqual(['shot-01-linear.tif', 'shot-02-linear.tif']);
    expect(await sharp(join(work, 'linear', 'shot-01-linear.tif')).metadata()).toMatchObject({ format: 'tiff', depth: 'float' });
    expect(readFileSync(join(work, 'linear', 'shot-02-layers.ora')).subarray(30, 54).toString()).toBe('mimetypeimage/openraster');
  });
  test('a method that ships, and one from a file: at a strength, in its own ratio, with what shots have no use for', async () => {
    const { shots } = await made('listing', '--method', 'plain-listing');
    for (const shot of shots as unknown as { width: number; height: number; method: { name: string; strength: number; leftAlone: { part: string }[] } }[]) {
      expect(shot.method).toMatchObject({ name: 'Plain listing', strength: 100 });
      expect(shot.method.leftAlone.map(({ part }) => part)).toContain('light');
      expect(Math.abs(shot.width / shot.height - 4 / 3)).toBeLessThan(0.01);
    }
    const file = join(work, 'dark-method.json');
    writeFileSync(file, JSON.stringify({ format: 'zaddle-method', version: 1, name: 'Dark', what: '', room: 'any room', light: 'any light', parts: { tone: { exposure: -2 } } }));
    const mean = async (folder: string, name: string): Promise<number> => (await sharp(join(work, folder, name)).stats()).channels[1].mean;
    const [whole, half] = [await made('dark', '--method', file), await made('half', '--method', file, '--strength', '50')];
    const plain = await made('plain');
    for (const [k, { output }] of plain.shots.entries()) {
      const means = [await mean('plain', output), await mean('half', half.shots[k].output), await mean('dark', whole.shots[k].output)];
      expect(means[0]).toBeGreaterThan(means[1] + 8);
      expect(means[1]).toBeGreaterThan(means[2] + 8);
    }
  });
  test('several orders of each shot, each in its ratio, reported with their sizes', async () => {
    const { shots } = await made('orders', '--order', 'listing', 'print');
    for (const { name, outputs, output } of shots as unknown as { name: string; output: string; outputs: { order: string; file: string; width: number; height: number; bytes: number }[] }[]) {
      expect(outputs.map(({ order, file }) => [order, file])).toEqual([['listing', `${name}-listing.jpg`], ['print', `${name}-print.jpg`]]);
      expect(output).toBe(`${name}-listing.jpg`);
      for (const [k, ratio] of [4 / 3, 3 / 2].entries()) {
        const { file, width, height, bytes } = outputs[k];
        expect(Math.abs(width / height - ratio)).toBeLessThan(0.01);
        expect(await sharp(join(work, 'orders', file)).metadata()).toMatchObject({ width, height });
        expect(statSync(join(work, 'orders', file)).size).toBe(bytes);
      }
    }
  });
  test('with --no-straighten the output is the reference’s own frame', async () => {
    const { shots } = await made('as-shot', '--no-straighten');
    for (const { geometry, width, height } of shots) expect([...geometry, width, height]).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1, 600, 400]);
  });
  test('at no strength the room’s own light is left; the default is more', async () => {
    const [none, full] = [await made('none', '--strength', '0'), await made('full')];
    const pixels = (out: string, { shots }: Report): Promise<Buffer> => sharp(join(work, out, shots[0].output)).raw().toBuffer();
    expect(Buffer.compare(await pixels('none', none), await pixels('full', full))).not.toBe(0);
  });
});

describe('mistakes at the command line', () => {
  test.each([
    ['a folder that is not there', ['process', '/nowhere/at/all', '--out', 'X'], /There is no folder \/nowhere\/at\/all/],
    ['no place for the pictures', ['process', 'CARD'], /--out/],
    ['an unknown method', ['process', 'CARD', '--out', 'X', '--method', 'magic'], /no method magic, and no such file\. There is: natural, plain-listing/],
    ['an unknown order', ['process', 'CARD', '--out', 'X', '--order', 'poster'], /no order poster.*full/],
    ['a strength beyond all', ['process', 'CARD', '--out', 'X', '--strength', '140'], /from 0 to 100/],
    ['a worker without a server', ['worker', '--data', 'X'], /No server runs/],
  ])('%s is told with what to do, and nothing is written', async (_, args, message) => {
    const out = join(work, 'mistakes');
    const { status, stderr } = await zaddle(...args.map((a) => (a === 'CARD' ? card : a === 'X' ? out : a)));
    expect(status).not.toBe(0);
    expect(stderr).toMatch(message);
    expect(stderr).not.toMatch(/\n\s+at /);
    expect(existsSync(out)).toBe(false);
  });
  test('a folder without a picture says why of each file', async () => {
    const folder = join(work, 'empty');
    mkdirSync(folder);
    writeFileSync(join(folder, 'list.txt'), 'milk, eggs');
    const { status, stderr } = await zaddle('process', folder, '--out', join(work, 'nothing'));
    expect(status).toBe(1);
    expect(stderr).toMatch(/No picture could be read[\s\S]*list\.txt: /);
  });
  test('links are not followed, and a folder of them says so', async () => {
    const folder = join(work, 'links');
    mkdirSync(folder);
    symlinkSync(card, join(folder, 'card'));
    const { status, stderr } = await zaddle('process', folder, '--out', join(work, 'nothing'));
    expect(status).toBe(1);
    expect(stderr).toMatch(/holds links only.*copy the pictures/);
  });
});
