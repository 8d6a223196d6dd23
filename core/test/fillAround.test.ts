import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { FillPass, FrameUse, Mix, Pass } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import { GuideLevel } from '../src/graph/guideLevel';
import { placeGuideSources } from '../src/graph/placeGuideSources';
import { prepareMix } from '../src/graph/prepareMix';
import { fillAround } from '../src/image/fillAround';
import { createLight, createPlane, type Light } from '../src/image/plane';
import { Arena } from '../src/kernels/arena';
import { seeded, testKernels } from './kernelMemory';

const random = (width: number, height: number, seed: number): Light => {
  const next = seeded(seed);
  const light = createLight(width, height);
  for (const channel of [light.r, light.g, light.b]) for (let i = 0; i < channel.length; i++) channel[i] = 0.1 + next();
  return light;
};

test('what is known stays as it is, and what is not lies within its range', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 999 }), fc.double({ min: 0.05, max: 0.95, noNaN: true }), (width, height, seed, share) => {
    const light = random(width, height, seed);
    const next = seeded(seed + 1);
    const known = createPlane(width, height, Float32Array.from({ length: width * height }, () => (next() < share ? 1 : 0)));
    if (!known.data.some((v) => v > 0)) return;
    const filled = fillAround(light, known);
    for (const c of ['r', 'g', 'b'] as const) {
      const values = [...light[c]].filter((_, i) => known.data[i] === 1);
      const [low, high] = [Math.min(...values), Math.max(...values)];
      filled[c].forEach((v, i) => (known.data[i] === 1 ? expect(v).toBe(light[c][i]) : expect(v >= low - 1e-5 && v <= high + 1e-5).toBe(true)));
    }
  }));
});

test('a hole in an even fall of light is filled with that fall', () => {
  const [width, height] = [90, 70];
  const light = createLight(width, height);
  const known = createPlane(width, height);
  let worst = 0;
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    known.data[i] = x > 30 && x < 60 && y > 20 && y < 50 ? 0 : 1;
    for (const c of ['r', 'g', 'b'] as const) light[c][i] = known.data[i] === 1 ? 0.2 + 0.004 * x + 0.003 * y : 7;
  }
  const filled = fillAround(light, known);
  for (let i = 0; i < width * height; i++) worst = Math.max(worst, Math.abs(filled.g[i] - (0.2 + 0.004 * (i % width) + 0.003 * Math.floor(i / width))));
  expect(worst).toBeLessThan(0.02);
});

test('a pass that fills from around takes the light of a window away under its mask, and follows what is below', () => {
  const [W, H] = [300, 200];
  // A grey wall with a bright window, and a rim about it that mixes both.
  const data = new Uint8Array(W * H * 3).fill(110);
  for (let y = 60; y < 140; y++) for (let x = 100; x < 200; x++) data.fill(x === 100 || x === 199 || y === 60 || y === 139 ? 190 : 255, (y * W + x) * 3, (y * W + x) * 3 + 3);
  const use: FrameUse = { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
  const base = (id: string) => ({ id, name: id, within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 }) as const;
  const fill: FillPass = { ...base('f'), kind: 'fill', tone: [0, 0, 0], ramp: null, around: true, mask: [{ id: 'box', kind: 'box', join: 'add', inverted: false, corners: [[98 / W, 58 / W], [202 / W, 58 / W], [202 / W, 142 / W], [98 / W, 142 / W]], softness: 0 }] };
  const mixOf = (exposure: number, ...more: Pass[]): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use }, merge: ['a'], passes: [{ ...base('u'), kind: 'light', source: { kind: 'frame', frame: 'a' }, alignment: null, exposure } as Pass, ...more] });
  const kernels = testKernels(64 << 20);
  const arena = new Arena(kernels.memory.buffer, 1024, 60 << 20);
  const level = new GuideLevel(kernels, arena, placeGuideSources(kernels, arena, mixOf(0), new Map([['a', { width: W, height: H, data }]])));
  const found = { reference: 'a', edgeFound: () => null, share: () => null };
  const picture = (mix: Mix): Float32Array => level.picture(level.workOut(prepareMix(mix, found))).g;
  for (const exposure of [0, 1]) {
    const [before, after] = [picture(mixOf(exposure)), picture(mixOf(exposure, fill))];
    const wall = before[20 * W + 20];
    expect(before[100 * W + 150]).toBeGreaterThan(4 * wall);
    for (const at of [100 * W + 150, 61 * W + 101, 100 * W + 198]) expect(after[at] / wall).toBeCloseTo(1, 2);
    expect(after[20 * W + 20]).toBe(wall);
  }
  // Only a rim: it is filled from outside alone, and what lies within stays.
  const inner = { ...fill.mask[0], id: 'inner', join: 'subtract', corners: [[110 / W, 70 / W], [190 / W, 70 / W], [190 / W, 130 / W], [110 / W, 130 / W]] } as FillPass['mask'][number];
  const [before, rim] = [picture(mixOf(0)), picture(mixOf(0, { ...fill, mask: [...fill.mask, inner] }))];
  expect(rim[100 * W + 105] / before[20 * W + 20]).toBeCloseTo(1, 2);
  expect(rim[100 * W + 150]).toBe(before[100 * W + 150]);
  // Where the mask is everywhere, nothing lies around it: the picture stays, as exactly as such light is kept.
  const everywhere = picture(mixOf(0, { ...fill, mask: [] }));
  expect(everywhere.reduce((most, v, i) => Math.max(most, Math.abs(v - before[i])), 0)).toBeLessThan(2e-5);
});
