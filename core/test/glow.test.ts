import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { glowOver } from '../src/finish/glow';
import { createLight, type Light } from '../src/image/plane';

const [W, H] = [300, 200];
const filled = (f: (x: number, y: number) => readonly [number, number, number]): Light => {
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) [light.r[i], light.g[i], light.b[i]] = f(i % W, Math.floor(i / W));
  return light;
};
const sum = (data: Float32Array): number => data.reduce((total, v) => total + v, 0);
const lamp = (value: readonly [number, number, number]): Light => filled((x, y) => (Math.hypot(x - 150, y - 100) < 6 ? value : [0.1, 0.1, 0.1]));

describe('glow', () => {
  test('a room below white throws none', () => {
    const glow = glowOver(filled((x, y) => [0.7 * (x / W), 0.5, 0.6 * (y / H)]));
    for (const channel of [glow.r, glow.g, glow.b]) expect(Math.max(...channel)).toBe(0);
  });

  test('a lamp throws light of its own colour, less and less with distance, the same to all sides', () => {
    const { r, g } = glowOver(lamp([4, 2, 1]));
    const at = (dx: number, dy: number): number => r[(100 + dy) * W + 150 + dx];
    for (let d = 8; d < 80; d += 4) expect(at(d, 0)).toBeGreaterThan(at(d + 4, 0));
    for (const d of [10, 30, 60]) for (const [dx, dy] of [[-d, 0], [0, d], [0, -d]]) expect(at(dx, dy) / at(d, 0)).toBeCloseTo(1, 2);
    for (const i of [100 * W + 160, 100 * W + 200]) expect(r[i] / g[i]).toBeCloseTo(2, 3);
    // Near an inverse square: ten times as far, far more than a single bell would leave.
    expect(at(60, 0) / at(10, 0)).toBeGreaterThan(0.001);
  });

  test('all that is thrown is a set share of what is bright, wherever that lies', () => {
    fc.assert(fc.property(fc.integer({ min: 110, max: 190 }), fc.integer({ min: 80, max: 120 }), fc.double({ min: 2, max: 5, noNaN: true }), (x0, y0, value) => {
      const bright = (x: number, y: number): boolean => Math.abs(x - x0) < 4 && Math.abs(y - y0) < 4;
      const thrown = sum(glowOver(filled((x, y) => (bright(x, y) ? [value, value, value] : [0, 0, 0]))).g);
      expect(thrown / (49 * value)).toBeGreaterThan(0.36);
      expect(thrown / (49 * value)).toBeLessThan(0.405);
    }), { numRuns: 20 });
  });

  test('what clips may be any brighter: it counts with a limit, and nothing is thrown that is negative or no number', () => {
    const [bright, brighter] = [glowOver(lamp([6, 6, 6])), glowOver(lamp([600, 600, 600]))];
    expect(sum(brighter.g) / sum(bright.g)).toBeCloseTo(1, 2);
    for (const v of glowOver(filled((x) => [x === 3 ? 8 : -0.2, x % 2, 3])).r) expect(v).toBeGreaterThanOrEqual(0);
  });
});
