import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PaneQuad } from '../src/window/fitPane';
import { withoutTables } from '../src/window/withoutTables';

/** A pane whose left and right sides go aside on their way down, in places per place. */
const pane = (x: number, y: number, left: number, right: number): PaneQuad => [[x, y], [x + 40, y], [x + 40 + 30 * right, y + 30], [x + 30 * left, y + 30]];
const much = fc.double({ min: 0.25, max: 1.5, noNaN: true });
const little = fc.double({ min: -0.15, max: 0.15, noNaN: true });
const side = fc.constantFrom(-1, 1);

describe('panes without table tops', () => {
  test('are without what leans, to whichever side, and lies under all that stand', () => {
    fc.assert(fc.property(much, side, little, fc.boolean(), (by, way, lean, onLeft) => {
      const window = [pane(10, 10, lean, lean), pane(60, 30, -lean, 0)];
      const top = onLeft ? pane(40, 90, by * way, lean) : pane(40, 90, lean, by * way);
      expect(withoutTables([...window, top])).toEqual(window);
    }));
  });
  test('keep what stands there, and what leans no lower: a skylight', () => {
    fc.assert(fc.property(much, side, little, (by, way, lean) => {
      // The lowest of the window ends at 60.
      const all = [pane(10, 10, lean, lean), pane(60, 30, lean, -lean), pane(40, 90, lean, lean), pane(100, 58, by * way, by * way)];
      expect(withoutTables(all)).toEqual(all);
      expect(withoutTables([all[0], all[1], pane(100, 62, by * way, by * way)])).toEqual([all[0], all[1]]);
    }));
  });
  test('are all of them where none stands', () => {
    const slope = [pane(10, 10, 0.6, 0.6), pane(60, 70, -0.6, -0.6)];
    expect(withoutTables(slope)).toEqual(slope);
  });
});
