import { describe, expect, test } from 'vitest';
import { createLight, createPlane, mapPlane } from '../src/image/plane';
import type { GuideSet } from '../src/mix/guides';
import { labelRegions } from '../src/window/labelRegions';
import { withoutLamps } from '../src/window/withoutLamps';

const [W, H] = [200, 120];
const inWindow = (x: number, y: number): boolean => x >= 30 && x < 90 && y >= 20 && y < 80;
const inShade = (x: number, y: number): boolean => x >= 150 && x < 160 && y >= 50 && y < 66;

/** A window, and beside it something small; how bright each is, and how much warmer the small one. */
function scene(bright: number, warm: number) {
  const own = mapPlane(createPlane(W, H), (_, i) => (inWindow(i % W, Math.floor(i / W)) ? 1.5 : inShade(i % W, Math.floor(i / W)) ? bright : 0));
  const frame = (stops: number) => {
    const light = createLight(W, H);
    for (let i = 0; i < own.data.length; i++) {
      const v = own.data[i] * 2 ** stops;
      light.g[i] = Math.min(1, v);
      light.r[i] = Math.min(1, v * (inShade(i % W, Math.floor(i / W)) ? Math.sqrt(warm) : 1));
      light.b[i] = Math.min(1, v / (inShade(i % W, Math.floor(i / W)) ? Math.sqrt(warm) : 1));
    }
    return { light, top: createPlane(W, H, light.r.map((v, i) => Math.max(v, light.g[i], light.b[i]))), cover: mapPlane(own, () => 1) };
  };
  // In the first frame both are white.
  const frames = new Map([['a', frame(2)], ['b', frame(-4)]]);
  const guides: GuideSet = { width: W, height: H, merge: frames.get('a')!.light, frames };
  return withoutLamps(labelRegions(mapPlane(own, (v) => (v > 0 ? 1 : 0))), guides, own).length;
}

describe('what looks like a view', () => {
  test('is a lamp’s shade where it is small, warmer than the view and brighter than all of it', () => {
    expect(scene(4, 1.5)).toBe(1);
  });
  test('is a view where it is as cool, or no brighter: brick in the sun', () => {
    expect(scene(4, 1.05)).toBe(2);
    expect(scene(1.5, 2)).toBe(2);
  });
});
