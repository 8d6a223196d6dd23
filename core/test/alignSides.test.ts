import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Point } from '@zaddle/document';
import { alignSides } from '../src/window/alignSides';
import type { PaneQuad } from '../src/window/fitPane';

const NEAR = 1.5;
/** Panes side by side under each other, as a camera that looks up and aside sees them, with bars between. */
const through = ([x, y]: Point): Point => { const w = 1 + 0.0002 * x - 0.0003 * y; return [(x + 0.02 * y) / w, (y - 0.01 * x) / w]; };
const window = (columns: number, rows: number): PaneQuad[] => Array.from({ length: columns * rows }, (_, k) => {
  const [x, y] = [100 + 60 * (k % columns), 80 + 90 * Math.floor(k / columns)];
  return [[x, y], [x + 55, y], [x + 55, y + 85], [x, y + 85]].map((at) => through(at as unknown as Point)) as unknown as PaneQuad;
});
const off = (a: readonly PaneQuad[], b: readonly PaneQuad[]): number => Math.max(...a.flatMap((quad, r) => quad.map(([x, y], k) => Math.hypot(x - b[r][k][0], y - b[r][k][1]))));
const slight = fc.double({ min: -0.3, max: 0.3, noNaN: true });

describe('sides of panes of one window', () => {
  test('of which one went astray come back into the line of the others', () => {
    fc.assert(fc.property(fc.integer({ min: 4, max: 6 }), fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 3 }), fc.double({ min: 2.5, max: 6, noNaN: true }), slight, slight, (columns, which, k, astray, dx, dy) => {
      const true_ = window(columns, 4);
      const before = true_.map((quad) => quad.map(([x, y]): Point => [x + dx, y + dy]) as unknown as PaneQuad);
      const after = true_.map((quad) => [...quad] as Point[]);
      const r = which % after.length;
      // The side as a whole lies further out, its neighbours as they lay.
      const [a, b, opposite] = [k, (k + 1) % 4, [(k + 3) % 4, (k + 2) % 4]];
      for (const [end, from] of [[a, opposite[0]], [b, opposite[1]]]) {
        const [p, q] = [true_[r][end], true_[r][from]];
        const length = Math.hypot(p[0] - q[0], p[1] - q[1]);
        after[r][end] = [p[0] + (astray * (p[0] - q[0])) / length, p[1] + (astray * (p[1] - q[1])) / length];
      }
      expect(off(after as unknown as PaneQuad[], true_)).toBeGreaterThan(2);
      expect(off(alignSides(before, after as unknown as PaneQuad[], NEAR), true_)).toBeLessThan(0.05);
    }), { numRuns: 60 });
  });
  test('stay where most of them lie about in one line, each by itself', () => {
    fc.assert(fc.property(fc.array(slight, { minLength: 96, maxLength: 96 }), (by) => {
      const before = window(4, 3);
      const after = before.map((quad, r) => quad.map(([x, y], k): Point => [x + by[8 * r + 2 * k], y + by[8 * r + 2 * k + 1]]) as unknown as PaneQuad);
      expect(off(alignSides(before, after, NEAR), after)).toBeLessThan(1e-6);
    }), { numRuns: 40 });
  });
  test('of two panes tell nothing of each other', () => {
    const before = window(2, 1);
    const after = [before[0], before[1].map(([x, y]): Point => [x, y - 4]) as unknown as PaneQuad];
    expect(off(alignSides(before, after, NEAR), after)).toBeLessThan(1e-9);
  });
});
