import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { changeBorder, type Bordered } from '../src/area/border';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { seeded } from './kernelMemory';

const [W, H] = [400, 260];
const disc = (cx: number, cy: number, radius: number): Plane => mapPlane(createPlane(W, H), (_, i) => Math.min(1, Math.max(0, radius + 0.5 - Math.hypot((i % W) - cx, Math.floor(i / W) - cy))));
/** What a border makes of its area, as the guide has it. */
const covered = (made: Bordered, guidance: Plane): Plane => ('plane' in made ? made.plane : mapPlane(made.a, (v, i) => Math.min(1, Math.max(0, v * guidance.data[i] + made.b.data[i]))));
const border = (change: { grow?: number; soften?: number; snap?: string }) => ({ grow: 0, soften: 0, snap: null, ...change });

describe('the border of an area', () => {
  const random = seeded(8);
  const guidance = mapPlane(createPlane(W, H), (_, i) => (Math.hypot((i % W) - 150, Math.floor(i / W) - 120) < 34 ? -1 : -4) + 0.1 * random());

  test('is grown and shrunk by as much as is said', () => {
    fc.assert(fc.property(fc.integer({ min: 20, max: 60 }), fc.integer({ min: -12, max: 12 }).filter((v) => v !== 0), (radius, by) => {
      const { data } = covered(changeBorder(disc(180, 130, radius), border({ grow: by / W }), null), guidance);
      const across = data.subarray(130 * W, 131 * W).reduce((sum, v) => sum + v, 0);
      expect(Math.abs(across - (2 * (radius + by) + 1))).toBeLessThan(2);
    }), { numRuns: 30 });
  });
  test('goes on an edge of the frame that lies beside it', () => {
    const { data } = covered(changeBorder(disc(150, 120, 31), border({ snap: 'f' }), guidance), guidance);
    const across = data.subarray(120 * W, 121 * W).reduce((sum, v) => sum + v, 0);
    expect(Math.abs(across - 67)).toBeLessThan(2);
  });
  test('is the same whether anything lies far off or not, however it is changed', () => {
    const changes = [{ grow: 0.02 }, { grow: -0.015 }, { soften: 0.03 }, { snap: 'f' }, { grow: 0.01, soften: 0.01, snap: 'f' }];
    fc.assert(fc.property(fc.constantFrom(...changes), fc.integer({ min: 130, max: 180 }), fc.integer({ min: 105, max: 140 }), fc.integer({ min: 15, max: 45 }), (change, cx, cy, radius) => {
      const alone = disc(cx, cy, radius);
      const withDots = mapPlane(alone, (v, i) => (i === 0 || i === W * H - 1 ? 1 : v));
      const [a, b] = [alone, withDots].map((each) => covered(changeBorder(each, border(change), guidance), guidance).data);
      for (let y = 30; y < H - 30; y++) for (let x = 30; x < W - 30; x++) expect(Math.abs(a[y * W + x] - b[y * W + x])).toBeLessThan(1e-4);
      expect(a.some((v) => v > 0.9)).toBe(true);
    }), { numRuns: 25 });
  });
  test('of nothing is nothing', () => {
    expect(covered(changeBorder(createPlane(W, H), border({ grow: 0.02, soften: 0.01, snap: 'f' }), guidance), guidance).data.every((v) => v === 0)).toBe(true);
  });
});
