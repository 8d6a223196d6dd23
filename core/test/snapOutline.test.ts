import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { OutlineNode, Point } from '@zaddle/document';
import { createPlane, type Plane } from '../src/image/plane';
import { edgePictures, flashOnlyLog } from '../src/mask/edgePictures';
import { snapOutline } from '../src/mask/snapOutline';
import { seeded } from './kernelMemory';

const [W, H] = [600, 400];
const nodes = (points: readonly Point[]): OutlineNode[] => points.map((at) => ({ at, before: null, after: null }));

/** Log luminance of a convex shape on a ground, with grain, its edge one pixel soft. */
function scene(corners: readonly Point[], contrast: number, seed: number): Plane {
  const random = seeded(seed);
  const plane = createPlane(W, H);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      let inside = Infinity;
      corners.forEach(([ax, ay], k) => {
        const [bx, by] = corners[(k + 1) % corners.length];
        inside = Math.min(inside, ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / Math.hypot(bx - ax, by - ay));
      });
      plane.data[y * W + x] = contrast * Math.min(1, Math.max(0, inside + 0.5)) + 0.4 * Math.sin(x / 60) + 0.03 * (random() - 0.5);
    }
  }
  return plane;
}
const lineDistance = ([px, py]: Point, [ax, ay]: Point, [bx, by]: Point): number => Math.abs((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / Math.hypot(bx - ax, by - ay);
/** Distances of places along an outline from the edges of the true one. */
const distances = (ring: readonly OutlineNode[], truth: readonly Point[]): number[] => ring.flatMap(({ at }, k) => {
  const next = ring[(k + 1) % ring.length].at;
  return [0, 0.25, 0.5, 0.75].map((t) => lineDistance([at[0] + t * (next[0] - at[0]), at[1] + t * (next[1] - at[1])], truth[k], truth[(k + 1) % truth.length]));
});

describe('an outline that is to follow edges', () => {
  const shape = fc.tuple(...[[120, 90], [440, 70], [470, 320], [100, 300]].map(([x, y]) => fc.tuple(fc.integer({ min: x - 20, max: x + 20 }), fc.integer({ min: y - 20, max: y + 20 })))) as unknown as fc.Arbitrary<Point[]>;
  const off = fc.array(fc.tuple(fc.double({ min: -3.2, max: 3.2, noNaN: true }), fc.double({ min: -3.2, max: 3.2, noNaN: true })), { minLength: 4, maxLength: 4 });
  test('lies on them to three quarters of a pixel at most, whatever the shape and how it was drawn', () => {
    fc.assert(fc.property(shape, off, fc.constantFrom(1.5, -2, 0.5), fc.nat(1000), (corners, by, contrast, seed) => {
      const rough = corners.map(([x, y], k): Point => [x + by[k][0], y + by[k][1]]);
      const found = distances(snapOutline([scene(corners, contrast, seed)], nodes(rough)), corners);
      expect(Math.max(...found)).toBeLessThan(0.75);
    }), { numRuns: 25 });
  });
  test('stays as it was drawn where there is nothing but grain', () => {
    const rough = nodes([[120, 90], [440, 70], [470, 320], [100, 300]]);
    expect(snapOutline([scene([[120, 90], [440, 70], [470, 320], [100, 300]], 0, 5)], rough)).toEqual(rough);
  });
  test('of two edges beside each other it takes that of the pane, and not the far one of its bar', () => {
    // A pane between bars nine pixels wide, with further panes beyond them.
    const plane = createPlane(W, H);
    const bar = (v: number): boolean => v % 100 < 9;
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) plane.data[y * W + x] = bar(x) || bar(y) ? 0 : 2;
    const truth: Point[] = [[208.5, 108.5], [299.5, 108.5], [299.5, 199.5], [208.5, 199.5]];
    const seeds = seeded(3);
    for (let k = 0; k < 12; k++) {
      const rough = truth.map(([x, y]): Point => [x + 8 * (seeds() - 0.5), y + 8 * (seeds() - 0.5)]);
      expect(Math.max(...distances(snapOutline([plane], nodes(rough)), truth))).toBeLessThan(1.5);
    }
  });
  test('several pictures tell together: where one is clipped another shows the edge, and a shadow that only one has counts for little', () => {
    const truth: Point[] = [[120.5, 90.5], [440.5, 90.5], [440.5, 300.5], [120.5, 300.5]];
    const inside = (x: number, y: number): boolean => x > 120.5 && x < 440.5 && y > 90.5 && y < 300.5;
    const picture = (value: (x: number, y: number) => number): Plane => { const plane = createPlane(W, H); for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) plane.data[y * W + x] = value(x, y); return plane; };
    // By day the pane and what is above it are one white; by flash the pane is dark, and the frame throws a shadow beside it on the right.
    const day = picture((x, y) => (inside(x, y) || y < 90.5 ? 0 : -3));
    const flash = picture((x, y) => (inside(x, y) ? -4 : x > 440.5 && x < 446 ? -2 : -1));
    const other = picture((x, y) => (inside(x, y) ? -4 : -1));
    const seeds = seeded(9);
    for (let k = 0; k < 12; k++) {
      const rough = nodes(truth.map(([x, y]): Point => [x + 8 * (seeds() - 0.5), y + 8 * (seeds() - 0.5)]));
      expect(Math.max(...distances(snapOutline([day, flash, other], rough), truth))).toBeLessThan(1.3);
    }
  });
  test('of a pane, the reveal round it and the bar beyond that it takes the pane, whichever of them is brighter on which side', () => {
    const truth: Point[] = [[200.5, 100.5], [299.5, 100.5], [299.5, 199.5], [200.5, 199.5]];
    const out = (x: number, y: number): number => Math.max(200.5 - x, x - 299.5, 100.5 - y, y - 199.5);
    const scenes = ([left, right]: readonly [number, number]): Plane => {
      const plane = createPlane(W, H);
      // The reveal, three pixels wide, lies in shadow on one side and in the light on the other; the bar is five wide.
      for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) plane.data[y * W + x] = out(x, y) < 0 ? -1 : out(x, y) < 3 ? (x < 250 ? left : right) : out(x, y) < 8 ? 0.5 : -1;
      return plane;
    };
    const seeds = seeded(17);
    for (let k = 0; k < 12; k++) {
      const rough = nodes(truth.map(([x, y]): Point => [x + 6 * (seeds() - 0.5), y + 6 * (seeds() - 0.5)]));
      expect(Math.max(...distances(snapOutline([scenes([-2.5, 0.2]), scenes([0.1, -2])], rough), truth))).toBeLessThan(1);
    }
  });
  test('lies in the middle of an edge that a lens has spread, however strong it is, and one picture that is clipped does not move it', () => {
    const truth: Point[] = [[200.4, 100.7], [399.6, 100.7], [399.6, 299.3], [200.4, 299.3]];
    const inside = (x: number, y: number): number => Math.min(x - 200.4, 399.6 - x, y - 100.7, 299.3 - y);
    const spread = (d: number): number => 1 / (1 + Math.exp(-1.7 * d / 0.8));
    const picture = (within: number, about: number, white = Infinity): Plane => {
      const plane = createPlane(W, H);
      for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) { const s = spread(inside(x, y)); plane.data[y * W + x] = Math.log2(Math.min(white, s * within + (1 - s) * about)); }
      // A lamp, away from the edges: the brightest that the picture shows.
      plane.data[20 * W + 20] = 0;
      return plane;
    };
    const seeds = seeded(23);
    for (let k = 0; k < 8; k++) {
      const rough = nodes(truth.map(([x, y]): Point => [x + 6 * (seeds() - 0.5), y + 6 * (seeds() - 0.5)]));
      const worst = (...logs: Plane[]): number => Math.max(...distances(snapOutline(logs, rough), truth));
      expect(worst(picture(0.02, 0.6))).toBeLessThan(0.15);
      expect(worst(picture(0.7, 0.01))).toBeLessThan(0.15);
      expect(worst(picture(0.02, 0.6), picture(20, 0.1, 1))).toBeLessThan(0.15);
    }
  });
  test('follows a side along which what lies within changes from darker to brighter than what is about it', () => {
    const truth: Point[] = [[200.4, 100.7], [399.6, 100.7], [399.6, 299.3], [200.4, 299.3]];
    const plane = createPlane(W, H);
    for (let y = 0; y < H; y++) {
      for (let x = 0; x < W; x++) {
        const s = 1 / (1 + Math.exp(-2 * Math.min(x - 200.4, 399.6 - x, y - 100.7, 299.3 - y)));
        plane.data[y * W + x] = Math.log2(s * (x < 300 === y < 200 ? 0.02 : 0.8) + (1 - s) * 0.2);
      }
    }
    plane.data[20 * W + 20] = 0;
    const seeds = seeded(41);
    for (let k = 0; k < 8; k++) {
      const rough = nodes(truth.map(([x, y]): Point => [x + 5 * (seeds() - 0.5), y + 5 * (seeds() - 0.5)]));
      expect(Math.max(...distances(snapOutline([plane], rough), truth))).toBeLessThan(0.25);
    }
  });
  test('sides help each other: where the mount within a frame is as strong an edge as the frame, it goes where the others do', () => {
    const truth: Point[] = [[200.5, 100.5], [399.5, 100.5], [399.5, 299.5], [200.5, 299.5]];
    const out = (x: number, y: number): number => Math.max(200.5 - x, x - 399.5, 100.5 - y, y - 299.5);
    // A picture in a mount four pixels wide in a dark frame; beside it on the right a wall as dark as the frame.
    const plane = createPlane(W, H);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) { const d = out(x, y); plane.data[y * W + x] = d < -4 ? (x > 390 ? -3.4 : -1.6) : d < 0 ? -1 : d < 6 ? -3 : x > 400 ? -3 : -1.2; }
    const seeds = seeded(31);
    for (let k = 0; k < 12; k++) {
      const rough = truth.map(([x, y]): Point => [x + 3 * (seeds() - 0.5) - (x > 300 ? 2 : 0), y + 3 * (seeds() - 0.5)]);
      expect(Math.max(...distances(snapOutline([plane], nodes(rough)), truth))).toBeLessThan(0.6);
    }
  });
  test('a bent one is carried along by what lies nearest', () => {
    const plane = createPlane(W, H);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) plane.data[y * W + x] = 2 * Math.min(1, Math.max(0, 120.5 - Math.hypot(x - 300, y - 200)));
    const c = 0.5523;
    const circle = (r: number): OutlineNode[] => ([[1, 0], [0, 1], [-1, 0], [0, -1]] as const).map(([x, y]) => ({ at: [300 + r * x, 200 + r * y], before: [300 + r * (x + c * y), 200 + r * (y - c * x)], after: [300 + r * (x - c * y), 200 + r * (y + c * x)] }));
    for (const { at } of snapOutline([plane], circle(123.5))) expect(Math.hypot(at[0] - 300, at[1] - 200)).toBeCloseTo(120.5, -0.2);
  });

  test('what flashes add shows a pane that by day is as bright as the wall beside it, and that light from elsewhere hides in each flash by itself', () => {
    // By day the pane is as bright as its bar; by flash the bar has a shadow whose edge runs elsewhere in each.
    const truth: Point[] = [[200.5, 100.5], [299.5, 100.5], [299.5, 199.5], [200.5, 199.5]];
    const out = (x: number, y: number): number => Math.max(200.5 - x, x - 299.5, 100.5 - y, y - 199.5);
    const picture = (value: (x: number, y: number) => number): Plane => { const plane = createPlane(W, H); for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) plane.data[y * W + x] = Math.log2(value(x, y)); return plane; };
    const day = (x: number, y: number): number => (out(x, y) < 0 ? 0.3 : out(x, y) < 5 ? 0.25 : 0.5);
    const flash = (shadow: number) => (x: number, y: number): number => day(x, y) * 0.25 + (out(x, y) < 0 ? 0.001 : x < 200.5 - shadow ? 0.5 : 0.35);
    const exposed = (value: (x: number, y: number) => number, stops: number) => ({ log: picture(value), stops });
    const [steady, others] = [[exposed(day, 0)], [exposed(flash(3), -2), exposed(flash(6), -2)]];
    const rough = nodes(truth.map(([x, y], k): Point => [x + [3, -2, 2, -3][k], y + [-2, 3, -3, 2][k]]));
    expect(Math.max(...distances(snapOutline(edgePictures(steady, others), rough), truth))).toBeLessThan(1);
    const only = flashOnlyLog(steady, others)!;
    expect([only.data[150 * W + 250], only.data[150 * W + 20]]).toEqual([expect.closeTo(-6, 1), expect.closeTo(0, 1)]);
  });
  test('what flashes add is not told where nothing adds: of frames in one light, however exposed', () => {
    const shape: Point[] = [[120, 90], [440, 70], [470, 320], [100, 300]];
    const base = scene(shape, 1.5, 3);
    const less = (stops: number): Plane => createPlane(W, H, base.data.map((v) => v - 3 + stops));
    expect(flashOnlyLog([{ log: less(0), stops: 0 }], [{ log: less(-2), stops: -2 }, { log: less(1), stops: 1 }])).toBeNull();
    expect(flashOnlyLog([{ log: less(0), stops: 0 }], [])).toBeNull();
  });
});
