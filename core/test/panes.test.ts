import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Point } from '@zaddle/document';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { convexHull } from '../src/window/convexHull';
import { fitSlantedPane } from '../src/window/fitSlantedPane';
import { fitPane, pixelsOfPane, withinPane, type PaneQuad } from '../src/window/fitPane';
import { labelRegions } from '../src/window/labelRegions';
import { beforePanes } from '../src/window/beforePanes';
import { evenPanes } from '../src/window/evenPanes';
import { judgePanes } from '../src/window/judgePanes';
import { isEnclosed, liesBeside } from '../src/window/liesBeside';
import { refinePane } from '../src/window/refinePane';
import { siblingPanes } from '../src/window/siblingPanes';
import { splitPane } from '../src/window/splitPane';
import { seeded } from './kernelMemory';

const [W, H] = [240, 160];
/** A pane whose opposite sides are about parallel, tilted a little. */
const panes = fc.record({ left: fc.integer({ min: 20, max: 60 }), top: fc.integer({ min: 15, max: 40 }), wide: fc.integer({ min: 40, max: 110 }), high: fc.integer({ min: 30, max: 80 }), tilt: fc.double({ min: -0.06, max: 0.06, noNaN: true }) })
  .map(({ left, top, wide, high, tilt }): PaneQuad => [[left, top], [left + wide, top + tilt * wide], [left + wide - tilt * high, top + high + tilt * wide], [left - tilt * high, top + high]]);
const drawn = (quads: readonly PaneQuad[]): Plane => {
  const plane = createPlane(W, H);
  for (const quad of quads) pixelsOfPane(quad, W, H, (i) => (plane.data[i] = 1));
  return plane;
};
const overlap = (a: Plane, b: Plane): number => {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.data.length; i++) {
    if (a.data[i] && b.data[i]) both++;
    if (a.data[i] || b.data[i]) either++;
  }
  return both / either;
};
const corners = (quad: PaneQuad, truth: PaneQuad): number => Math.max(...quad.map(([x, y], k) => Math.hypot(x - truth[k][0], y - truth[k][1])));

describe('the pane that a region shows', () => {
  test('is found whatever stands before its lower edge, and where the view leaves holes', () => {
    fc.assert(fc.property(panes, fc.nat(1000), (truth, seed) => {
      const next = seeded(seed);
      const plane = drawn([truth]);
      const foot: Point = [truth[3][0] + 0.3 * (truth[2][0] - truth[3][0]), truth[3][1]];
      for (let i = 0; i < plane.data.length; i++) if (Math.hypot((i % W) - foot[0], Math.floor(i / W) - foot[1]) < 6 || next() < 0.03) plane.data[i] = 0;
      const region = labelRegions(plane).sort((a, b) => b.pixels.length - a.pixels.length)[0];
      const found = fitPane(region, W, H);
      expect(found).not.toBeNull();
      expect(corners(found!.quad, truth)).toBeLessThan(3.5);
    }), { numRuns: 60 });
  });
  test('is none where the region is round, or has another shape', () => {
    const round = mapPlane(createPlane(W, H), (_, i) => (Math.hypot((i % W) - 120, Math.floor(i / W) - 80) < 40 ? 1 : 0));
    const corner = mapPlane(createPlane(W, H), (_, i) => (i % W > 40 && i % W < 140 && Math.floor(i / W) > 30 && Math.floor(i / W) < 120 && (i % W < 70 || Math.floor(i / W) > 95) ? 1 : 0));
    const fits = [round, corner].map((plane) => fitPane(labelRegions(plane)[0], W, H)?.fit ?? 0);
    expect(Math.max(...fits)).toBeLessThan(0.9);
    expect(fitPane(labelRegions(corner)[0], W, H)).toBeNull();
  });
  test('is found whatever its sides lean to, as in a slope, with a corner covered', () => {
    const slanted = fc.record({ turn: fc.double({ min: 0, max: Math.PI, noNaN: true }), wide: fc.integer({ min: 50, max: 90 }), high: fc.integer({ min: 22, max: 40 }), skew: fc.double({ min: -0.4, max: 0.4, noNaN: true }) });
    fc.assert(fc.property(slanted, fc.nat(1000), ({ turn, wide, high, skew }, seed) => {
      const next = seeded(seed);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const truth = [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]].map(([u, v]): Point => [120 + c * wide * (u + skew * v) - s * high * v, 80 + s * wide * (u + skew * v) + c * high * v]) as unknown as PaneQuad;
      const plane = drawn([truth]);
      for (let i = 0; i < plane.data.length; i++) if (Math.hypot((i % W) - truth[0][0], Math.floor(i / W) - truth[0][1]) < 5 || next() < 0.03) plane.data[i] = 0;
      const region = labelRegions(plane).sort((a, b) => b.pixels.length - a.pixels.length)[0];
      const found = fitSlantedPane(region, W, H);
      expect(found).not.toBeNull();
      expect(overlap(drawn([found!.quad]), drawn([truth]))).toBeGreaterThan(0.9);
      // Corners go round as everywhere else: what lies within is within.
      expect(withinPane(found!.quad, 120, 80)).toBe(true);
    }), { numRuns: 60 });
    const corner = mapPlane(createPlane(W, H), (_, i) => (i % W > 40 && i % W < 140 && Math.floor(i / W) > 30 && Math.floor(i / W) < 120 && (i % W < 70 || Math.floor(i / W) > 95) ? 1 : 0));
    expect(fitSlantedPane(labelRegions(corner)[0], W, H)).toBeNull();
  });
  test('has a hull that holds every place, and only places of its own', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 50 })), { minLength: 3, maxLength: 40 }), (places) => {
      const hull = convexHull(places);
      const turn = (o: Point, a: Point, b: Point): number => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
      for (const [k, a] of hull.entries()) for (const p of places) if (hull.length > 2) expect(turn(a, hull[(k + 1) % hull.length], p)).toBeGreaterThanOrEqual(0);
      for (const [x, y] of hull) expect(places).toContainEqual([x, y]);
    }));
  });
  test('knows its own pixels, and no others', () => {
    fc.assert(fc.property(panes, (quad) => {
      const plane = drawn([quad]);
      for (let i = 0; i < plane.data.length; i += 13) expect(plane.data[i] === 1).toBe(withinPane(quad, i % W, Math.floor(i / W)));
    }), { numRuns: 20 });
  });
});

/** A window of two by two panes: bright views of their own texture, darker bars, a reveal on the left that is as bright as the view. */
function window(seed: number): { panes: PaneQuad[]; log: Plane; outside: Plane; whole: PaneQuad } {
  const next = seeded(seed);
  const rect = (x0: number, y0: number, x1: number, y1: number): PaneQuad => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]];
  const own = [rect(60, 30, 110, 75), rect(115, 30, 165, 75), rect(60, 80, 110, 125), rect(115, 80, 165, 125)];
  const inside = drawn(own);
  const log = createPlane(W, H);
  const outside = createPlane(W, H);
  for (let i = 0; i < log.data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const within = x >= 60 && x <= 165 && y >= 30 && y <= 125;
    // A horizon runs right through the view: no bar.
    log.data[i] = inside.data[i] ? (y < 100 ? 1.5 : 0.4) + 0.3 * next() : within ? -0.5 : -1.5 + 0.1 * next();
    outside.data[i] = inside.data[i] ? 0.9 : within ? 0.6 : 0.1;
  }
  return { panes: own, log, outside, whole: rect(60, 30, 165, 125) };
}

describe('a window', () => {
  test('is taken apart at its bars, and not at lines in the view', () => {
    for (const seed of [1, 2, 3]) {
      const { panes: truth, log, outside, whole } = window(seed);
      const found = splitPane(whole, [log], outside, false);
      expect(found).toHaveLength(4);
      for (const pane of truth) expect(Math.min(...found.map((f) => corners(f, pane)))).toBeLessThan(2.5);
    }
  });
  test('of one pane stays whole', () => {
    const { log, outside, panes: [pane] } = window(4);
    const found = splitPane(pane, [log], outside, false);
    expect(found).toHaveLength(1);
    expect(overlap(drawn(found), drawn([pane]))).toBeGreaterThan(0.88);
  });
  test('takes a bar and a head that one column tells of for those of the others, where something hangs before them', () => {
    // Two columns of two panes in a painted frame, seen by one flash that no other frame tells from the view; a shade hangs before the second.
    const truth: PaneQuad[] = [[40, 30], [104, 30], [40, 74], [104, 74]].map(([x, y]): PaneQuad => [[x, y], [x + 56, y], [x + 56, y + 36], [x, y + 36]]);
    const next = seeded(23);
    const log = mapPlane(drawn(truth), (v, i) => (v > 0 ? -3 + 1.2 * Math.sin(i / 7) * Math.cos(Math.floor(i / W) / 3) : -1) + 0.02 * next());
    const whole: PaneQuad = [[36, 22], [164, 22], [164, 114], [36, 114]];
    const shaded = mapPlane(log, (v, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      // Its lower rim slants across the head of the second column, and a thing hides half of the bar's paint.
      return x > 102 && y < 42 + (x - 102) / 8 ? -1.6 : x > 104 && x < 140 && y > 66 && y < 74 ? v - 0.4 * next() : v;
    });
    const unknown = mapPlane(log, () => 0.9);
    const found = splitPane(whole, [shaded], unknown, true);
    expect(found).toHaveLength(4);
    for (const pane of truth) expect(Math.min(...found.map((f) => corners(f, pane)))).toBeLessThan(3);
  });
  test('is taken apart also where no flash says what is outside', () => {
    const { log, whole, panes: truth } = window(5);
    const untold = createPlane(W, H, new Float32Array(W * H).fill(NaN));
    expect(overlap(drawn(splitPane(whole, [log], untold, true)), drawn(truth))).toBeGreaterThan(0.88);
  });
  test('gets the panes that were left out beside those that were found, and none beyond', () => {
    const { log, panes: truth, outside } = window(5);
    const more = siblingPanes([truth[0]], [log], () => ({ planes: [outside], sides: 3 }), () => true);
    expect(more).toHaveLength(3);
    expect(overlap(drawn([truth[0], ...more]), drawn(truth))).toBeGreaterThan(0.88);
    expect(siblingPanes([truth[0]], [log], () => ({ planes: [outside], sides: 3 }), () => false)).toHaveLength(0);
    // A patch in the middle of one keeps it out no more than nothing does.
    const [x, y] = [0, 1].map((c) => truth[1].reduce((sum, corner) => sum + corner[c], 0) / 4);
    const patch: PaneQuad = [[x - 4, y - 4], [x + 4, y - 4], [x + 4, y + 4], [x - 4, y + 4]];
    expect(siblingPanes([truth[0], patch], [log], () => ({ planes: [outside], sides: 3 }), (quad) => quad[1][0] - quad[0][0] > 20)).toHaveLength(3);
    expect(siblingPanes(truth, [log], () => ({ planes: [outside], sides: 3 }), () => true)).toHaveLength(0);
  });
});

describe('panes of a grid', () => {
  const box = (x: number, y: number, wide = 40, high = 30): PaneQuad => [[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]];
  test('lie beside each other over a bar, not over a wall, nor at a corner', () => {
    expect([liesBeside(box(50, 50), box(95, 50)), liesBeside(box(50, 50), box(50, 85)), liesBeside(box(50, 50), box(120, 50)), liesBeside(box(50, 50), box(95, 85))]).toEqual([true, true, false, false]);
  });
  test('enclose a place for one more from two sides, however many lie on one of them', () => {
    const place = box(95, 85);
    expect(isEnclosed(place, [box(50, 85)])).toBe(false);
    expect(isEnclosed(place, [box(50, 85, 40, 14), box(50, 101, 40, 14)])).toBe(false);
    expect(isEnclosed(place, [box(50, 85), box(95, 50)])).toBe(true);
    expect(isEnclosed(place, [box(50, 85), box(140, 85)])).toBe(true);
    expect(isEnclosed(place, [box(50, 85), box(160, 85), box(50, 50)])).toBe(false);
  });
  test('lie between two others unless flashes light all of the place, as they do a pier: what they are mirrored in shows some of the view', () => {
    const [place, panes] = [box(95, 85), [box(50, 85), box(140, 85)]];
    const radiance = mapPlane(createPlane(W, H), () => 1);
    /** @param lit share of the place, from its left, that flashes light; NaN: nothing tells */
    const maybe = (lit: number): boolean => {
      const outside = mapPlane(createPlane(W, H), (_, i) => (Number.isNaN(lit) ? NaN : i % W < 95 || i % W > 95 + 40 * lit ? 0.9 : 0.05));
      return judgePanes({ outside, radiance, likely: outside }, new Uint8Array(W * H).fill(1), [radiance], createPlane(W, H), 2).maybe(place, panes[0], panes);
    };
    expect([0, 0.5, 0.7, 0.95, 1, NaN].map(maybe)).toEqual([true, true, true, false, false, true]);
  });
  test('have things before them: for one flash these stand on the sill or are black, for several whatever they light is one', () => {
    const panes = [box(50, 40), box(50, 75)];
    const [outside, radiance] = [mapPlane(createPlane(W, H), () => 1), mapPlane(createPlane(W, H), () => 2)];
    const put = (x: number, y: number, wide: number, high: number, own: number): void => { for (let j = y; j < y + high; j++) for (let i = x; i < x + wide; i++) [outside.data[j * W + i], radiance.data[j * W + i]] = [0.1, own]; };
    // A tree with the lit room mirrored in it, a bright mirrored wall, a vase on the sill, and something black that hangs.
    put(55, 50, 12, 8, 0.8);
    put(72, 50, 12, 8, 2.2);
    put(60, 90, 8, 15, 0.7);
    put(78, 75, 8, 12, 0.05);
    const looks = { outside, radiance, likely: outside };
    const at = (plane: Plane, x: number, y: number): number => plane.data[y * W + x];
    const [one, several] = [true, false].map((oneFlash) => beforePanes(panes, new Set(), looks, oneFlash));
    expect([at(one, 60, 54), at(one, 78, 54), at(one, 64, 98), at(one, 82, 80), at(one, 55, 80)]).toEqual([0, 0, 1, 1, 0]);
    expect([at(several, 60, 54), at(several, 78, 54), at(several, 64, 98), at(several, 82, 80), at(several, 55, 80)]).toEqual([1, 1, 1, 1, 0]);
  });
});

describe('the sides of a pane', () => {
  /** Light of a bright pane on a dark bar all round, beyond which a wall of any brightness goes on: each pixel by what it truly covers. */
  const lightOf = (truth: PaneQuad, bar: number, wall: number, view: number): Plane => mapPlane(createPlane(W, H), (_, i) => {
    let sum = 0;
    for (let k = 0; k < 16; k++) {
      const [x, y] = [(i % W) + ((k % 4) - 1.5) / 4, Math.floor(i / W) + (Math.floor(k / 4) - 1.5) / 4];
      const out = Math.max(truth[0][0] - x, x - truth[1][0], truth[0][1] - y, y - truth[3][1]);
      sum += out <= 0 ? view : out < bar ? 0.1 : wall;
    }
    return sum / 16;
  });
  const top = (light: Plane): Plane => mapPlane(light, (v) => Math.min(1, v ** (1 / 2.2)));
  test('are moved to where half of a pixel is view, by whichever frames tell; a clipped one does not', () => {
    fc.assert(fc.property(fc.double({ min: 40, max: 60, noNaN: true }), fc.double({ min: 30, max: 45, noNaN: true }), fc.integer({ min: 3, max: 6 }), fc.array(fc.double({ min: -1.5, max: 1.5, noNaN: true }), { minLength: 4, maxLength: 4 }), (x, y, bar, off) => {
      const truth: PaneQuad = [[x, y], [x + 70, y], [x + 70, y + 50], [x, y + 50]];
      const rough: PaneQuad = [[x + off[0], y + off[1]], [x + 70 + off[2], y + off[1]], [x + 70 + off[2], y + 50 + off[3]], [x + off[0], y + 50 + off[3]]];
      const [day, flash, clipped] = [lightOf(truth, bar, 0.4, 0.7), lightOf(truth, bar, 0.6, 0.02), mapPlane(lightOf(truth, bar, 1, 1), () => 1)];
      expect(corners(refinePane(rough, [day, flash, clipped].map((light) => ({ light, top: top(light) }))), truth)).toBeLessThan(0.35);
      expect(refinePane(rough, [{ light: clipped, top: top(clipped) }])).toEqual(rough.map(([u, v]) => [expect.closeTo(u, 6), expect.closeTo(v, 6)]));
    }), { numRuns: 25 });
  });
  test('go out to the line that the pane beside ends in, where there may be a view; not past it, and not where there is a wall', () => {
    const { panes: [first, second, third, fourth] } = window(6);
    const short: PaneQuad = [[second[0][0], second[0][1] + 14], [second[1][0], second[1][1] + 14], second[2], second[3]];
    const narrow: PaneQuad = [third[0], [third[1][0] - 9, third[1][1]], [third[2][0] - 9, third[2][1]], third[3]];
    const even = evenPanes([first, short, narrow, fourth], () => 'view');
    expect(corners(even[1], second)).toBeLessThan(0.01);
    expect(corners(even[2], third)).toBeLessThan(0.01);
    expect(even[0]).toEqual(first);
    expect(evenPanes([first, short, narrow, fourth], () => 'unknown')).toEqual([first, short, narrow, fourth]);
  });
  test('come in to the line that the pane beside ends in, where a reveal lies beyond it', () => {
    const { panes: [first, second, third, fourth] } = window(6);
    const long: PaneQuad = [[second[0][0], second[0][1] - 9], [second[1][0], second[1][1] - 9], second[2], second[3]];
    const strips: PaneQuad[] = [];
    const even = evenPanes([first, long, third, fourth], (strip) => {
      strips.push(strip);
      return 'paint';
    });
    expect(corners(even[1], second)).toBeLessThan(0.01);
    // What was looked at is what lies beyond, from its top left on.
    expect(strips.some((strip) => corners(strip, [long[0], long[1], second[1], second[0]]) < 0.01)).toBe(true);
    expect(corners(evenPanes([first, long, third, fourth], () => 'unknown')[1], long)).toBeLessThan(0.01);
  });
});
