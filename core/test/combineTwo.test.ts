import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { FrameUse, Mix } from '@zaddle/document';
import { combineTwo, pairInsets, pairLight } from '../src/clean/combineTwo';
import type { PlaceLooks } from '../src/clean/lookAtPlace';
import { rateCandidates } from '../src/clean/rateCandidates';
import { NO_LENS } from '../src/geometry/lens';
import { createLight, createPlane, type Light } from '../src/image/plane';
import { seeded } from './kernelMemory';

const [W, H] = [72, 60];
const next = seeded(9);
/** A glazed picture: patches under a frame that goes round. */
const patches = Array.from({ length: 200 }, () => [0.08 + 0.4 * next(), 0.08 + 0.4 * next(), 0.08 + 0.4 * next()]);
const isMeant = (x: number, y: number): boolean => x >= 16 && x < 56 && y >= 14 && y < 46;
const coverage = createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => (isMeant(i % W, Math.floor(i / W)) ? 1 : 0)));
type Glare = (x: number, y: number) => number;
const blob = (x0: number, y0: number, radius: number, light = 0.6): Glare => (x, y) => (Math.hypot(x - x0, y - y0) < radius ? light : 0);
function frame(glare: Glare, gain: number, seed: number): Light {
  const noise = seeded(seed);
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const own = patches[Math.floor(x / 8) + 9 * Math.floor(y / 8)];
    (['r', 'g', 'b'] as const).forEach((c, k) => (light[c][i] = Math.min(1, gain * (own[k] + (isMeant(x, y) ? glare(x, y) : 0)) * (0.99 + 0.02 * noise()))));
  }
  return light;
}
const looksOf = (glares: readonly Glare[]): PlaceLooks => {
  const frames = glares.map((glare, k) => [`f${k}`, { light: frame(glare, 1 - 0.15 * k, 20 + k), cover: createPlane(W, H, new Float32Array(W * H).fill(1)) }] as const);
  return { pixel: 2, left: 100, top: 80, coverage, picture: frame(glares[0], 1, 7), frames: new Map(frames) };
};
const found = (looks: PlaceLooks) => combineTwo(rateCandidates(looks, { pointedAt: true }), looks.coverage);
const truth = frame(() => 0, 1, 99);
const none: Glare = () => 0;
const both = (a: Glare, b: Glare): Glare => (x, y) => a(x, y) + b(x, y);

describe('two frames together', () => {
  test('are offered where glare lies elsewhere in each, and what is darker of both is what is there', () => {
    fc.assert(fc.property(fc.integer({ min: 20, max: 28 }), fc.integer({ min: 42, max: 50 }), fc.integer({ min: 6, max: 8 }), (left, right, radius) => {
      // Each frame has glare, and the middle of all is clean everywhere.
      const looks = looksOf([blob(left, 22, radius), blob(right, 24, radius), blob(36, 40, radius)]);
      const pair = found(looks)!;
      expect(pair).not.toBeNull();
      const light = pairLight(looks, pair);
      const [ra] = [pair.first.gains];
      let [sum, count] = [0, 0];
      for (let i = 0; i < W * H; i++) if (coverage.data[i] > 0) { sum += Math.abs(Math.log2((light.g[i] * ra[1]) / truth.g[i])); count++; }
      expect(sum / count).toBeLessThan(0.15);
    }), { numRuns: 25 });
  });

  test('are not where one frame is clean, nor where two have glare at the same spot and a third is no help', () => {
    expect(found(looksOf([blob(24, 22, 8), none, blob(36, 40, 8), blob(48, 24, 8)]))).toBeNull();
    expect(found(looksOf([blob(36, 30, 10), blob(37, 30, 10)]))).toBeNull();
    expect(found(looksOf([blob(36, 30, 12)]))).toBeNull();
    const twice = both(blob(24, 22, 7), blob(48, 24, 7));
    expect(found(looksOf([both(twice, blob(36, 40, 7)), twice]))).toBeNull();
  });

  test('make two insets in one seam, of which the upper darkens', () => {
    const looks = looksOf([blob(24, 22, 7), blob(48, 24, 7), blob(36, 40, 7)]);
    const use: FrameUse = { width: 900, height: 600, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
    const mix: Mix = { reference: 'f0', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 900, height: 600, frames: { f0: use, f1: use, f2: use }, merge: ['f0'], passes: [] };
    const pair = found(looks)!;
    const [under, over] = pairInsets(looks, pair, mix, { id: 'spot', name: 'Clean place', why: 'chosen by hand' });
    expect([under.source, over.source]).toEqual([{ kind: 'frame', frame: pair.first.frame }, { kind: 'frame', frame: pair.second.frame }]);
    expect([under.mode, over.mode]).toEqual(['normal', 'darken']);
    expect(over.mask.map((area) => ({ ...area, id: '' }))).toEqual(under.mask.map((area) => ({ ...area, id: '' })));
    expect(new Set([under.id, over.id, ...under.mask.map(({ id }) => id), ...over.mask.map(({ id }) => id)]).size).toBe(4);
  });
});
