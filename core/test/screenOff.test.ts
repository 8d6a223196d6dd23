import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { commandSchema, type FillPass, type HealPass, type Mix } from '@zaddle/document';
import { screenOff } from '../src/clean/screenOff';
import { createLight, type Light } from '../src/image/plane';
import { inventedReadings } from '../src/read/inventedReadings';

const [W, H] = [120, 90];
const isScreen = (x: number, y: number): boolean => x >= 40 && x < 80 && y >= 30 && y < 56;
const screen = Uint8Array.from({ length: W * H }, (_, i) => (isScreen(i % W, Math.floor(i / W)) ? 1 : 0));
/** A wall on which light falls off by so many stops a pixel to the right and down, with a screen that shows something. */
function room(sx: number, sy: number, level: number, shown: number, tint: readonly number[] = [1, 1, 1]): Light {
  const light = createLight(W, H);
  [light.r, light.g, light.b].forEach((channel, c) => {
    for (let i = 0; i < W * H; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      channel[i] = isScreen(x, y) ? shown : level * tint[c] * 2 ** (sx * (x - 60) + sy * (y - 43));
    }
  });
  return light;
}
const toReference = [2, 0, 300, 0, 2, 100, 0, 0, 1] as const;
const FULL = 1000;
const luma = (tone: readonly number[]): number => 0.2627 * tone[0] + 0.678 * tone[1] + 0.0593 * tone[2];

describe('a screen that is off', () => {
  test('is far darker than the room, brighter on the side that the light falls from, whatever the room', () => {
    fc.assert(fc.property(fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }), fc.double({ min: 0.008, max: 0.03, noNaN: true }), fc.double({ min: 0.05, max: 0.8, noNaN: true }), (angle, steep, level) => {
      const [sx, sy] = [steep * Math.cos(angle), steep * Math.sin(angle)];
      const { tone, ramp, opacity } = screenOff(room(sx, sy, level, 0.9), screen, toReference, FULL)!;
      expect(luma(ramp!.tone)).toBeGreaterThan(luma(tone));
      expect(luma(ramp!.tone)).toBeLessThan(0.15 * level);
      const along = [ramp!.to[0] - ramp!.from[0], ramp!.to[1] - ramp!.from[1]];
      expect((along[0] * sx + along[1] * sy) / (Math.hypot(...along) * steep)).toBeGreaterThan(0.97);
      // Both ends lie on the screen, or at its rim.
      for (const [x, y] of [ramp!.from, ramp!.to]) {
        expect((x * FULL - 300) / 2).toBeGreaterThan(38);
        expect((x * FULL - 300) / 2).toBeLessThan(82);
        expect((y * FULL - 100) / 2).toBeGreaterThan(14);
        expect((y * FULL - 100) / 2).toBeLessThan(72);
      }
      expect(opacity).toBeGreaterThan(0.95);
    }), { numRuns: 40 });
  });

  test('keeps some of its reflections where it is dark already, takes a little of the room’s colour, and is taken as a pass', () => {
    const dark = screenOff(room(0.01, 0, 0.4, 0.012, [1.4, 1, 0.6]), screen, toReference, FULL)!;
    expect(dark.opacity).toBeLessThan(0.9);
    expect(dark.tone[0] / dark.tone[2]).toBeGreaterThan(1.2);
    expect(dark.tone[0] / dark.tone[2]).toBeLessThan(1.4 / 0.6);
    const pass: FillPass = { id: 's', name: 'Screen off', why: '', within: null, kind: 'fill', on: true, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, around: false, ...dark };
    expect(commandSchema.validate({ kind: 'addPass', pass, index: 0 }, { convert: false }).error).toBeUndefined();
  });

  test('is not told where nothing is seen about it, or nothing is meant', () => {
    expect(screenOff(room(0.01, 0, 0.4, 0.9), new Uint8Array(W * H).fill(1), toReference, FULL)).toBeNull();
    expect(screenOff(room(0.01, 0, 0.4, 0.9), new Uint8Array(W * H), toReference, FULL)).toBeNull();
  });
});

describe('what was made up', () => {
  const heal = (r: number, on = true): HealPass => ({ id: 'h', name: 'h', why: '', within: null, kind: 'heal', on, opacity: 1, mask: [{ id: 'a', kind: 'spot', join: 'add', inverted: false, at: [0.25, 0.25], rim: [0.25 + r, 0.25], ratio: 1, softness: 0 }], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, patches: [], softness: 0, matched: true });
  const mixOf = (pass: HealPass): Mix => ({ reference: 'f', frames: { f: { width: 1200, height: 800 } }, passes: [pass] }) as unknown as Mix;

  test('is asked about where it is more than a spot, with its place and its size', () => {
    const [reading, ...others] = inventedReadings(mixOf(heal(0.1)));
    expect(others).toEqual([]);
    expect(reading.where!.map(Math.round)).toEqual([300, 300]);
    expect(reading.value).toBeCloseTo((100 * Math.PI * 120 ** 2) / (1200 * 800), 0);
    expect(reading.text).toContain('belongs to the property');
    expect(inventedReadings(mixOf(heal(0.01)))).toEqual([]);
    expect(inventedReadings(mixOf(heal(0.1, false)))).toEqual([]);
  });
});
