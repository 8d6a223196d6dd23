import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createLight, createPlane, type Light } from '../src/image/plane';
import { findLamps, lampsIntact } from '../src/light/findLamps';
import { flashLight } from '../src/light/flashLight';
import { sameSurfaces } from '../src/light/sameSurfaces';
import type { Guide, GuideSet } from '../src/mix/guides';
import { flashPurpose, flashReach } from '../src/propose/flashPurpose';
import { findGlare } from '../src/found/findGlare';
import { linearToSrgb } from '../src/colour/transfer';
import { misfitByPart, residualByPart } from '../src/align/misfit';
import { IDENTITY } from '../src/geometry/homography';
import { seeded } from './kernelMemory';

const [W, H] = [300, 200];
const nothing = createPlane(W, H);

interface Spot { readonly x: number; readonly y: number; readonly radius: number; readonly light: number }

/** Surfaces of a random room: reflectance of grey cells. */
function surfaces(seed: number): Float32Array {
  const next = seeded(seed);
  const cells = Array.from({ length: 30 * 20 }, () => 0.1 + 0.6 * next());
  return Float32Array.from({ length: W * H }, (_, i) => cells[Math.floor(i / W / 10) * 30 + Math.floor((i % W) / 10)]);
}
const guideOf = (light: Light): Guide => ({ light, top: createPlane(W, H, light.g.map((v, i) => linearToSrgb(Math.min(1, Math.max(v, light.r[i], light.b[i]))))), cover: createPlane(W, H, new Float32Array(W * H).fill(1)) });

/** A frame of surfaces under light that varies over the picture, with bright spots of its own. @param tint of the light, red over blue. */
function frameOf(reflectance: Float32Array, lightAt: (x: number, y: number) => number, spots: readonly Spot[] = [], tint = 1): Guide {
  const light = createLight(W, H);
  for (let i = 0; i < reflectance.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    let value = reflectance[i] * lightAt(x, y);
    for (const s of spots) if (Math.hypot(x - s.x, y - s.y) < s.radius) value = s.light;
    light.r[i] = Math.min(1, value * Math.sqrt(tint));
    light.g[i] = Math.min(1, value);
    light.b[i] = Math.min(1, value / Math.sqrt(tint));
  }
  return guideOf(light);
}
const setOf = (frames: Record<string, Guide>, merge: Light): GuideSet => ({ width: W, height: H, frames: new Map(Object.entries(frames)), merge });

describe('a flash that is seen or mirrored', () => {
  test('is found in its own frame, where it is, and white surfaces are not taken for it', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 30, max: 270 }), fc.integer({ min: 30, max: 170 }), (seed, x, y) => {
      const paint = surfaces(seed);
      // A white thing that every light makes white.
      for (let j = 90; j < 110; j++) for (let i = 140; i < 160; i++) paint[j * W + i] = 3;
      const room = frameOf(paint, () => 0.3);
      const flashes = {
        one: frameOf(paint, (u) => 0.35 + 0.3 * (u / W), [{ x, y, radius: 8, light: 1 }]),
        two: frameOf(paint, (u) => 0.65 - 0.3 * (u / W)),
      };
      const found = findGlare(setOf({ room, ...flashes }, room.light), { room: 0, one: -4, two: -4 }, ['one', 'two']);
      const hidden = Math.abs(x - 150) < 24 && Math.abs(y - 100) < 24;
      if (hidden) return;
      expect(found.map((f) => f.frame)).toEqual(['one']);
      expect(Math.abs(found[0].where[0] - x) + Math.abs(found[0].where[1] - y)).toBeLessThan(8);
    }), { numRuns: 20, seed: 20261126 });
  });
  test('is not invented where nothing is clipped, nor without flashes', () => {
    const paint = surfaces(4);
    const room = frameOf(paint, () => 0.3);
    const set = setOf({ room, one: frameOf(paint, (u) => 0.2 + 0.9 * (u / W)) }, room.light);
    expect(findGlare(set, { room: 0, one: -4 }, ['one'])).toEqual([]);
    expect(findGlare(set, { room: 0, one: -4 }, [])).toEqual([]);
  });
});

describe('the light of a flash alone', () => {
  test('is the frame less the room’s own light, and not known where that prevails', () => {
    const paint = surfaces(9);
    const room = frameOf(paint, () => 0.5);
    const flash = frameOf(paint, (u) => 0.5 * 0.25 + (u < W / 2 ? 0.4 : 0.02));
    const { width, g } = flashLight(setOf({ room, flash }, room.light), 'flash', -2, 0.001);
    const at = (x: number, y: number): number => g[(y >> 1) * width + (x >> 1)];
    expect(at(40, 44) / paint[44 * W + 40]).toBeCloseTo(0.4, 2);
    expect(at(260, 44)).toBeNaN();
  });
});

describe('lit lamps', () => {
  const paint = surfaces(12);
  const lamps: Spot[] = [{ x: 80, y: 60, radius: 5, light: 1 }];
  const long = frameOf(paint, () => 0.5, lamps, 1.6);
  const short = frameOf(paint, () => 0.03, [{ ...lamps[0], light: 0.5 }], 1.6);
  // The merge as the bracket gives it: in the exposure of the long frame, four stops over the short one.
  const merge = frameOf(paint, () => 0.5, [], 1.6).light;
  for (let i = 0; i < W * H; i++) if (Math.hypot((i % W) - 80, Math.floor(i / W) - 60) < 5) [merge.r[i], merge.g[i], merge.b[i]] = [10, 8, 6];
  const set = setOf({ long, short }, merge);

  test('are found, and in which frame they keep their shape', () => {
    const found = findLamps(set, createPlane(W, H, new Float32Array(W * H).fill(NaN)), nothing, ['long', 'short']);
    expect(found).toHaveLength(1);
    expect(Math.abs((found[0].left + found[0].right) / 2 - 80)).toBeLessThan(3);
    expect(lampsIntact(set, found, 'long')).toBe(0);
    expect(lampsIntact(set, found, 'short')).toBe(1);
    expect(lampsIntact(set, [], 'long')).toBe(1);
  });
  test('are not the view, nor what mirrors the blue day', () => {
    const view = createPlane(W, H, new Float32Array(W * H).fill(1));
    const own = createPlane(W, H, new Float32Array(W * H).fill(NaN));
    expect(findLamps(set, own, view, ['long', 'short'])).toEqual([]);
    const blue = { ...merge, b: merge.b.map((v, i) => (v > 5 ? 11 : merge.b[i])) };
    expect(findLamps(setOf({ long, short }, blue), own, nothing, ['long', 'short'])).toEqual([]);
  });
});

describe('what a flash was for', () => {
  const paint = surfaces(21);
  const room = frameOf(paint, () => 0.4);
  const glass = createPlane(W, H);
  for (let y = 60; y < 110; y++) for (let x = 120; x < 180; x++) glass.data[y * W + x] = 1;
  const purpose = (light: (x: number, y: number) => number, tint = 1): string => flashPurpose(flashReach(setOf({ room, f: frameOf(paint, light, [], tint) }, room.light), 'f', -4, glass), false).role;

  test('the view, when it lit what is about the window', () => {
    expect(purpose((x, y) => 0.025 + 0.5 * Math.exp(-(((x - 150) / 60) ** 2 + ((y - 85) / 50) ** 2)))).toBe('view');
  });
  test('the sun, when it is a warm streak with sharp edges elsewhere', () => {
    expect(purpose((x, y) => 0.025 + (Math.abs(x - y / 2 - 20) < 8 && y > 120 ? 0.6 : 0), 2)).toBe('sun');
  });
  test('light like any other, when it lit a further room', () => {
    expect(purpose((x, y) => 0.025 + (x > 230 && y > 40 && y < 160 ? 0.5 : 0))).toBe('flash');
  });
});

describe('whether two frames show the same surfaces', () => {
  test('they do under any other light, and do not where something else stands', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 20, max: 200 }), (seed, x) => {
      const paint = surfaces(seed);
      const room = frameOf(paint, () => 0.4);
      const lit = frameOf(paint, (u, v) => 0.4 + 0.5 * Math.exp(-(((u - x) / 40) ** 2 + ((v - 90) / 40) ** 2)));
      expect(sameSurfaces(room, lit, 0, 0.0005)).toBeGreaterThan(0.6);
      const other = surfaces(seed + 1);
      const changed = paint.map((v, i) => (Math.abs((i % W) - x) < 40 && Math.abs(Math.floor(i / W) - 90) < 60 ? other[i] : v));
      expect(sameSurfaces(room, frameOf(changed, () => 0.4), 0, 0.0005)).toBeLessThan(0.3);
    }), { numRuns: 15, seed: 20261126 });
    const same = frameOf(surfaces(3), () => 0.4);
    expect(sameSurfaces(same, same, 0, 0.0005)).toBeNaN();
  });
});

describe('misalignment part by part', () => {
  test('is noise and misfit together, and not told where too little was followed', () => {
    const matches = Array.from({ length: 40 }, (_, k) => {
      const [x, y] = [20 + (k % 8), 20 + Math.floor(k / 8)];
      return { x, y, u: x + 0.6, v: y + 0.8, weight: 1 };
    });
    const parts = residualByPart(misfitByPart(matches as never, IDENTITY, 400, 300, 6), 0.5);
    expect(parts[0]).toBeCloseTo(Math.hypot(1, 0.5), 6);
    expect(parts.slice(1).every((p) => p === null)).toBe(true);
  });
});
