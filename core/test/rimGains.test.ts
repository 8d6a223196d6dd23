import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { FrameUse, Mix, Pass, SourcePass } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import { GuideLevel } from '../src/graph/guideLevel';
import { placeGuideSources } from '../src/graph/placeGuideSources';
import { prepareMix } from '../src/graph/prepareMix';
import { createLight, createPlane, type Light, type Plane } from '../src/image/plane';
import { Arena } from '../src/kernels/arena';
import { rimGains } from '../src/light/rimGains';
import { seeded, testKernels } from './kernelMemory';

const [W, H] = [120, 90];
const CHANNELS = ['r', 'g', 'b'] as const;
const made = (value: (x: number, y: number, c: number) => number): Light => {
  const light = createLight(W, H);
  CHANNELS.forEach((c, k) => { for (let i = 0; i < W * H; i++) light[c][i] = value(i % W, Math.floor(i / W), k); });
  return light;
};
const box: Plane = createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => (i % W >= 40 && i % W < 80 && i / W >= 30 && i / W < 60 ? 1 : 0)));

test('a light that differs by gains alone is brought to the other exactly, whatever stands under the mask', () => {
  fc.assert(fc.property(fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 3, maxLength: 3 }), fc.integer({ min: 1, max: 99 }), (stops, seed) => {
    const texture = seeded(seed);
    const own = made(() => 0.02 + 0.1 * texture());
    const below = made((x, y, c) => (box.data[y * W + x] > 0 ? 5 * texture() : own[CHANNELS[c]][y * W + x] * 2 ** stops[c]));
    // Darker than what tells anything is left out.
    if (CHANNELS.some((c) => below[c].some((v) => v < 0.004))) return;
    const gains = rimGains(below, own, box, 1);
    CHANNELS.forEach((c, k) => box.data.forEach((v, i) => v > 0 && expect(Math.log2(gains[c][i])).toBeCloseTo(stops[k], 3)));
  }), { numRuns: 20 });
});

test('light that falls otherwise is followed from rim to rim, and something else on the rim is not taken for light', () => {
  const fall = (x: number, y: number): number => 2 ** (0.02 * (x - 60) + 0.015 * (y - 45));
  const own = made(() => 0.2);
  const clean = made((x, y) => 0.2 * fall(x, y));
  // A tenth of the rim shows a dark thing.
  const below = made((x, y) => clean.g[y * W + x] * (y < 34 && x > 50 && x < 64 ? 0.1 : 1));
  let worst = 0;
  const gains = rimGains(below, own, box, 1);
  box.data.forEach((v, i) => v > 0 && (worst = Math.max(worst, Math.abs(Math.log2(gains.g[i] / fall(i % W, Math.floor(i / W)))))));
  expect(worst).toBeLessThan(0.12);
});

test('where nothing tells, a light stays as it is', () => {
  const dark = made(() => 0.001);
  expect(rimGains(dark, dark, box, 1).g.every((v) => v === 1)).toBe(true);
  const bright = made(() => 2);
  expect(rimGains(bright, bright, box, 1).g.every((v) => v === 1)).toBe(true);
});

test('a matched inset joins without a step, follows what is below, in a bundle too, and leaves the rest alone', () => {
  const [w, h] = [300, 200];
  const thing = (x: number, y: number): boolean => x > 130 && x < 170 && y > 80 && y < 120;
  // The same wall, one frame darker and falling off to the right, with something standing before it in the other.
  const wall = (x: number, gain: number): number => Math.round(255 * (gain * (0.3 + 0.0004 * x)) ** (1 / 2.2));
  const pixels = (at: (x: number, y: number) => number) => ({ width: w, height: h, data: Uint8Array.from({ length: w * h * 3 }, (_, i) => at(Math.floor(i / 3) % w, Math.floor(i / 3 / w))) });
  const frames = new Map([['a', pixels((x, y) => (thing(x, y) ? 20 : wall(x, 1)))], ['b', pixels((x) => wall(x, 0.5 - x / 1200))]]);
  const use: FrameUse = { width: w, height: h, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
  const base = { within: null, why: '', on: true, opacity: 1, exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, alignment: null } as const;
  const mask = [{ id: 's', kind: 'spot', join: 'add', inverted: false, at: [150 / w, 100 / w], rim: [185 / w, 100 / w], ratio: 1, softness: 0.1 }] as const;
  const under = (exposure: number): Pass => ({ ...base, id: 'u', name: 'u', mask: [], kind: 'light', source: { kind: 'frame', frame: 'a' }, exposure });
  const inset = (within: string | null): SourcePass => ({ ...base, within, id: 'i', name: 'i', mask, kind: 'inset', source: { kind: 'frame', frame: 'b' }, matched: true });
  const bundle: Pass = { ...base, id: 'k', name: 'k', mask: [], kind: 'bundle' };
  const mixOf = (...passes: Pass[]): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: w, height: h, frames: { a: use, b: use }, merge: ['a'], passes });
  const kernels = testKernels(64 << 20);
  const arena = new Arena(kernels.memory.buffer, 1024, 60 << 20);
  const level = new GuideLevel(kernels, arena, placeGuideSources(kernels, arena, mixOf(under(0)), frames));
  const picture = (...passes: Pass[]): Float32Array => level.picture(level.workOut(prepareMix(mixOf(...passes), { reference: 'a', edgeFound: () => null, share: () => null }))).g;
  for (const exposure of [0, 1]) {
    const before = picture(under(exposure));
    for (const after of [picture(under(exposure), inset(null)), picture(under(exposure), inset('k'), bundle)]) {
      for (let x = 100; x < 200; x++) expect(Math.abs(Math.log2(after[100 * w + x] / (before[20 * w + x])))).toBeLessThan(0.03);
      for (let x = 0; x < w; x++) expect(after[20 * w + x]).toBeCloseTo(before[20 * w + x], 6);
    }
  }
});
