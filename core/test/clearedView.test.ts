import { describe, expect, test } from 'vitest';
import { linearToSrgb } from '../src/colour/transfer';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import type { Guide, GuideSet } from '../src/mix/guides';
import { clearedView } from '../src/propose/clearedView';
import { ownRadiance } from '../src/window/ownRadiance';
import { seeded } from './kernelMemory';

const [W, H] = [200, 120];
const plane = (f: (x: number, y: number) => number): Plane => createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W))));
const isGlass = (x: number, y: number): boolean => x >= 40 && x < 160 && y >= 20 && y < 90;

describe('a view whose glass mirrors the room', () => {
  const next = seeded(31);
  /** Trees under a sky. */
  const outside = plane((x, y) => (y < 45 ? 0.5 : 0.12 + 0.05 * Math.sin(x / 3) * Math.cos(y / 2)));
  const guideOf = (light: Plane): Guide => ({ light: { width: W, height: H, r: light.data, g: light.data, b: light.data }, top: mapPlane(light, (v) => linearToSrgb(Math.min(1, v))), cover: mapPlane(light, () => 1) });
  /** A frame of so many stops more than the reference, in which the glass mirrors some more light, or something hides the view. */
  const frame = (stops: number, mirrored: (x: number, y: number) => number, hides: (x: number, y: number) => boolean = () => false, dark = 0.02): Guide => guideOf(plane((x, y) => (2 ** stops) * (isGlass(x, y) ? (hides(x, y) ? dark : outside.data[y * W + x] + mirrored(x, y)) : 0.3) * (1 + 0.02 * (next() - 0.5))));
  const glass = plane((x, y) => (isGlass(x, y) ? 1 : 0));
  const asked = (others: readonly (readonly [string, Guide])[], mirrored: (x: number, y: number) => number, partly = false, fired = true): ReturnType<typeof clearedView> => {
    const frames = new Map([['first', frame(-0.5, mirrored)], ...others]);
    const exposures = { first: -0.5, other: -1 };
    const guides: GuideSet = { width: W, height: H, frames, merge: frames.get('first')!.light };
    return clearedView(guides, exposures, ownRadiance(guides, exposures), glass, 'first', fired, partly ? [] : others.map(([id]) => id), partly ? others.map(([id]) => id) : []);
  };
  const left = (x: number): number => (x < 85 ? 0.08 : 0);

  test('is taken from a frame whose glass is clear there, and only there', () => {
    const found = asked([['other', frame(-1, (x) => (x > 115 ? 0.08 : 0))]], left);
    expect(found?.frame).toBe('other');
    const xs = found!.area.kind === 'outline' ? found!.area.rings.flat().map(({ at }) => at[0] * W) : [];
    expect(Math.max(...xs)).toBeLessThan(100);
    expect(Math.min(...xs)).toBeLessThan(45);
  });
  test('a flash that is mirrored, small and clipped, is taken from a frame that shows the view there, though its sky is clipped elsewhere', () => {
    const disc = (x: number, y: number): number => { const r = Math.hypot(x - 100, y - 70); return r < 7 ? 40 : r < 9 ? 0.6 : 0; };
    const skyOf = (from: number) => (_: number, y: number): number => (y < from ? 30 : 0);
    const found = asked([['other', frame(-1, skyOf(45))]], disc, true);
    expect(found?.frame).toBe('other');
    const rings = found!.area.kind === 'outline' ? found!.area.rings.flat() : [];
    for (const { at } of rings) expect(Math.hypot(at[0] * W - 100, at[1] * W - 70)).toBeLessThan(20);
    // Under a haze it is brighter by so much as the haze is, and is taken so much darker; where it mirrors a flash of its own there, it is not taken.
    const hazy = asked([['other', frame(-1, (x, y) => 0.3 * outside.data[y * W + x])]], disc, true)!;
    expect(hazy.brighter).toBeCloseTo(Math.log2(1.3), 1);
    expect(found!.brighter).toBeCloseTo(0, 1);
    expect(asked([['other', frame(-1, (x, y) => 0.9 * outside.data[y * W + x])]], disc, true)).toBeNull();
    expect(asked([['other', frame(-1, (x, y) => (Math.hypot(x - 100, y - 70) < 8 ? 0.3 : 0))]], disc, true)).toBeNull();
    // Where no flash fired, it is none that is clipped.
    expect(asked([['other', frame(-1, skyOf(45))]], disc, true, false)).toBeNull();
    // What is clipped in the other frame, too, nobody has.
    expect(asked([['other', frame(-1, skyOf(80))]], disc, true)).toBeNull();
  });
  test('stays as it is where no other frame is clear, where nothing is mirrored, and where something hides it in the other', () => {
    expect(asked([['other', frame(-1, left)]], left)).toBeNull();
    expect(asked([['other', frame(-1, () => 0.05)]], () => 0)).toBeNull();
    expect(asked([['other', frame(-1, () => 0, (x, y) => Math.hypot(x - 60, y - 70) < 14)]], () => 0)).toBeNull();
    // Also somebody so dark that the frame cannot tell.
    for (const dark of [0.02, 0.001]) expect(asked([['other', frame(-1, () => 0, (x, y) => Math.hypot(x - 60, y - 70) < 14, dark)]], left)).toBeNull();
    expect(asked([], left)).toBeNull();
  });
});
