import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asShot, cropOf, frameMix } from '@zaddle/core/mix/frameMix';
import type { MixDocument } from '@zaddle/document';
import { costWords, draggedCrop, GRIPS, grownCrop, inRatio, movedCrop, stanceWords, straightenedBy, withLine, withoutLine } from '../src/desk/framing';

const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null, stops: 0, balance: [1, 1, 1] as const };
const plain = { version: 4, reference: 'a', lens: { k1: 0.01, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: use.homography, width: 1500, height: 1000, frames: { a: use }, merge: ['a'], passes: [] } as unknown as MixDocument;
const tilted = { ...asShot(0.7), roll: 1, pitch: -4 };
const stance = { plumb: { roll: 1, pitch: -4 }, yaw: 2, verticals: 9, horizontals: 12, error: 0.05 };
const pull = fc.double({ min: -900, max: 900, noNaN: true });

describe('a crop at the desk', () => {
  test('is dragged at any grip, however far, without losing its ratio or an opposite side that had room', () => {
    fc.assert(fc.property(fc.constantFrom(...GRIPS), pull, pull, fc.constantFrom(4 / 3, null), (grip, dx, dy, ratio) => {
      const start = grownCrop(plain, { ...tilted, ratio: 4 / 3 }, 0.6);
      const before = cropOf(plain, start);
      const after = cropOf(plain, draggedCrop(plain, { ...start, ratio }, grip, dx, dy));
      expect(after.width).toBeGreaterThan(40);
      expect(after.height).toBeGreaterThan(40);
      if (ratio !== null) expect(after.width / after.height).toBeCloseTo(ratio, 3);
      if (grip.across !== 0) expect(after.x - (grip.across * after.width) / 2).toBeCloseTo(before.x - (grip.across * before.width) / 2, 1);
      if (grip.down !== 0) expect(after.y - (grip.down * after.height) / 2).toBeCloseTo(before.y - (grip.down * before.height) / 2, 1);
      frameMix(plain, draggedCrop(plain, { ...start, ratio }, grip, dx, dy));
    }), { numRuns: 80 });
  });
  test('is moved as it is, as far as there is room; grown no further than the picture', () => {
    const start = grownCrop(plain, tilted, 0.5);
    const [a, b] = [cropOf(plain, start), cropOf(plain, movedCrop(plain, start, 60, -30))];
    expect([b.x - a.x, b.y - a.y, b.width].map((v) => Math.round(v))).toEqual([60, -30, Math.round(a.width)]);
    const far = cropOf(plain, movedCrop(plain, start, 5000, 0));
    expect(far.width).toBeCloseTo(a.width, 0);
    const whole = cropOf(plain, grownCrop(plain, start, 50));
    expect(whole.width).toBeCloseTo(cropOf(plain, { ...tilted, ratio: 1.5 }).width, 0);
  });
  test('takes another ratio about its middle, and any ratio as it stands', () => {
    const start = { ...grownCrop(plain, asShot(), 0.5), ratio: 1.5 };
    const square = cropOf(plain, inRatio(plain, start, 1));
    expect(square.width).toBeCloseTo(square.height, 6);
    expect([square.x, square.y].map(Math.round)).toEqual([cropOf(plain, start).x, cropOf(plain, start).y].map(Math.round));
    expect(inRatio(plain, asShot(), 1)).toMatchObject({ ratio: 1, crop: null });
    expect(inRatio(plain, asShot(), null).crop).not.toBeNull();
  });
});

describe('straightening at the desk', () => {
  test('by what was measured, where that was told', () => {
    expect(straightenedBy(tilted, 'as shot', null)).toMatchObject({ roll: 0, pitch: 0, yaw: 0 });
    expect(straightenedBy(asShot(), 'level', stance)).toMatchObject({ roll: 1, pitch: 0, yaw: 0 });
    expect(straightenedBy(asShot(), 'verticals', stance)).toMatchObject({ roll: 1, pitch: -4, yaw: 0 });
    expect(straightenedBy(asShot(), 'both', stance)).toMatchObject({ roll: 1, pitch: -4, yaw: 2 });
    expect(straightenedBy(asShot(), 'both', { ...stance, yaw: null })).toBeNull();
    expect(straightenedBy(asShot(), 'verticals', { ...stance, plumb: null })).toBeNull();
  });
  test('by lines, eight at most; without any it is as shot', () => {
    const line = { from: [0.3, 0.1] as const, to: [0.31, 0.5] as const };
    const one = withLine(plain, asShot(), line);
    expect(one.roll).not.toBe(0);
    expect(withoutLine(plain, one, 0)).toMatchObject({ roll: 0, lines: [] });
    let many = asShot();
    for (let k = 0; k < 12; k++) many = withLine(plain, many, { from: [0.1 + 0.05 * k, 0.1], to: [0.1 + 0.05 * k, 0.5] });
    expect(many.lines).toHaveLength(8);
  });
  test('says what was measured and what a crop costs', () => {
    expect(stanceWords(stance)).toBe('The camera looked down by 4.0° and hung to the right by 1.0°: 9 vertical edges agree. The wall is faced 2.0° from the left.');
    expect(stanceWords({ ...stance, plumb: { roll: 0.01, pitch: 0 }, yaw: null })).toBe('The camera looked straight ahead and hung level: 9 vertical edges agree.');
    expect(stanceWords({ ...stance, plumb: null })).toMatch(/Draw lines/);
    expect(costWords(plain)).toBe('1500 × 1000, 1.5 MP: all of the frame');
    expect(costWords({ ...plain, ...frameMix(plain, { ...asShot(), ratio: 1 }) })).toBe('1000 × 1000, 1.0 MP: 67 % of the frame');
  });
});
