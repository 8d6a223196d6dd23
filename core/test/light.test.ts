import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { estimateNeutral } from '../src/colour/estimateNeutral';
import { applyMatrix, linearSrgbToLab, SRGB_TO_WORKING, WORKING_TO_SRGB } from '../src/colour/primaries';
import { linearToSrgb, srgbToLinear } from '../src/colour/transfer';
import { displayLight, encodeTable, inverseDisplayLight, inverseToneCurve, KNEE, toneCurve } from '../src/finish/toneCurve';
import { localTone, toneBase } from '../src/finish/localTone';
import { boxBlur } from '../src/image/boxBlur';
import { guidanceOf, guidedFilter } from '../src/image/guidedFilter';
import { createLight, createPlane, mapPlane, quantile } from '../src/image/plane';
import { bracketWeights } from '../src/merge/bracketWeights';
import { mergeGuides } from '../src/mix/guides';
import { seeded, testTools } from './kernelMemory';

const randomPlane = (seed: number, w: number, h: number) => {
  const next = seeded(seed);
  return mapPlane(createPlane(w, h), () => next());
};

describe('colour', () => {
  test('encoding and decoding cancel; matrices are inverse; white is neutral', () => {
    fc.assert(fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (v) => {
      expect(linearToSrgb(srgbToLinear(v))).toBeCloseTo(v, 5);
    }));
    const back = applyMatrix(WORKING_TO_SRGB, applyMatrix(SRGB_TO_WORKING, [0.2, 0.5, 0.7]));
    expect(back.map((v) => Math.round(v * 1e6))).toEqual([200000, 500000, 700000]);
    const [l, a, b] = linearSrgbToLab([1, 1, 1]);
    expect(l).toBeCloseTo(100, 3);
    expect(Math.hypot(a, b)).toBeLessThan(0.02);
  });
  test('the display curve rises, keeps what lies below its knee, and is inverted', () => {
    fc.assert(fc.property(fc.double({ min: 0, max: 6, noNaN: true }), fc.double({ min: 0, max: 6, noNaN: true }), (a, b) => {
      if (a < b) expect(toneCurve(a)).toBeLessThanOrEqual(toneCurve(b));
      if (a <= KNEE) expect(toneCurve(a)).toBe(a);
      expect(inverseToneCurve(toneCurve(a))).toBeCloseTo(a, 5);
    }));
    expect(toneCurve(6)).toBeCloseTo(1, 9);
    const table = encodeTable();
    for (let i = 1; i < table.length; i++) expect(table[i]).toBeGreaterThanOrEqual(table[i - 1]);
  });
  test('what is displayed lies within range, in the order of its channels, is left alone below the knee, and is found again', () => {
    const channel = fc.double({ min: 0.01, max: 5, noNaN: true });
    fc.assert(fc.property(fc.tuple(channel, channel, channel), (light) => {
      const shown = displayLight(light);
      for (const v of shown) expect(v >= 0 && v <= 1).toBe(true);
      for (const [a, b] of [[0, 1], [1, 2], [2, 0]]) if (light[a] > light[b]) expect(shown[a]).toBeGreaterThanOrEqual(shown[b]);
      displayLight(light.map((v) => v * 0.1) as unknown as typeof light).forEach((v, c) => expect(v).toBeCloseTo(0.1 * light[c], 9));
      if (Math.max(...shown) < 0.97) displayLight(inverseDisplayLight(shown)).forEach((v, c) => expect(Math.abs(v - shown[c])).toBeLessThan(0.004));
    }));
    const sky = displayLight([0.8, 1.1, 1.5]);
    // A curve on each channel leaves less of it.
    expect(sky[2] / sky[0]).toBeGreaterThan(1.06 * (toneCurve(1.5) / toneCurve(0.8)));
    expect(displayLight([-0.1, 0, 0])).toEqual([0, 0, 0]);
  });
  test('neutral is found on the light-coloured part of a tinted room', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 999 }), fc.double({ min: -0.3, max: 0.3, noNaN: true }), (seed, warmth) => {
      const light = createLight(240, 160);
      const next = seeded(seed);
      for (let i = 0; i < light.r.length; i++) {
        const white = i < 240 * 90;
        const v = (white ? 0.6 : 0.25) * (0.9 + 0.2 * next());
        light.r[i] = v * (white ? 1 : 1.5) * 2 ** warmth;
        light.g[i] = v;
        light.b[i] = v * (white ? 1 : 0.5) * 2 ** -warmth;
      }
      const gains = estimateNeutral(light, mapPlane(createPlane(240, 160), () => 1));
      expect(Math.log2(gains[0]) + warmth).toBeCloseTo(0, 1);
      expect(Math.log2(gains[2]) - warmth).toBeCloseTo(0, 1);
    }), { numRuns: 20 });
  });
});

describe('neighbourhoods', () => {
  test('the box mean equals the plain definition', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 30 }), fc.integer({ min: 0, max: 45 }), (seed, w, h, radius) => {
      const plane = randomPlane(seed, w, h);
      const blurred = boxBlur(plane, radius);
      const [x, y] = [seed % w, (seed * 7) % h];
      let sum = 0;
      let count = 0;
      for (let v = Math.max(0, y - radius); v <= Math.min(h - 1, y + radius); v++) for (let u = Math.max(0, x - radius); u <= Math.min(w - 1, x + radius); u++, count++) sum += plane.data[v * w + u];
      expect(blurred.data[y * w + x]).toBeCloseTo(sum / count, 4);
    }));
  });
  test('the guided filter keeps a step of its guidance and smooths noise beside it', () => {
    const step = mapPlane(createPlane(80, 40), (_, i) => (i % 80 < 40 ? 0 : 4));
    const next = seeded(3);
    const noisy = mapPlane(step, (v) => v + next() - 0.5);
    const out = guidedFilter(guidanceOf(step, 6), noisy, 0.1);
    const row = Array.from(out.data.subarray(20 * 80, 21 * 80));
    expect(row[45] - row[34]).toBeGreaterThan(3.6);
    expect(Math.max(...row.slice(8, 30)) - Math.min(...row.slice(8, 30))).toBeLessThan(0.35);
  });
  test('the guided filter leaves alone what is straight in its guidance, and the guidance itself where it has contrast', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 999 }), fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), (seed, a, b) => {
      const guidance = randomPlane(seed, 40, 30);
      const window = guidanceOf(guidance, 4);
      const straight = guidedFilter(window, mapPlane(guidance, (v) => a * v + b), 1e-6);
      const itself = guidedFilter(window, guidance, 1e-6);
      for (let i = 0; i < guidance.data.length; i += 37) {
        expect(straight.data[i]).toBeCloseTo(a * guidance.data[i] + b, 2);
        expect(itself.data[i]).toBeCloseTo(guidance.data[i], 2);
      }
    }));
  });
  test('local tone lifts broad shadows, lowers broad highlights, and leaves an even picture alone', () => {
    const tools = testTools(4 << 20);
    const scene = mapPlane(createPlane(200, 100), (_, i) => (i % 200 < 60 ? -6 : i % 200 < 140 ? -2 : 1));
    const { a, b } = localTone(tools, toneBase(tools, scene), { highlights: -1, shadows: 1, localContrast: 0 });
    const gain = mapPlane(scene, (v, i) => a.data[i] * v + b.data[i]);
    expect(gain.data[50 * 200 + 20]).toBeGreaterThan(0.5);
    expect(gain.data[50 * 200 + 180]).toBeLessThan(-0.4);
    expect(Math.abs(gain.data[50 * 200 + 100])).toBeLessThan(0.2);
    const off = localTone(tools, toneBase(tools, scene), { highlights: 0, shadows: 0, localContrast: 0 });
    expect(Math.max(...off.a.data, ...off.b.data)).toBe(0);
  });
  test('quantiles', () => {
    expect(quantile([3, 1, 2], 0.5)).toBe(2);
    expect(quantile([], 0.5)).toBeNaN();
  });
});

describe('joining a bracket', () => {
  test('gives the true light back across the whole range, clipped frames included', () => {
    const truth = [0.01, 0.2, 0.8, 3, 7];
    const frames = [0, -3, 3].map((stops) => {
      const light = createLight(truth.length, 1);
      const top = createPlane(truth.length, 1);
      truth.forEach((v, i) => {
        const seen = Math.min(1, v * 2 ** stops);
        light.r[i] = light.g[i] = light.b[i] = seen;
        top.data[i] = linearToSrgb(seen);
      });
      return { guide: { light, top, cover: mapPlane(top, () => 1) }, stops };
    });
    const merged = mergeGuides(frames);
    truth.forEach((v, i) => expect(merged.g[i] / v).toBeCloseTo(1, 1));
  });
  test('a frame takes all until it nears clipping, then nothing; the shortest answers for the rest', () => {
    const [longer, shortest] = [bracketWeights(false), bracketWeights(true)];
    expect(longer[2000]).toBe(1);
    expect(longer[4080]).toBe(0);
    for (let code = 1; code < 4080; code++) expect(longer[code]).toBeLessThanOrEqual(longer[code - 1]);
    expect(shortest.every((w) => w === 1)).toBe(true);
  });
});
