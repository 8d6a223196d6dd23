import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { gainsForLight, lightForGains, neutralised } from '../src/colour/temperature';

describe('the colour of light', () => {
  test('gains and temperature with tint are each other’s inverse; 6500 K changes nothing; white keeps its luminance', () => {
    gainsForLight({ kelvin: 6500, tint: 0 }).forEach((g) => expect(g).toBeCloseTo(1, 4));
    fc.assert(fc.property(fc.double({ min: 2500, max: 12_000, noNaN: true }), fc.double({ min: -30, max: 30, noNaN: true }), (kelvin, tint) => {
      const gains = gainsForLight({ kelvin, tint });
      expect(gains[0] * 0.2627 + gains[1] * 0.678 + gains[2] * 0.0593).toBeCloseTo(1, 6);
      const back = lightForGains(gains);
      expect(1e6 / back.kelvin).toBeCloseTo(1e6 / kelvin, -0.5);
      expect(back.tint).toBeCloseTo(tint, -0.3);
    }));
  });
  test('light of a higher temperature is bluer, so the picture turns warmer; a positive tint takes green away', () => {
    const [cool, warm] = [gainsForLight({ kelvin: 4000, tint: 0 }), gainsForLight({ kelvin: 9000, tint: 0 })];
    expect(warm[0] / warm[2]).toBeGreaterThan(1.1);
    expect(cool[0] / cool[2]).toBeLessThan(0.9);
    const [r, g, b] = gainsForLight({ kelvin: 6500, tint: 20 });
    expect(g).toBeLessThan(Math.min(r, b));
    // A lamp of 3000 K, as its light is in the working space, becomes grey.
    const lamp = gainsForLight({ kelvin: 3000, tint: 0 }).map((v) => 1 / v);
    expect(lamp[0] / lamp[2]).toBeGreaterThan(2);
  });
  test('what is picked becomes grey at its own luminance, on top of what was set; what is too dark is refused', () => {
    const light = [0.4, 0.3, 0.2] as const;
    const { gains, off } = neutralised([light]);
    const grey = light.map((v, c) => v * gains[c]);
    expect(Math.max(...grey) - Math.min(...grey)).toBeLessThan(1e-9);
    expect(off).toBeLessThan(1e-9);
    expect(grey[0]).toBeCloseTo(0.4 * 0.2627 + 0.3 * 0.678 + 0.2 * 0.0593, 6);
    expect(() => neutralised([light, [0.0001, 0, 0]])).toThrow(/too dark/);
  });
  test('of several places no other white balance leaves less; their order, and how bright they are, change nothing', () => {
    const places = fc.array(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0.2, max: 0.8, noNaN: true })) as [fc.Arbitrary<number>, fc.Arbitrary<number>, fc.Arbitrary<number>]), { minLength: 2, maxLength: 6 });
    fc.assert(fc.property(places, fc.array(fc.double({ min: -0.3, max: 0.3, noNaN: true }), { minLength: 2, maxLength: 2 }), (lights, [dr, db]) => {
      const { gains } = neutralised(lights);
      const y = ([r, g, b]: readonly number[]): number => 0.2627 * r + 0.678 * g + 0.0593 * b;
      /** Squares of what channels are off their luminance before, whatever their level: less its mean. */
      const left = (of: readonly number[]): number => [0, 1, 2].reduce((sum, c) => sum + lights.reduce((s, light) => s + Math.log2((light[c] * of[c]) / y(light)) ** 2, 0), 0);
      const own = gains.map((g) => Math.log2(g));
      const level = own.reduce((s, v) => s + v, 0) / 3;
      const best = lights.reduce((s, light) => s + [0, 1, 2].reduce((t, c) => t + Math.log2(y(light) / light[c]), 0), 0) / lights.length / 3;
      // As far as colour goes: the common level is what keeps luminance.
      const exact = own.map((v) => 2 ** (v - level + best));
      expect(left(exact)).toBeLessThanOrEqual(left([exact[0] * 2 ** dr, exact[1], exact[2] * 2 ** db]) + 1e-9);
      neutralised([...lights].reverse()).gains.forEach((g, c) => expect(g).toBeCloseTo(gains[c], 9));
      neutralised(lights.map((light, k) => light.map((v) => v * (1 + k / 3)) as unknown as typeof light)).gains.forEach((g, c) => expect(g).toBeCloseTo(gains[c], 9));
    }));
  });
});
