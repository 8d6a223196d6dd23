import { describe, expect, test } from 'vitest';
import type { HealPatch, Mix, Pass, Quad } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import { wholeGrid } from '../src/graph/placedMix';
import { H, IDS, quadAt, ready, render, use, W } from './evaluation';

describe('a place that is healed', () => {
  const under: Pass = { id: 'u', name: '', within: null, why: '', kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] };
  const mixOf = (passes: readonly Pass[]): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: Object.fromEntries(IDS.map((id, k) => [id, use(k)])), merge: ['a', 'b'], passes });
  const square = (x: number, y: number): Quad => quadAt(x / W, y / W, 64 / W, 48 / W);
  const heal = (patches: readonly HealPatch[], more: object = {}): Pass => ({ ...under, id: 'h', kind: 'heal', mask: [], matched: false, softness: 0, patches, ...more }) as unknown as Pass;
  const at = (picture: Uint8Array, x: number, y: number): readonly number[] => [0, 1, 2].map((c) => picture[(y * W + x) * 3 + c]);

  test('shows to the value what it is taken from, shifted or mirrored, and nothing changes beside it', () => {
    const plain = render(ready(mixOf([under])), wholeGrid(mixOf([under]), W, H));
    const shifted = mixOf([under, heal([{ to: square(100, 80), from: square(180, 140), gains: [1, 1, 1], rings: [] }])]);
    const [a, b, c, d] = square(180, 140);
    const mirrored = mixOf([under, heal([{ to: square(100, 80), from: [b, a, d, c], gains: [1, 1, 1], rings: [] }])]);
    const [first, second] = [shifted, mirrored].map((mix) => render(ready(mix), wholeGrid(mix, W, H)));
    for (let y = 0; y < H; y += 3) for (let x = 0; x < W; x += 3) {
      const [u, v] = [x - 100, y - 80];
      // The edge itself is half in.
      if (u > 1 && v > 1 && u < 62 && v < 46) {
        at(first, x, y).forEach((value, k) => expect(Math.abs(value - at(plain, x + 80, y + 60)[k])).toBeLessThanOrEqual(1));
        at(second, x, y).forEach((value, k) => expect(Math.abs(value - at(plain, 180 + 64 - u, y + 60)[k])).toBeLessThanOrEqual(1));
      } else if (u < -2 || v < -2 || u > 66 || v > 50) expect(at(first, x, y)).toEqual(at(plain, x, y));
    }
  });

  test('follows what changes below, and what was healed there', () => {
    const dark: Pass = { ...under, id: 'd', kind: 'fill', tone: [0.02, 0.02, 0.02], ramp: null, around: false, mask: [{ id: 'x', kind: 'box', join: 'add', inverted: false, corners: square(180, 140), softness: 0 }] } as unknown as Pass;
    const patch = { to: square(100, 80), from: square(180, 140), gains: [1, 1, 1], rings: [] } as const;
    const below = mixOf([under, dark, heal([patch])]);
    const twice = mixOf([under, dark, heal([patch]), heal([{ ...patch, to: square(20, 200), from: square(100, 80) }], { id: 'h2' })]);
    const tone = at(render(ready(below), wholeGrid(below, W, H)), 210, 160);
    expect(at(render(ready(below), wholeGrid(below, W, H)), 130, 100)).toEqual(tone);
    expect(at(render(ready(twice), wholeGrid(twice, W, H)), 50, 220)).toEqual(tone);
  });

  test('its own exposure counts where its light is brought to what lies around', () => {
    const mask = [{ id: 'm', kind: 'box', join: 'add', inverted: false, corners: quadAt(112 / W, 92 / W, 40 / W, 24 / W), softness: 0 }];
    const [as, brighter] = [0, 1].map((exposure) => {
      const mix = mixOf([under, heal([{ to: square(100, 80), from: square(180, 140), gains: [1, 1, 1], rings: [] }], { mask, matched: true, exposure })]);
      return render(ready(mix), wholeGrid(mix, W, H));
    });
    let sum = 0;
    for (let y = 96; y < 112; y++) for (let x = 116; x < 148; x++) sum += at(brighter, x, y)[1] - at(as, x, y)[1];
    expect(sum / (16 * 32)).toBeGreaterThan(15);
  });
});
