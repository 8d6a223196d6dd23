import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { believedOfFlash } from '../src/colour/believedOfFlash';
import { WHITE_OF_PAINT } from '../src/colour/whiteOfPaint';
import { createLight, createPlane, type Light } from '../src/image/plane';
import { lightsLikeOthers } from '../src/light/lightsLikeOthers';
import type { Guide } from '../src/mix/guides';
import { seeded } from './kernelMemory';

const stops = fc.double({ min: -0.8, max: 0.8, noNaN: true });

describe('the white of flash', () => {
  test('a wandering balance is followed, warm paint hardly, and never is more done than was asked for, or the other way', () => {
    fc.assert(fc.property(stops, stops, (red, blue) => {
      const [r, g, b] = believedOfFlash([2 ** red, 1, 2 ** blue]).map(Math.log2);
      expect(g).toBe(0);
      // White paint is a little warm: what is asked for is told from there.
      const [askedRed, askedBlue] = [red + WHITE_OF_PAINT.red, blue + WHITE_OF_PAINT.blue];
      expect(Math.hypot(r, b)).toBeLessThanOrEqual(Math.hypot(askedRed, askedBlue) + 1e-9);
      expect(r * askedRed + b * askedBlue).toBeGreaterThanOrEqual(-1e-12);
    }));
    const warmth = (by: number): number => {
      const [red, , blue] = believedOfFlash([2 ** (-by / 2), 1, 2 ** (by / 2)]).map(Math.log2);
      return (blue - red) / by;
    };
    expect(warmth(0.15)).toBeGreaterThan(0.5);
    expect(warmth(1)).toBeLessThan(0.25);
    // Too blue a frame is a camera set for lamps.
    expect(Math.log2(believedOfFlash([2 ** 0.4, 1, 2 ** -0.4])[2])).toBeLessThan(-0.38);
  });
});

describe('flashes beside each other', () => {
  const [W, H] = [160, 110];
  /** A room with a pattern, under light that falls off to one side. */
  const lit = (seed: number, fall: number): { guide: Guide; light: Light } => {
    const next = seeded(7);
    const noise = seeded(seed);
    const light = createLight(W, H);
    const tiles = Array.from({ length: 200 }, () => 0.15 + 0.5 * next());
    for (let i = 0; i < W * H; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      const v = tiles[Math.floor(x / 16) + 10 * Math.floor(y / 16)] * 2 ** (fall * (x / W - 0.5)) * (0.98 + 0.04 * noise());
      for (const c of ['r', 'g', 'b'] as const) light[c][i] = v;
    }
    return { light, guide: { light, top: createPlane(W, H), cover: createPlane(W, H).data.fill(1) } as unknown as Guide };
  };
  const change = ({ light }: { light: Light }, x: number, y: number, radius: number, gain: number): void => {
    for (let v = y - radius; v <= y + radius; v++) for (let u = x - radius; u <= x + radius; u++) if (Math.hypot(u - x, v - y) <= radius) for (const c of ['r', 'g', 'b'] as const) light[c][v * W + u] *= gain;
  };

  test('what all of them show is trusted whatever the fall of light; a hot spot and a hard shadow are not, and only in the frame that has them', () => {
    const [a, b, c] = [lit(1, 2), lit(2, -2), lit(3, 0)];
    change(a, 40, 50, 7, 4);
    change(b, 110, 60, 7, 0.25);
    const [ta, tb, tc] = lightsLikeOthers([a, b, c].map(({ guide }) => guide)).map(({ data }) => data);
    const [hot, shadow] = [50 * W + 40, 60 * W + 110];
    expect(ta[hot]).toBeLessThan(0.3);
    expect(tb[shadow]).toBeLessThan(0.5);
    for (const v of [tb[hot], tc[hot], ta[shadow], tc[shadow]]) expect(v).toBeGreaterThan(0.9);
    for (const t of [ta, tb, tc]) {
      let sum = 0;
      for (let i = 0; i < t.length; i++) if (Math.hypot(i % W - 40, Math.floor(i / W) - 50) > 30 && Math.hypot(i % W - 110, Math.floor(i / W) - 60) > 30) sum += t[i] < 0.85 ? 1 : 0;
      expect(sum / t.length).toBeLessThan(0.02);
    }
  });

  test('one alone is trusted everywhere', () => {
    expect(lightsLikeOthers([lit(1, 1).guide])[0].data.every((v) => v === 1)).toBe(true);
  });
});
