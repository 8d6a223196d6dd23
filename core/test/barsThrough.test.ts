import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { boxBlur } from '../src/image/boxBlur';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { barsThrough, panesBetweenBars } from '../src/window/barsThrough';
import { pixelsOfPane, type PaneQuad } from '../src/window/fitPane';

const [WIDTH, HEIGHT] = [140, 100];
/** A pane whose standing sides somebody led astray by some pixels. */
const pane = (astray: number): PaneQuad => [[10.5 + astray / 2, 10.5], [129.5 + astray / 2, 10.5], [129.5 - astray / 2, 89.5], [10.5 - astray / 2, 89.5]];
const AS_IT_IS = pane(0);

interface Line { readonly at: number; readonly wide: number; readonly length: number }

/** How much a view looks like outside, with lines before it that flashes lift, as smeared as evidence is; places are drawn with 8 x 8 looks. */
function seen(lines: readonly Line[], level: boolean, seed: number): Plane {
  const plane = mapPlane(createPlane(WIDTH, HEIGHT), (_, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    let covered = 0;
    for (const { at, wide, length } of lines) {
      const along = level ? (x - 10.5) / 119 : (y - 10.5) / 79;
      for (let k = 0; k < 8; k++) if (along < length && Math.abs((level ? y : x) - 0.5 + (k + 0.5) / 8 - at) < wide / 2) covered += 1 / 8;
    }
    // What a view shows makes some of it look a little less like outside.
    const view = 0.85 + 0.12 * Math.sin(x * 0.31 + seed) * Math.sin(y * 0.23 + 2 * seed);
    return view * (1 - covered) + 0.1 * covered;
  });
  return boxBlur(plane, 1);
}

const wide = fc.double({ min: 1, max: 3, noNaN: true });
const seeds = fc.double({ min: 0, max: 6, noNaN: true });

describe('thin bars through a pane', () => {
  test('are found where they are, also where a side of the pane was led astray', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 4 }), wide, fc.double({ min: -3, max: 3, noNaN: true }), seeds, (count, thick, astray, seed) => {
      const lines = Array.from({ length: count }, (_, k) => ({ at: 10.5 + (119 * (k + 1)) / (count + 1), wide: thick, length: 1 }));
      const { pane: found, bars } = barsThrough(pane(astray), seen(lines, false, seed), [seen(lines, false, seed + 1)], false);
      expect(bars).toHaveLength(count);
      const [left, across] = [(found[0][0] + found[3][0]) / 2, 119];
      for (const [k, [from, to]] of bars.entries()) {
        expect(Math.abs(left + (across * (from + to)) / 2 - lines[k].at)).toBeLessThan(0.6);
        expect(Math.abs((to - from) * across - thick)).toBeLessThan(1.6);
      }
      expect(Math.abs(found[0][0] - found[3][0])).toBeLessThan(1.1);
    }), { numRuns: 40 });
  });
  test('are none where what is lifted ends half way: a stem, a cord, a lamp', () => {
    fc.assert(fc.property(wide, fc.double({ min: 0.2, max: 0.6, noNaN: true }), fc.double({ min: 30, max: 110, noNaN: true }), seeds, (thick, length, at, seed) => {
      expect(barsThrough(AS_IT_IS, seen([{ at, wide: thick, length }], false, seed), [seen([{ at, wide: thick, length }], false, seed)], false).bars).toEqual([]);
    }), { numRuns: 40 });
  });
  test('are none where nothing tells, nor in a view alone', () => {
    fc.assert(fc.property(seeds, (seed) => {
      for (const level of [false, true]) expect(barsThrough(AS_IT_IS, seen([], level, seed), [seen([], level, seed)], level).bars).toEqual([]);
    }), { numRuns: 20 });
    expect(panesBetweenBars(AS_IT_IS, mapPlane(createPlane(WIDTH, HEIGHT), () => NaN), [], (quad) => quad)).toEqual([AS_IT_IS]);
  });
  test('are none along an edge of the view that dips since frames are not quite in line: no frame shows it apart from both of its sides', () => {
    fc.assert(fc.property(wide, fc.double({ min: 30, max: 110, noNaN: true }), seeds, (thick, at, seed) => {
      const dips = seen([{ at, wide: thick, length: 1 }], false, seed);
      const edge = boxBlur(mapPlane(dips, (_, i) => (i % WIDTH < at ? -1 : -2.5)), 1);
      expect(barsThrough(AS_IT_IS, dips, [edge], false).bars).toEqual([]);
      expect(barsThrough(AS_IT_IS, dips, [edge, dips], false).bars).toHaveLength(1);
    }), { numRuns: 30 });
  });
  test('take a pane apart without taking any of the view', () => {
    const [standing, lying] = [{ at: 70, wide: 2, length: 1 }, { at: 40, wide: 2, length: 1 }];
    const [a, b] = [seen([standing], false, 1), seen([lying], true, 1)];
    const panes = panesBetweenBars(AS_IT_IS, mapPlane(a, (v, i) => Math.min(v, b.data[i])), [a, b], (quad) => quad);
    expect(panes).toHaveLength(4);
    const covered = createPlane(WIDTH, HEIGHT);
    for (const part of panes) pixelsOfPane(part, WIDTH, HEIGHT, (i) => covered.data[i]++);
    for (let y = 13; y < 88; y++) {
      for (let x = 13; x < 128; x++) {
        const off = Math.min(Math.abs(x - 70), Math.abs(y - 40));
        if (off > 2) expect(covered.data[y * WIDTH + x]).toBe(1);
        if (off === 0) expect(covered.data[y * WIDTH + x]).toBe(0);
      }
    }
  });
});
