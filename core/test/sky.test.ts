import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findSky } from '../src/found/findSky';
import { createLight, createPlane, mapPlane, type Plane } from '../src/image/plane';
import type { Guide, GuideSet } from '../src/mix/guides';
import { seeded } from './kernelMemory';

const [W, H] = [240, 160];
type Colour = readonly [number, number, number];
const plane = (f: (x: number, y: number) => number): Plane => createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W))));
/** A picture of colours, each pixel a little off. */
function taken(colour: (x: number, y: number) => Colour, seed: number, exposure = 1): Guide {
  const next = seeded(seed);
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) {
    const noise = 0.99 + 0.02 * next();
    [light.r[i], light.g[i], light.b[i]] = colour(i % W, Math.floor(i / W)).map((v) => Math.min(1, v * noise * exposure)) as [number, number, number];
  }
  return { light, top: mapPlane(plane(() => 0), (_, i) => Math.sqrt(Math.max(light.r[i], light.g[i], light.b[i]))), cover: plane(() => 1) };
}
const setOf = (...guides: Guide[]): GuideSet => ({ width: W, height: H, frames: new Map(guides.map((guide, k) => [`f${k}`, guide])), merge: guides[0].light });
const agreement = (found: Plane, truth: (x: number, y: number) => boolean): number => {
  let [both, either] = [0, 0];
  found.data.forEach((v, i) => { const is = truth(i % W, Math.floor(i / W)); if (v > 0 && is) both++; if (v > 0 || is) either++; });
  return both / either;
};

describe('the sky', () => {
  const leaf = seeded(5);
  const leaves = Array.from({ length: W * H }, () => 0.5 + leaf());
  /** Dusk: blue above, warm at the horizon, a cloud, trees and a house before it, a lawn with a lit path. */
  const dusk = (roof: number, horizon: number) => {
    const isSky = (x: number, y: number): boolean => y < horizon - 6 * Math.sin(x / 19) && !(x > 80 && x < 170 && y > roof);
    const colour = (x: number, y: number): Colour => {
      const down = y / horizon;
      const cloud = 1 + 0.25 * Math.exp(-(((x - 50) / 40) ** 2) - ((y - 30) / 14) ** 2);
      if (isSky(x, y)) return [cloud * (0.14 + 0.3 * down ** 2), cloud * (0.22 + 0.12 * down), cloud * (0.5 - 0.16 * down)];
      if (x > 80 && x < 170 && y > roof) return y < roof + 18 ? [0.1, 0.06, 0.05] : (x - 80) % 30 < 12 && y % 40 < 20 ? [0.9, 0.75, 0.4] : [0.16, 0.15, 0.14];
      return y < horizon + 25 ? [0.03 * leaves[y * W + x], 0.05 * leaves[y * W + x], 0.02 * leaves[y * W + x]] : [0.1, 0.14, 0.05];
    };
    return { isSky, colour };
  };

  test('outside, at dusk, is all of it from the deep blue to the warm light over the trees, and nothing else', () => {
    fc.assert(fc.property(fc.integer({ min: 25, max: 60 }), fc.integer({ min: 80, max: 110 }), fc.nat(99), (roof, horizon, seed) => {
      const { isSky, colour } = dusk(roof, horizon);
      expect(agreement(findSky(setOf(taken(colour, seed), taken(colour, seed + 1, 0.25)), plane(() => 0)), isSky)).toBeGreaterThan(0.94);
    }), { numRuns: 15 });
  });

  /** A window with a bar across, a sky over a wood, and water that mirrors the sky in its lower pane. */
  const isGlass = (x: number, y: number): boolean => x >= 70 && x < 170 && y >= 30 && y < 120 && !(y >= 78 && y < 83);
  const behind = (wood: number, water: number) => (x: number, y: number): Colour => {
    if (!isGlass(x, y)) return [0.5, 0.5, 0.5];
    if (y < wood) return [0.5, 0.62, 0.8];
    if (y < water) return [0.05 * leaves[y * W + x], 0.09 * leaves[y * W + x], 0.03 * leaves[y * W + x]];
    return [0.42, 0.52, 0.66];
  };
  const glass = plane((x, y) => (isGlass(x, y) ? 1 : 0));

  test('through a window is what lies above the wood, not the water below it; where it goes on behind a bar, both parts', () => {
    for (const [wood, water] of [[55, 90], [65, 100], [95, 110]] as const) {
      const found = findSky(setOf(taken(behind(wood, water), 3, 2.2), taken(behind(wood, water), 4, 0.6)), glass);
      expect(agreement(found, (x, y) => isGlass(x, y) && y < wood), `wood from ${wood}`).toBeGreaterThan(0.93);
    }
  });

  test('is nowhere in a room without a window, and not in a view of nothing but leaves', () => {
    expect(findSky(setOf(taken((x, y) => [0.3 + 0.001 * x, 0.3, 0.28 + 0.0005 * y], 1)), plane(() => 0)).data.every((v) => v === 0)).toBe(true);
    const found = findSky(setOf(taken(behind(0, 200), 2)), glass);
    expect(found.data.reduce((sum, v) => sum + v, 0)).toBeLessThan(0.02 * W * H);
  });
});
