import { describe, expect, test } from 'vitest';
import { createPlane, type Plane } from '../src/image/plane';
import { besideHotSpots, leaveToOthers } from '../src/light/besideHotSpots';

const [W, H] = [160, 120];
const disc = (spots: readonly (readonly [x: number, y: number, r: number])[]): Plane =>
  createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => (spots.some(([x, y, r]) => Math.hypot((i % W) - x, Math.floor(i / W) - y) < r) ? 1 : 0)));
const at = (out: Float32Array, x: number, y: number): number => out[y * W + x];

describe('places beside what a flash burns out', () => {
  test('are trusted the more the farther off they lie, a larger spot reaching farther', () => {
    const out = besideHotSpots(disc([[40, 60, 12], [120, 60, 6]]));
    expect(at(out, 40, 60)).toBe(0);
    for (let d = 12; d < 45; d++) expect(at(out, 40, 60 + d + 1)).toBeGreaterThanOrEqual(at(out, 40, 60 + d));
    expect(at(out, 40, 60 - 12 - 30)).toBeGreaterThan(0.95);
    // Ten pixels off the rim.
    expect(at(out, 120, 60 + 16)).toBeGreaterThan(at(out, 40, 60 + 22) + 0.2);
  });

  test('are left to others where these light them, and kept where none does', () => {
    const beside = [besideHotSpots(disc([[40, 60, 12]])), besideHotSpots(disc([]))];
    const whole = (v: number): Plane => createPlane(W, H, new Float32Array(W * H).fill(v));
    const rim = 60 * W + 40 + 14;
    const [shared, alone] = [[whole(1), whole(1)], [whole(1)]];
    leaveToOthers(shared, beside, [whole(1), whole(0.9)]);
    expect(shared[0].data[rim]).toBeLessThan(0.3);
    expect(shared[1].data.every((v) => v === 1)).toBe(true);
    leaveToOthers(alone, beside, [whole(1)]);
    expect(alone[0].data.every((v) => v === 1)).toBe(true);
    const dark = [whole(1), whole(1)];
    leaveToOthers(dark, beside, [whole(1), whole(0)]);
    expect(dark[0].data[rim]).toBe(1);
  });

  test('a glint has no halo, nor has nothing', () => {
    expect(besideHotSpots(disc([[40, 60, 3]])).every((v) => v === 1)).toBe(true);
    expect(besideHotSpots(disc([])).every((v) => v === 1)).toBe(true);
  });
});
