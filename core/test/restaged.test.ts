import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { clearOf, findRestaged } from '../src/found/findRestaged';
import { createLight, createPlane, type Light } from '../src/image/plane';
import type { Guide, GuideSet } from '../src/mix/guides';
import { seeded } from './kernelMemory';

const [W, H] = [400, 260];
const nothing = createPlane(W, H);

interface Thing { readonly x: number; readonly y: number; readonly w: number; readonly h: number; readonly seed: number }

/** Paint of a room in cells, with things that have cells of their own before it. */
function paintOf(seed: number, things: readonly Thing[]): Float32Array {
  const next = seeded(seed);
  const cells = Array.from({ length: 26 * 40 }, () => 0.1 + 0.5 * next());
  const paint = Float32Array.from({ length: W * H }, (_, i) => cells[Math.floor(Math.floor(i / W) / 10) * 40 + Math.floor((i % W) / 10)]);
  for (const { x, y, w, h, seed: own } of things) {
    const inside = seeded(own);
    const parts = Array.from({ length: 400 }, () => 0.03 + 0.3 * inside());
    for (let v = 0; v < h; v++) for (let u = 0; u < w; u++) paint[(y + v) * W + x + u] = parts[(Math.floor(v / 7) * 17 + Math.floor(u / 7)) % 400];
  }
  return paint;
}

/** That room under light that comes from one side. @param relief places whose forms are bright on the side that light comes from */
function lit(paint: Float32Array, from: number, noiseSeed: number, relief: Thing | null = null): Guide {
  const noise = seeded(noiseSeed);
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const inside = relief && x >= relief.x && x < relief.x + relief.w && y >= relief.y && y < relief.y + relief.h;
    // Folds: where one light has its bright side, the other one has its dark one.
    const base = inside ? 0.3 * 2 ** (Math.sign(from) * (Math.floor((x - relief.x) / 6) % 2 ? 0.6 : -0.6)) : paint[i];
    const v = base * 2 ** (from * (x / W - 0.5)) * (0.98 + 0.04 * noise());
    for (const c of ['r', 'g', 'b'] as const) light[c][i] = v;
  }
  return { light, top: createPlane(W, H), cover: createPlane(W, H, new Float32Array(W * H).fill(1)) };
}

const setOf = (merge: Light, frames: Record<string, Guide>): GuideSet => ({ width: W, height: H, merge, frames: new Map(Object.entries(frames)) });
const places = fc.record({ x: fc.integer({ min: 20, max: 300 }), y: fc.integer({ min: 20, max: 180 }), w: fc.integer({ min: 50, max: 70 }), h: fc.integer({ min: 40, max: 60 }), seed: fc.integer({ min: 1, max: 9999 }) });

describe('what was moved while flashes were fired', () => {
  test('is told where several frames show another thing, whichever light falls on it; nothing else is', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), places, (seed, thing) => {
      const [before, after] = [paintOf(seed, []), paintOf(seed, [thing])];
      const guides = setOf(lit(before, 0.1, 1).light, { a: lit(before, 1.2, 2), b: lit(before, -1.4, 3), c: lit(after, 0.9, 4), d: lit(after, -1, 5) });
      const found = findRestaged(guides, ['a', 'b', 'c', 'd'], nothing);
      expect(found).toHaveLength(1);
      expect(found[0].frames).toEqual(['c', 'd']);
      const clear = clearOf(found[0].pixels, guides);
      const within = (x: number, y: number, grown: number): boolean => x >= thing.x - grown && x < thing.x + thing.w + grown && y >= thing.y - grown && y < thing.y + thing.h + grown;
      let [left, touched] = [0, 0];
      for (let i = 0; i < clear.length; i++) {
        if (within(i % W, Math.floor(i / W), 0)) left += clear[i] > 0.1 ? 1 : 0;
        else if (!within(i % W, Math.floor(i / W), 40)) touched += clear[i] < 1 ? 1 : 0;
      }
      // Here and there a thing happens to look like what it hides.
      expect(left).toBeLessThan(0.08 * thing.w * thing.h);
      expect(touched).toBe(0);
      // What lies in the view is not looked at.
      expect(findRestaged(guides, ['a', 'b', 'c', 'd'], createPlane(W, H, new Float32Array(W * H).fill(1)))).toEqual([]);
    }), { numRuns: 8, seed: 20261130 });
  });

  test('is not what light does: folds that are bright on their other side, one frame by itself, too few flashes', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), places, (seed, thing) => {
      const room = paintOf(seed, []);
      const folds = setOf(lit(room, 0.3, 1, thing).light, { a: lit(room, 1.2, 2, thing), b: lit(room, 0.8, 3, thing), c: lit(room, -0.9, 4, thing), d: lit(room, -1.3, 5, thing) });
      expect(findRestaged(folds, ['a', 'b', 'c', 'd'], nothing)).toEqual([]);
      const once = setOf(lit(room, 0.1, 1).light, { a: lit(room, 1.2, 2), b: lit(room, -1.4, 3), c: lit(room, 0.9, 4), d: lit(paintOf(seed, [thing]), -1, 5) });
      expect(findRestaged(once, ['a', 'b', 'c', 'd'], nothing)).toEqual([]);
      expect(findRestaged(once, ['a', 'c', 'd'], nothing)).toEqual([]);
    }), { numRuns: 8, seed: 20261130 });
  });
});
