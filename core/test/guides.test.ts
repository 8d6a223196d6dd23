import { describe, expect, test } from 'vitest';
import { SRGB_TO_WORKING, applyMatrix } from '../src/colour/primaries';
import { srgbToLinear } from '../src/colour/transfer';
import { NO_LENS, falloffGain } from '../src/geometry/lens';
import type { Pixels } from '../src/image/plane';
import { lightGuide, mergeGuides, warpGuide, type GuidePlacement } from '../src/mix/guides';
import { testTools } from './kernelMemory';

const { kernels, arena } = testTools(48 << 20);
const [W, H] = [900, 600];
const still: GuidePlacement = { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, balance: [1, 1, 1], lens: NO_LENS, response: [] };
/** A picture whose colours are a function of the place, 0..255. */
const pixels = (colour: (x: number, y: number) => readonly [number, number, number]): Pixels => ({ width: W, height: H, data: Uint8Array.from({ length: W * H * 3 }, (_, i) => Math.round(colour(Math.floor(i / 3) % W, Math.floor(i / 3 / W))[i % 3])) });
const guideOf = (picture: Pixels, use = still): ReturnType<typeof lightGuide> => lightGuide(kernels, arena, warpGuide(kernels, arena, picture, use, W, H), use);

describe('a frame on the guide grid', () => {
  test('has the light of its colour, balanced, everywhere', () => {
    const colour = [180, 120, 60] as const;
    const balance = [1.2, 1, 0.7] as const;
    const { light, top, cover } = guideOf(pixels(() => colour), { ...still, balance });
    const [r, g, b] = colour.map((v, c) => srgbToLinear(v / 255) * balance[c]);
    const expected = applyMatrix(SRGB_TO_WORKING, [r, g, b]);
    [light.r, light.g, light.b].forEach((plane, c) => {
      for (const i of [0, 5, plane.length >> 1, plane.length - 1]) expect(plane[i] / expected[c]).toBeCloseTo(1, 3);
    });
    expect(top.data.reduce((most, v) => Math.max(most, v)) * 255).toBeCloseTo(180, 0);
    expect(cover.data.every((v) => v === 1)).toBe(true);
  });

  test('lacks what lies outside the frame, and nothing else', () => {
    const shifted = { ...still, homography: [1, 0, 120, 0, 1, 0, 0, 0, 1] as const };
    const { cover } = guideOf(pixels(() => [90, 90, 90]), shifted);
    const missing = cover.data.reduce((sum, v) => sum + 1 - v, 0) / cover.data.length;
    expect(missing).toBeCloseTo(120 / W, 2);
    expect(cover.data[cover.width - 1]).toBe(0);
    expect(cover.data[0]).toBe(1);
  });

  test('is freed of the fall-off of light without being interpolated again', () => {
    const picture = pixels(() => [128, 128, 128]);
    const codes = warpGuide(kernels, arena, picture, still, W, H);
    const lens = { ...NO_LENS, falloff: [0.3, 0] as [number, number] };
    const [plain, freed] = [lightGuide(kernels, arena, codes, still), lightGuide(kernels, arena, codes, { ...still, lens })];
    const { width, height } = plain.light;
    for (const [x, y] of [[0, 0], [width - 1, height - 1], [width >> 1, height >> 1], [width - 1, height >> 1]]) {
      const r2 = ((x - (width - 1) / 2) ** 2 + (y - (height - 1) / 2) ** 2) / ((width ** 2 + height ** 2) / 4);
      expect(freed.light.g[y * width + x] / plain.light.g[y * width + x]).toBeCloseTo(falloffGain(lens, r2), 2);
    }
    expect(freed.top).toBe(plain.top);
  });
});

test('joined frames of a bracket have the light of the reference where it is clipped, and do not shift where it is not', () => {
  const encode = (v: number): number => 255 * Math.min(1, v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  const scene = (x: number): number => 0.02 * 2 ** ((7 * x) / W);
  const shot = (stops: number): Pixels => pixels((x) => { const v = encode(scene(x) * 2 ** stops); return [v, v, v]; });
  const merge = mergeGuides([0, -2, -3].map((stops) => ({ guide: guideOf(shot(stops)), stops })));
  for (let x = 40; x < merge.width - 40; x += 25) {
    const truth = scene(((x + 0.5) * W) / merge.width - 0.5);
    expect(Math.abs(Math.log2(merge.g[100 * merge.width + x] / truth))).toBeLessThan(0.05);
  }
});
