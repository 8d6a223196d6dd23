import { describe, expect, test } from 'vitest';
import { linearToSrgb } from '../src/colour/transfer';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { mergeGuides, type Guide, type GuideSet } from '../src/mix/guides';
import { darkerFrame } from '../src/propose/darkerFrame';
import { seeded } from './kernelMemory';

const [W, H] = [200, 120];
const plane = (f: (x: number, y: number) => number): Plane => createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W))));
const nothing = plane(() => 0);

describe('what is clipped in all frames of a merge', () => {
  const next = seeded(32);
  /** A wall, a lamp with a shade that is brighter towards its middle, and the light it throws on the wall. */
  const room = plane((x, y) => {
    const r = Math.hypot(x - 60, y - 60);
    return r < 12 ? 5 - 0.2 * r : 0.3 + 1.2 * Math.exp(-(r - 12) / 10);
  });
  const isLamp = (x: number, y: number): boolean => Math.hypot(x - 60, y - 60) < 12;
  const frame = (stops: number, more: (x: number, y: number) => number = () => 0, light = room): Guide => {
    const shown = mapPlane(light, (v, i) => Math.min(1, 2 ** stops * (v + more(i % W, Math.floor(i / W))) * (1 + 0.01 * (next() - 0.5))));
    return { light: { width: W, height: H, r: shown.data, g: shown.data, b: shown.data }, top: mapPlane(shown, linearToSrgb), cover: mapPlane(shown, () => 1) };
  };
  const asked = (others: Readonly<Record<string, readonly [number, Guide]>>, glass = nothing): string | null => {
    const frames = new Map<string, Guide>([['first', frame(0)], ...Object.entries(others).map(([id, [, guide]]) => [id, guide] as const)]);
    const exposures = { first: 0, ...Object.fromEntries(Object.entries(others).map(([id, [stops]]) => [id, stops])) };
    const guides: GuideSet = { width: W, height: H, frames, merge: frames.get('first')!.light };
    return darkerFrame(guides, exposures, ['first'], Object.keys(others), glass);
  };

  test('comes from a darker frame of the same light, and the merge has its shape then', () => {
    const dark = frame(-3);
    expect(asked({ dark: [-3, dark] })).toBe('dark');
    const merge = mergeGuides([{ guide: frame(0), stops: 0 }, { guide: dark, stops: -3 }]);
    for (let i = 0; i < room.data.length; i += 7) if (room.data[i] > 1.5) expect(Math.abs(Math.log2(merge.g[i] / room.data[i]))).toBeLessThan(0.05);
  });
  test('of two the one whose light is more like it', () => {
    expect(asked({ some: [-3, frame(-3, () => 0.4)], same: [-3.2, frame(-3.2)] })).toBe('same');
  });
  test('a flash that reaches the places may have lit another frame elsewhere, not there', () => {
    expect(asked({ far: [-3, frame(-3, (x) => (x > 140 ? 3 : 0))] })).toBe('far');
    expect(asked({ near: [-3, frame(-3, () => 2)] })).toBeNull();
  });
  test('not from frames with the lamp off, with something before it, clipped as well, or brighter', () => {
    const off = plane(() => 0.3);
    expect(asked({ off: [-3, frame(-3, undefined, off)] })).toBeNull();
    const hidden = mapPlane(room, (v, i) => (isLamp(i % W, Math.floor(i / W)) && i % W > 62 ? 0.05 : v));
    expect(asked({ hidden: [-3, frame(-3, undefined, hidden)] })).toBeNull();
    expect(asked({ clipped: [-0.5, frame(-0.5)] })).toBeNull();
    expect(asked({ brighter: [1, frame(1)] })).toBeNull();
  });
  test('not where the view alone is clipped, which has a frame of its own, nor where nothing is', () => {
    expect(asked({ dark: [-3, frame(-3)] }, plane(() => 1))).toBeNull();
    const calm = plane(() => 0.4);
    const guides: GuideSet = { width: W, height: H, frames: new Map([['first', frame(0, undefined, calm)], ['dark', frame(-3, undefined, calm)]]), merge: frame(0).light };
    expect(darkerFrame(guides, { first: 0, dark: -3 }, ['first'], ['dark'], nothing)).toBeNull();
  });
});
