import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { moved, skewed, STAY } from '../src/align/moveByHand';
import { IDENTITY, mapPoint, type Homography } from '../src/geometry/homography';
import { throughFour } from '../src/geometry/throughFour';
import { NO_LENS } from '../src/geometry/lens';
import { changeReference } from '../src/mix/changeReference';
import type { Area, Mix, SourcePass } from '@zaddle/document';
import { outputToReference } from '../src/mix/outputToReference';

const [W, H] = [1500, 1000];
const near = (a: readonly number[], b: readonly number[], within = 1e-6): void => a.forEach((v, i) => expect(Math.abs(v - b[i])).toBeLessThan(within));
const homographies = fc.tuple(...[0.02, 0.02, 60, 0.02, 0.02, 60, 2e-6, 2e-6].map((m) => fc.double({ min: -m, max: m, noNaN: true }))).map((d) => [1 + d[0], d[1], d[2], d[3], 1 + d[4], d[5], d[6], d[7], 1] as Homography);
const points = fc.tuple(fc.double({ min: 0, max: W, noNaN: true }), fc.double({ min: 0, max: H, noNaN: true }));

describe('moving a frame by hand', () => {
  test('its picture goes where it is moved', () => {
    fc.assert(fc.property(homographies, points, fc.double({ min: -5, max: 5, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true }), (h, [x, y], dx, dy) => {
      // What was seen at (x, y) is seen at (x + dx, y + dy).
      near(mapPoint(moved(h, { ...STAY, dx, dy }, W, H), x + dx, y + dy), mapPoint(h, x, y), 1e-6);
    }));
    const [u, v] = mapPoint(moved(IDENTITY, { ...STAY, degrees: 90 }, 101, 101), 50, 100);
    // A quarter clockwise: what was to the right is below.
    near([u, v], [100, 50], 1e-9);
    near(mapPoint(moved(IDENTITY, { ...STAY, growth: 2 }, 101, 101), 60, 50), [55, 50], 1e-9);
  });
  test('a dragged corner takes its corner along and leaves the others', () => {
    fc.assert(fc.property(homographies, fc.integer({ min: 0, max: 3 }), fc.double({ min: -40, max: 40, noNaN: true }), fc.double({ min: -40, max: 40, noNaN: true }), (h, corner, dx, dy) => {
      const corners = [[0, 0], [W - 1, 0], [W - 1, H - 1], [0, H - 1]] as const;
      const next = skewed(h, corner, dx, dy, W, H)!;
      corners.forEach(([x, y], k) => near(mapPoint(next, k === corner ? x + dx : x, k === corner ? y + dy : y), mapPoint(h, x, y), 1e-4));
    }));
  });
  test('four points make a map, three on a line make none', () => {
    fc.assert(fc.property(homographies, (h) => {
      const from = [[0, 0], [W, 0], [W, H], [0, H]] as const;
      near(throughFour(from, from.map(([x, y]) => mapPoint(h, x, y)))!, h, 1e-5);
    }));
    expect(throughFour([[0, 0], [1, 1], [2, 2], [3, 3]], [[0, 0], [1, 0], [0, 1], [1, 1]])).toBeNull();
  });
});

describe('another reference', () => {
  const pass: SourcePass = { id: 'p', name: '', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [{ id: 'm', kind: 'ramp', join: 'add', inverted: false, from: [0.2, 0.3], to: [0.6, 0.4] }], exposure: 0.5, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 };
  const mixOf = (b: Homography, c: Homography): Mix => ({
    reference: 'a', lens: NO_LENS, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 20, 0, 1, 10, 0, 0, 1], width: W - 40, height: H - 20, merge: ['a'],
    frames: Object.fromEntries([['a', IDENTITY, 0], ['b', b, -2], ['c', c, 1]].map(([id, homography, stops]) => [id, { width: W, height: H, homography, mesh: null, stops, balance: [1, 1, 1] }])) as unknown as Mix['frames'],
    passes: [pass, { ...pass, id: 'q', source: { kind: 'frame', frame: 'c' }, alignment: c }],
  });
  test('keeps where every output pixel comes from, and the brightness of every pass', () => {
    fc.assert(fc.property(homographies, homographies, points, (b, c, [x, y]) => {
      const before = mixOf(b, c);
      const after = changeReference(before, 'b');
      expect(after.reference).toBe('b');
      for (const id of ['a', 'b', 'c']) near(mapPoint(after.frames[id].homography, ...outputToReference(after, x, y)), mapPoint(before.frames[id].homography, ...outputToReference(before, x, y)), 1e-3);
      const own = (mix: Mix): [number, number] => mapPoint((mix.passes[1] as SourcePass).alignment!, ...outputToReference(mix, x, y));
      near(own(after), own(before), 1e-3);
      // The mix keeps its own zero of exposure: nothing gets brighter or darker.
      for (const id of ['a', 'b', 'c']) expect(after.frames[id].stops).toBe(before.frames[id].stops);
      expect(after.passes.map((p) => p.exposure)).toEqual(before.passes.map((p) => p.exposure));
      const ramp = after.passes[0].mask[0] as Extract<Area, { kind: 'ramp' }>;
      near(ramp.from.map((v) => v * W), mapPoint(b, 0.2 * W, 0.3 * W), 1e-6);
    }));
  });
  test('and back again is where it was; an unknown frame is refused', () => {
    const before = mixOf([1, 0.01, 5, -0.01, 1, -7, 0, 0, 1], IDENTITY);
    const back = changeReference(changeReference(before, 'b'), 'a');
    for (const id of ['a', 'b', 'c']) near(back.frames[id].homography, before.frames[id].homography, 1e-6);
    expect(() => changeReference(before, 'x')).toThrow(/not lined up/);
  });
});
