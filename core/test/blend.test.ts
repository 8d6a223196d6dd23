import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BLEND_MODES, type BlendMode } from '@zaddle/document';
import { BLEND_MODE_CODES } from '../src/blend/blendModes';
import { testTools } from './kernelMemory';

type Colour = readonly [number, number, number];

/*
 * The formulas of W3C "Compositing and Blending Level 1", section 10, as it writes them. Cb: the backdrop, Cs: the source.
 */
const multiply = (cb: number, cs: number): number => cb * cs;
const screen = (cb: number, cs: number): number => cb + cs - cb * cs;
const hardLight = (cb: number, cs: number): number => (cs <= 0.5 ? multiply(cb, 2 * cs) : screen(cb, 2 * cs - 1));
const separable: Partial<Record<BlendMode, (cb: number, cs: number) => number>> = {
  normal: (_, cs) => cs,
  multiply, screen, 'hard-light': hardLight,
  overlay: (cb, cs) => hardLight(cs, cb),
  darken: Math.min, lighten: Math.max,
  'color-dodge': (cb, cs) => (cb === 0 ? 0 : cs === 1 ? 1 : Math.min(1, cb / (1 - cs))),
  'color-burn': (cb, cs) => (cb === 1 ? 1 : cs === 0 ? 0 : 1 - Math.min(1, (1 - cb) / cs)),
  'soft-light': (cb, cs) => {
    const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
    return cs <= 0.5 ? cb - (1 - 2 * cs) * cb * (1 - cb) : cb + (2 * cs - 1) * (d - cb);
  },
  difference: (cb, cs) => Math.abs(cb - cs),
  exclusion: (cb, cs) => cb + cs - 2 * cb * cs,
  // CSS `plus-lighter` without its limit: light has none.
  add: (cb, cs) => cb + cs,
};
const lum = (c: Colour): number => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
const sat = (c: Colour): number => Math.max(...c) - Math.min(...c);
function clipColor(c: Colour): Colour {
  const [l, n, x] = [lum(c), Math.min(...c), Math.max(...c)];
  let out: readonly number[] = c;
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n));
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l));
  return out as unknown as Colour;
}
const setLum = (c: Colour, l: number): Colour => clipColor(c.map((v) => v + l - lum(c)) as unknown as Colour);
function setSat(c: Colour, s: number): Colour {
  const order = [0, 1, 2].sort((i, j) => c[i] - c[j]);
  const [min, mid, max] = order.map((i) => c[i]);
  const out = [0, 0, 0];
  if (max > min) {
    out[order[1]] = ((mid - min) * s) / (max - min);
    out[order[2]] = s;
  }
  return out as unknown as Colour;
}
const together: Partial<Record<BlendMode, (cb: Colour, cs: Colour) => Colour>> = {
  hue: (cb, cs) => setLum(setSat(cs, sat(cb)), lum(cb)),
  saturation: (cb, cs) => setLum(setSat(cb, sat(cs)), lum(cb)),
  color: (cb, cs) => setLum(cs, lum(cb)),
  luminosity: (cb, cs) => setLum(cb, lum(cs)),
};

const LINEAR: readonly BlendMode[] = ['normal', 'add', 'lighten', 'darken', 'multiply', 'screen'];
const tools = testTools(1_000_000);

/** What the kernel makes of rows of colours, in the encoding in which the mode works. */
function blended(mode: BlendMode, below: readonly Colour[], src: readonly Colour[]): Colour[] {
  const { kernels, arena } = tools;
  const mark = arena.mark();
  const n = below.length;
  const plane = n * 4 + 64;
  const toLight = (v: number): number => (LINEAR.includes(mode) ? v : v * v);
  const placed = (colours: readonly Colour[]): number => {
    const at = arena.take(plane * 3);
    for (let c = 0; c < 3; c++) arena.floats(at + plane * c, n).set(colours.map((colour) => toLight(colour[c])));
    return at;
  };
  const [b, s] = [placed(below), placed(src)];
  kernels.blendRow(b, plane, s, plane, n, BLEND_MODE_CODES[mode]);
  const planes = [0, 1, 2].map((c) => arena.floats(s + plane * c, n).slice());
  arena.release(mark);
  return below.map((_, i) => planes.map((p) => (LINEAR.includes(mode) ? p[i] : Math.sqrt(p[i]))) as unknown as Colour);
}

/** Numbers in 0..1 from a seed, the ends among them. */
function colours(seed: number, count: number, most = 1): Colour[] {
  let state = seed;
  const next = (): number => {
    state = (state * 48271) % 2147483647;
    const v = state / 2147483647;
    return most * (v < 0.04 ? 0 : v > 0.96 ? 1 : v);
  };
  return Array.from({ length: count }, () => [next(), next(), next()] as const);
}

describe.each(BLEND_MODES)('%s', (mode) => {
  test('is the formula of the standard for ten thousand colours of 0..1', () => {
    const [below, src] = [colours(5, 10_000), colours(77, 10_000)];
    const got = blended(mode, below, src);
    let worst = 0;
    below.forEach((cb, i) => {
      const want = together[mode] ? together[mode](cb, src[i]) : cb.map((v, c) => separable[mode]!(v, src[i][c]));
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(got[i][c] - want[c]));
    });
    expect(worst).toBeLessThan(3e-4);
  });

  test('stays finite beyond, and not below nothing', () => {
    const [below, src] = [colours(9, 4000, 40), colours(13, 4000, 40)];
    for (const colour of blended(mode, below, src)) for (const v of colour) expect(v >= 0 && v < 1e4).toBe(true);
  });

  // These have no direction in the standard either.
  if (!together[mode] && mode !== 'difference' && mode !== 'exclusion') {
    test('never falls as what is below or what is blended rises, beyond white too', () => {
      const value = fc.double({ min: 0, max: 6, noNaN: true });
      fc.assert(fc.property(value, value, value, value, (b, s, moreB, moreS) => {
        const grey = (v: number): Colour => [v, v, v];
        const [low, high] = blended(mode, [grey(b), grey(b + moreB)], [grey(s), grey(s + moreS)]);
        expect(high[0]).toBeGreaterThanOrEqual(low[0] - 1e-4);
      }), { numRuns: 400 });
    });
  }
});
