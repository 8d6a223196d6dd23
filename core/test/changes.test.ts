import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createLight, createPlane } from '../src/image/plane';
import type { Guide, GuideSet } from '../src/mix/guides';
import { findChanges } from '../src/found/findChanges';
import { linearToSrgb } from '../src/colour/transfer';
import { seeded } from './kernelMemory';

const [W, H] = [300, 200];
const nothing = createPlane(W, H);

/** A guide of a textured room at an exposure, with a box of another brightness pasted in, and everything shifted by a part of a pixel. */
function guideOf(seed: number, stops: number, box: { x: number; y: number; w: number; h: number; light: number } | null, shift = 0): Guide {
  const room = seeded(seed);
  const cells = Array.from({ length: 40 * 30 }, () => 0.05 + 0.2 * room());
  const noise = seeded(seed + 100 * Math.round(stops * 10) + 7);
  const light = createLight(W, H);
  const top = createPlane(W, H);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const inside = box && x >= box.x && x < box.x + box.w && y >= box.y && y < box.y + box.h;
      const scene = inside ? box.light : cells[Math.floor((y / H) * 30) * 40 + Math.floor((Math.min(W - 1, x + shift) / W) * 40)];
      const value = Math.max(0, scene * 2 ** stops * (1 + 0.06 * (noise() - 0.5)));
      for (const c of ['r', 'g', 'b'] as const) light[c][i] = Math.min(1, value);
      top.data[i] = linearToSrgb(Math.min(1, value));
    }
  }
  return { light, top, cover: createPlane(W, H, new Float32Array(W * H).fill(1)) };
}
const setOf = (frames: Record<string, Guide>): GuideSet => ({ width: W, height: H, frames: new Map(Object.entries(frames)), merge: createLight(W, H) });
const STOPS = { a: 0, b: -1, c: 1 };

describe('what moved between ambient frames', () => {
  test('is found in the frame that has it, where it is', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 20, max: 230 }), fc.integer({ min: 20, max: 130 }), fc.constantFrom('a', 'b', 'c'), (seed, x, y, who) => {
      const box = { x, y, w: 40, h: 50, light: 0.4 };
      const guides = setOf(Object.fromEntries(Object.entries(STOPS).map(([id, stops]) => [id, guideOf(seed, stops, id === who ? box : null)])));
      const [found, ...more] = findChanges(guides, STOPS, Object.keys(STOPS), nothing);
      expect(more).toEqual([]);
      expect(found.frame).toBe(who);
      expect(Math.abs(found.where[0] - x - 20) + Math.abs(found.where[1] - y - 25)).toBeLessThan(20);
      expect(found.share).toBeGreaterThan(0.5 * ((40 * 50) / (W * H)));
    }), { numRuns: 10, seed: 20261126 });
  });
  test('is not invented: noise, a frame half a pixel off, a lamp that is clipped', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), (seed) => {
      const lamp = { x: 100, y: 40, w: 30, h: 30, light: 6 };
      const guides = setOf({ a: guideOf(seed, 0, lamp), b: guideOf(seed, -1, lamp, 1), c: guideOf(seed, 1, lamp) });
      expect(findChanges(guides, STOPS, ['a', 'b', 'c'], nothing)).toEqual([]);
    }), { numRuns: 10, seed: 20261126 });
    expect(findChanges(setOf({ a: guideOf(3, 0, null) }), STOPS, ['a'], nothing)).toEqual([]);
  });
  test('of two frames, the one whose outline is there has it; of three, one may lack what the others have', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.boolean(), (seed, second) => {
      const box = { x: 90, y: 50, w: 50, h: 70, light: 0.55 };
      const two = setOf({ a: guideOf(seed, 0, second ? null : box), b: guideOf(seed, -1, second ? box : null) });
      expect(findChanges(two, STOPS, ['a', 'b'], null)).toMatchObject([{ frame: second ? 'b' : 'a', what: 'shows' }]);
      const three = setOf({ a: guideOf(seed, 0, box), b: guideOf(seed, -1, box), c: guideOf(seed, 0, null) });
      expect(findChanges(three, { a: 0, b: -1, c: 0 }, ['a', 'b', 'c'], null)).toMatchObject([{ frame: 'c', what: 'lacks' }]);
    }), { numRuns: 10, seed: 20261126 });
  });
  test('is found, too, where its own frame is too dark to say how much, and others too bright', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), (seed) => {
      // At -2 stops the thing is black; at +4 most of the room is white.
      const stops = { a: 0, b: -2, c: 4 };
      const box = { x: 110, y: 60, w: 50, h: 60, light: 0.01 };
      const guides = setOf({ a: guideOf(seed, 0, null), b: guideOf(seed, -2, box), c: guideOf(seed, 4, null) });
      expect(findChanges(guides, stops, ['a', 'b', 'c'], nothing)).toMatchObject([{ frame: 'b', what: 'shows' }]);
    }), { numRuns: 10, seed: 20261126 });
  });
  test('what dark and clipped frames leave open is no contradiction', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: -6, max: -3 }), fc.integer({ min: 3, max: 6 }), (seed, dark, bright) => {
      const guides = setOf({ a: guideOf(seed, 0, null), b: guideOf(seed, dark, null), c: guideOf(seed, bright, null) });
      expect(findChanges(guides, { a: 0, b: dark, c: bright }, ['a', 'b', 'c'], nothing)).toEqual([]);
    }), { numRuns: 10, seed: 20261126 });
  });
  test('is not looked for in the view', () => {
    const guides = setOf({ a: guideOf(5, 0, null), b: guideOf(5, -1, { x: 50, y: 50, w: 60, h: 60, light: 0.5 }), c: guideOf(5, 1, null) });
    const view = createPlane(W, H);
    for (let y = 40; y < 120; y++) for (let x = 40; x < 120; x++) view.data[y * W + x] = 1;
    expect(findChanges(guides, STOPS, ['a', 'b', 'c'], nothing)).toHaveLength(1);
    expect(findChanges(guides, STOPS, ['a', 'b', 'c'], view)).toEqual([]);
  });
});
