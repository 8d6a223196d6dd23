import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { OutlineNode, Point } from '@zaddle/document';
import { mapPoint } from '../src/geometry/homography';
import { createPlane, type Plane } from '../src/image/plane';
import { edgeStrip, STRIP_ROWS, type StripPiece } from '../src/mask/edgeStrip';
import { settleOutline } from '../src/mask/settleOutline';

const nodes = (points: readonly Point[]): OutlineNode[] => points.map((at) => ({ at, before: null, after: null }));
const lineDistance = ([px, py]: Point, [ax, ay]: Point, [bx, by]: Point): number => ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / Math.hypot(bx - ax, by - ay);

/** Light of a convex shape on a ground, at any place of a large picture, its edge spread by a lens. */
const shape = (corners: readonly Point[], within: number, about: number) => (x: number, y: number): number => {
  let inside = Infinity;
  corners.forEach((a, k) => { inside = Math.min(inside, lineDistance([x, y], a, corners[(k + 1) % corners.length])); });
  const s = 1 / (1 + Math.exp(-2 * inside));
  return s * within + (1 - s) * about;
};
/** A piece of a strip in such light, each pixel the mean of what it covers. */
const lookIn = (light: (x: number, y: number) => number, pixel: number, looked: StripPiece[] = []) => (piece: StripPiece): Promise<Plane[]> => {
  looked.push(piece);
  const plane = createPlane(piece.columns, STRIP_ROWS);
  for (let y = 0; y < STRIP_ROWS; y++) {
    for (let x = 0; x < piece.columns; x++) {
      let sum = 0;
      for (let j = 0; j < pixel; j++) for (let i = 0; i < pixel; i++) sum += light(...mapPoint(piece.toReference, x + (i + 0.5) / pixel - 0.5, y + (j + 0.5) / pixel - 0.5));
      plane.data[y * piece.columns + x] = Math.log2(sum / pixel ** 2);
    }
  }
  return Promise.resolve([plane]);
};
const distances = (ring: readonly OutlineNode[], truth: readonly Point[]): number[] => ring.flatMap(({ at }, k) => {
  const next = ring[(k + 1) % ring.length].at;
  return [0, 0.25, 0.5, 0.75].map((t) => Math.abs(lineDistance([at[0] + t * (next[0] - at[0]), at[1] + t * (next[1] - at[1])], truth[k], truth[(k + 1) % truth.length])));
});
const around = (x: number, y: number, by: number): fc.Arbitrary<Point> => fc.tuple(fc.double({ min: x - by, max: x + by, noNaN: true }), fc.double({ min: y - by, max: y + by, noNaN: true }));

describe('a strip along a segment', () => {
  test('has its segment in the middle row, pixels as large as asked for, and pieces that hold all of it and little else', () => {
    fc.assert(fc.property(around(3000, 2000, 2900), around(3000, 2000, 1900), fc.constantFrom(1, 2, 4), (from, to, pixel) => {
      fc.pre(Math.hypot(to[0] - from[0], to[1] - from[1]) > 20);
      const strip = edgeStrip(from, to, pixel);
      const middle = (STRIP_ROWS - 1) / 2;
      const at = (column: number, row: number): Point => mapPoint(strip.toReference, column, row);
      expect(Math.hypot(at(0, middle)[0] - from[0], at(0, middle)[1] - from[1])).toBeLessThan(1e-6);
      const end = at(strip.columns - 1, middle);
      expect(Math.hypot(end[0] - to[0], end[1] - to[1])).toBeLessThan(0.51 * pixel);
      expect(Math.hypot(at(5, 2)[0] - at(5, 1)[0], at(5, 2)[1] - at(5, 1)[1])).toBeCloseTo(pixel, 6);
      expect(strip.pieces.reduce((sum, { first, columns }) => { expect(first).toBe(sum); return sum + columns; }, 0)).toBe(strip.columns);
      for (const { first, columns, toReference } of strip.pieces) {
        const [a, b] = [mapPoint(toReference, 0, middle), at(first, middle)];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-6);
        const far = mapPoint(toReference, columns - 1, middle);
        expect((Math.abs(far[0] - a[0]) * Math.abs(far[1] - a[1])) / pixel ** 2).toBeLessThan(1.1 * 256 ** 2);
      }
    }), { numRuns: 200 });
  });
});

describe('an outline that lies about on edges', () => {
  const corners = fc.tuple(around(1200, 900, 300), around(4400, 700, 300), around(4700, 3200, 300), around(1000, 3000, 300));
  const off = fc.array(fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })), { minLength: 4, maxLength: 4 });
  test('comes to lie in their middle in finer pixels, whatever the shape and which side is bright', async () => {
    await fc.assert(fc.asyncProperty(corners, off, fc.constantFrom<[number, number]>([0.6, 0.1], [0.05, 0.5]), fc.constantFrom(1, 2), async (truth, by, [within, about], pixel) => {
      const rough = nodes(truth.map(([x, y], k): Point => [x + 1.6 * pixel * by[k][0], y + 1.6 * pixel * by[k][1]]));
      const found = await settleOutline(rough, pixel, [1], 8 * pixel, lookIn(shape(truth, within, about), pixel));
      expect(Math.max(...distances(found, truth))).toBeLessThan(0.12 * pixel);
    }), { numRuns: 12 });
  });

  test('stays where there is no edge, and its bent segments stay in any case', async () => {
    const looked: StripPiece[] = [];
    const ring: OutlineNode[] = [{ at: [100, 100], before: null, after: [200, 40] }, { at: [300, 100], before: [260, 60], after: null }, { at: [200, 300], before: null, after: null }];
    const found = await settleOutline(ring, 1, [1], 8, lookIn(() => 0.3, 1, looked));
    found.forEach(({ at, before, after }, k) => {
      expect(Math.hypot(at[0] - ring[k].at[0], at[1] - ring[k].at[1])).toBeLessThan(0.6);
      expect([before, after]).toEqual([ring[k].before, ring[k].after]);
    });
    expect(looked).toHaveLength(2);
  });

  test('a corner does not run away where an edge beside it is another’s', async () => {
    const truth: Point[] = [[500, 500], [900, 500], [900, 900], [500, 900]];
    // Two sides that nearly go on in one another: their lines meet far off.
    const ring = nodes([[500, 500.8], [700, 500.2], [900, 500], [900, 900], [500, 900]]);
    const found = await settleOutline(ring, 1, [1], 8, lookIn(shape(truth, 0.6, 0.1), 1));
    expect(Math.hypot(found[1].at[0] - 700, found[1].at[1] - 500)).toBeLessThan(2);
  });
});
