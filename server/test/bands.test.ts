import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { readyMix } from '@zaddle/core/graph/readyMix';
import { makeSmaller } from '../src/picture/makeSmaller';
import type { Mix } from '@zaddle/document';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import type { Pixels } from '@zaddle/core/image/plane';
import { newTools } from '../src/picture/kernels';
import { deepPicture, finishedPicture, linearPicture, maskPicture, withRendering, type Rendering } from '../src/picture/rendering';
import { closeRenderPool } from '../src/picture/renderPool';
import type { Openable } from '../src/picture/renderPicture';

/*
 * A shot that does not fit into memory is rendered from rows on disk; nobody can tell from the picture.
 */

const [W, H] = [900, 600];
const folder = mkdtempSync(join(tmpdir(), 'zaddle-bands-'));
afterAll(async () => {
  await closeRenderPool();
  rmSync(folder, { recursive: true, force: true });
});

/** A made-up frame: waves and edges, brighter or darker; 16 bit where deep. */
function frame(k: number, deep: boolean): Pixels {
  const most = deep ? 65535 : 255;
  const data = new (deep ? Uint16Array : Uint8Array)(W * H * 3);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const v = 0.4 + 0.2 * Math.sin((x + 3 * k) / 17) + 0.15 * Math.cos(y / 23) + ((x >> 5) + (y >> 5)) % 2 * 0.15;
      for (let c = 0; c < 3; c++) data[(y * W + x) * 3 + c] = Math.round(most * Math.min(1, v * (0.6 + 0.1 * k) * (1 - 0.1 * c)));
    }
  }
  return { width: W, height: H, data };
}

const ids = ['a', 'b', 'c'] as const;
const use = (k: number): Mix['frames'][string] => ({ width: W, height: H, homography: [1, 0.002 * k, 3.3 * k, -0.001 * k, 1, -2.7 * k, 1e-6 * k, 0, 1], mesh: null, stops: k - 1, balance: [1, 1, 1] });
const mix: Mix = {
  reference: 'a', lens: { ...NO_LENS, k1: -0.03, red: 0.0006, falloff: [0.2, 0.05] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [],
  geometry: [0.99, 0.01, 6, -0.008, 0.985, 5, 2e-6, 1e-6, 1], width: 880, height: 584, frames: Object.fromEntries(ids.map((id, k) => [id, use(k)])), merge: ['a', 'b'],
  passes: [
    { id: 'm', name: '', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 },
    { id: 'c', name: '', within: null, why: '', kind: 'inset', on: true, opacity: 0.8, mask: [{ id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.3], rim: [0.8, 0.3], ratio: 0.6, softness: 0.4 }], exposure: 0.2, balance: [1, 1, 1], source: { kind: 'frame', frame: 'c' }, alignment: [1, 0, -4, 0.003, 1, 6, 0, 0, 1], mode: 'normal', brightness: 1, colour: 1 },
    // Healed from rows that other bands hold.
    { id: 'h', name: '', within: null, why: '', kind: 'heal', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, matched: false, softness: 0, patches: [{ to: [[0.1, 0.1], [0.2, 0.1], [0.2, 0.2], [0.1, 0.2]], from: [[0.4, 0.3], [0.5, 0.3], [0.5, 0.4], [0.4, 0.4]], gains: [1, 1, 1], rings: [] }] },
    { id: 't', name: '', within: null, why: '', kind: 'adjust', on: true, opacity: 1, mask: [], exposure: 0.1, balance: [1, 1, 1], contrast: 1.1, curve: [], tied: false, highlights: -0.5, shadows: 0.4, saturation: 1 },
  ],
};

/** What may be asked for, each by its kind. */
const TAKEN: Record<'encoded' | 'deep' | 'linear' | 'mask', (rendering: Rendering) => Promise<{ readonly data: Uint8Array | Uint16Array | Float32Array }>> = { encoded: finishedPicture, deep: deepPicture, linear: linearPicture, mask: (rendering) => maskPicture(rendering, 1) };

describe.each([['8 bit', false], ['16 bit', true]] as const)('a shot of %s', (_, deep) => {
  const frames = new Map(ids.map((id, k) => [id as string, frame(k, deep)]));
  const opened: string[] = [];
  const frameOf = (id: string): Openable => ({ deep, open: () => { opened.push(id); return Promise.resolve(frames.get(id)!); } });
  const proxies = new Map(ids.map((id, k) => [id as string, makeSmaller(frame(k, false), 450, 300)]));
  const { prepared } = readyMix(newTools(64_000_000), mix, { reference: 'a', edgeFound: () => null, share: () => null }, proxies);

  test.each([['encoded', 880, 584], ['deep', 880, 584], ['linear', 880, 584], ['mask', 880, 584], ['encoded', 400, 265]] as const)('in bands is what it is at once: %s, %i × %i', async (kind, width, height) => {
    const common = { size: { width, height }, kind, folder };
    const whole = await withRendering(prepared, frameOf, common, TAKEN[kind]);
    const at = Float32Array.from(whole.data);
    opened.length = 0;
    const banded = await withRendering(prepared, frameOf, { ...common, together: 0, bandBytes: 108_000_000 }, TAKEN[kind]);
    expect(banded.data.constructor).toBe(whole.data.constructor);
    let worst = 0;
    banded.data.forEach((v: number, i: number) => { worst = Math.max(worst, Math.abs(v - at[i])); });
    expect(worst).toBeLessThanOrEqual({ encoded: 1, deep: 257, linear: 0.001, mask: 1 }[kind]);
    // Each is decoded once, and nothing of it is left.
    expect(opened.sort()).toEqual(['a', 'b', 'c']);
    expect(readdirSync(folder)).toEqual([]);
  });
});

test('pictures that are made one after the other are made in one memory', async () => {
  const { prepared } = readyMix(newTools(64_000_000), mix, { reference: 'a', edgeFound: () => null, share: () => null }, new Map(ids.map((id, k) => [id as string, makeSmaller(frame(k, false), 440, 292)])));
  const buffers = new Set<ArrayBufferLike>();
  for (const width of [880, 400, 880]) {
    const size = { width, height: Math.round(width / 1.5) };
    await withRendering(prepared, (id) => ({ deep: false, open: () => Promise.resolve(frame(ids.indexOf(id as 'a'), false)) }), { size, kind: 'encoded', folder }, async ({ rows }) => buffers.add((await rows({ kind: 'encoded', profile: 'srgb' })).buffer));
  }
  expect(buffers.size).toBe(1);
});

test('memory that holds not even a few rows is told in words, and nothing is left on disk', async () => {
  const { prepared } = readyMix(newTools(64_000_000), mix, { reference: 'a', edgeFound: () => null, share: () => null }, new Map(ids.map((id, k) => [id as string, makeSmaller(frame(k, false), 450, 300)])));
  await expect(withRendering(prepared, (id) => ({ deep: false, open: () => Promise.resolve(frame(ids.indexOf(id as 'a'), false)) }), { size: { width: 880, height: 584 }, kind: 'encoded', folder, together: 0, bandBytes: 96_000_000 }, finishedPicture)).rejects.toThrow(/fit into memory/);
  expect(readdirSync(folder)).toEqual([]);
});
