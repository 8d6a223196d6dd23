import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Framing, Mix, SourcePass } from '@zaddle/document';
import { invert, mapPoint } from '../src/geometry/homography';
import { NO_LENS } from '../src/geometry/lens';
import type { StanceFound } from '../src/geometry/estimateStance';
import { changeReference } from '../src/mix/changeReference';
import { asShot, cropOf, frameMix, framingOf, keptCrop, regionOf, seenBox, uncropped } from '../src/mix/frameMix';
import { inOrder, ownCropOf, withOwnCrop } from '../src/mix/orderMix';
import { focalOf, proposeFraming } from '../src/propose/proposeFraming';
import { leaning, leaningReading } from '../src/read/leaningReading';

const [W, H] = [1500, 1000];
const use = (homography: Mix['frames'][string]['homography'], width = W, height = H): Mix['frames'][string] => ({ width, height, homography, mesh: null, stops: 0, balance: [1, 1, 1] });
const light = (frame: string, on = true): SourcePass => ({ id: frame, kind: 'light', name: frame, why: '', within: null, on, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
const plain: Mix = { reference: 'a', lens: { ...NO_LENS, k1: 0.02 }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: IDENTITY, width: W, height: H, frames: { a: use(IDENTITY), b: use([1, 0, 40, 0, 1, -25, 0, 0, 1]) }, merge: ['a'], passes: [light('a')] };
const between = (low: number, high: number): fc.Arbitrary<number> => fc.double({ min: low, max: high, noNaN: true });
const framings: fc.Arbitrary<Framing> = fc.record({ roll: between(-6, 6), pitch: between(-15, 15), yaw: between(-10, 10), strength: between(0, 1), turn: between(-5, 5), stretch: between(0.85, 1.2) }).map((r) => ({ ...asShot(0.72), ...r }));
const found = (more: Partial<StanceFound>): StanceFound => ({ plumb: { roll: 1, pitch: -4 }, yaw: null, verticals: 12, horizontals: 0, error: 0.05, ...more });

/** Corners of an output in the reference. */
const cornersOf = ({ geometry, width, height }: Pick<Mix, 'geometry' | 'width' | 'height'>): [number, number][] => [[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]].map(([x, y]) => mapPoint(geometry, x, y));

describe('framing a mix', () => {
  test('nothing straightened is the reference as it was taken, to the pixel', () => {
    expect(frameMix(plain, asShot())).toMatchObject({ width: W, height: H });
    frameMix(plain, asShot()).geometry.forEach((v, k) => expect(v).toBeCloseTo(IDENTITY[k], 9));
  });
  test('whatever it is straightened by, no corner is empty, in any ratio', () => {
    fc.assert(fc.property(framings, fc.constantFrom(null, 4 / 3, 1, 0.8, 16 / 9), (framing, ratio) => {
      const out = frameMix(plain, { ...framing, ratio });
      for (const [x, y] of cornersOf(out)) {
        expect(x).toBeGreaterThan(-0.5);
        expect(y).toBeGreaterThan(-0.5);
        expect(x).toBeLessThan(W - 0.5);
        expect(y).toBeLessThan(H - 0.5);
      }
      expect(Math.abs(out.width / out.height - (ratio ?? 1.5))).toBeLessThan(0.01);
    }), { numRuns: 60 });
  });
  test('a crop keeps its place in the room when the picture is straightened otherwise, and comes back when that is taken back', () => {
    fc.assert(fc.property(framings, between(0.3, 0.7), between(0.3, 0.7), (framing, u, v) => {
      const crop = { at: [u, (v * H) / W] as const, width: 0.25, height: 0.18 };
      for (const each of [{ ...asShot(0.72), crop }, { ...framing, crop }] as const) {
        const out = frameMix(plain, each);
        const [x, y] = mapPoint(out.geometry, (out.width - 1) / 2, (out.height - 1) / 2);
        expect(Math.hypot(x - u * W, y - v * H)).toBeLessThan(3);
        expect(Math.abs(out.width - 0.25 * W)).toBeLessThanOrEqual(1);
      }
    }), { numRuns: 40 });
  });
  test('what is kept of a crop gives that crop again', () => {
    fc.assert(fc.property(framings, (framing) => {
      const crop = cropOf(plain, framing);
      const again = cropOf(plain, { ...framing, crop: keptCrop(plain, framing, crop) });
      for (const key of ['x', 'y', 'width', 'height'] as const) expect(Math.abs(again[key] - crop[key])).toBeLessThan(0.2);
    }), { numRuns: 40 });
  });
  test('frames that light the picture and lie off it cost their ragged edges; muted ones, and a hair, do not', () => {
    const lit = (on: boolean): Mix => ({ ...plain, lens: NO_LENS, passes: [light('a'), light('b', on)] });
    // The frame lies 40 px to the left of the reference and 25 below it.
    for (const [x, y] of cornersOf(frameMix(lit(true), asShot()))) {
      expect(x).toBeLessThan(W - 41);
      expect(y).toBeGreaterThan(24);
    }
    expect(frameMix(lit(false), asShot()).width).toBe(W);
    expect(frameMix({ ...lit(true), frames: { ...plain.frames, b: use([1, 0, 4, 0, 1, -3, 0, 0, 1]) } }, asShot()).width).toBe(W);
  });
  test('what lies beyond the crop is seen whole, in the same place', () => {
    fc.assert(fc.property(framings, (framing) => {
      const mix = { ...plain, ...frameMix(plain, framing) };
      const wide = uncropped(mix, framing, seenBox(mix, framing));
      const back = invert(wide.geometry);
      for (const corner of [[0, 0], [W - 1, 0], [W - 1, H - 1], [0, H - 1]] as const) {
        const [x, y] = mapPoint(back, corner[0], corner[1]);
        expect(x).toBeGreaterThan(-1);
        expect(y).toBeGreaterThan(-1);
        expect(x).toBeLessThan(wide.width);
        expect(y).toBeLessThan(wide.height);
      }
      // The crop lies in it unturned, pixel on pixel.
      const [a, b] = ([[0, 0], [mix.width - 1, mix.height - 1]] as [number, number][]).map(([x, y]) => mapPoint(back, ...mapPoint(mix.geometry, x, y)));
      expect(b[0] - a[0]).toBeCloseTo(mix.width - 1, 5);
      expect(b[1] - a[1]).toBeCloseTo(mix.height - 1, 5);
    }), { numRuns: 30 });
  });
  test('a mix that was cropped before framings were keeps its crop', () => {
    const old: Mix = { ...plain, geometry: [1, 0, 60, 0, 1, 40, 0, 0, 1], width: 1200, height: 800 };
    const again = frameMix(old, framingOf(old));
    expect([again.width, again.height]).toEqual([1200, 800]);
    expect([again.geometry[2], again.geometry[5]]).toEqual([60, 40]);
    expect(framingOf(plain).crop).toBeNull();
  });
  test('on another reference the picture stays where it is, and so does what can be gone on with', () => {
    const moved: Mix = { ...plain, frames: { a: use(IDENTITY), b: use([0.9998, -0.0175, 30, 0.0175, 0.9998, -12, 0, 0, 1]) } };
    const framing = { ...asShot(0.72), roll: 1, pitch: -4, crop: { at: [0.5, 0.3] as const, width: 0.4, height: 0.3 }, lines: [{ from: [0.2, 0.2] as const, to: [0.2, 0.5] as const }] };
    const mix = { ...moved, ...frameMix(moved, framing) };
    const other = changeReference(mix, 'b');
    const again = frameMix(other, other.framing!);
    for (const [x, y] of [[0, 0], [mix.width - 1, 0], [0, mix.height - 1]]) {
      const [p, q] = [mapPoint(other.geometry, x, y), mapPoint(again.geometry, x, y)];
      expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeLessThan(4);
    }
    expect(regionOf(other, other.framing!).length).toBeGreaterThan(3);
  });
});

describe('a crop of their own for orders of a ratio', () => {
  const ratios = [4 / 3, 16 / 9, 1] as const;
  const wish = fc.record({ x: between(0.3, 0.7), y: between(0.2, 0.5), width: between(0.2, 0.9) });

  test('is what those orders show, inside what is there; the picture and other orders show what they did', () => {
    fc.assert(fc.property(framings, fc.constantFrom(...ratios), wish, (framing, ratio, { x, y, width }) => {
      const mix = { ...plain, ...frameMix(plain, framing) };
      const crop = { at: [x, y], width, height: width / ratio } as const;
      const own = { ...mix, ...frameMix(mix, withOwnCrop(mix, framing, ratio, crop)) };
      expect([own.geometry, own.width, own.height]).toEqual([mix.geometry, mix.width, mix.height]);
      const shown = inOrder(own, { ratio });
      expect(Math.abs(shown.width / shown.height - ratio)).toBeLessThan(0.02);
      for (const [u, v] of cornersOf(shown)) expect(u > -1 && v > -1 && u < W && v < H).toBe(true);
      const expected = frameMix(mix, { ...framing, ratio, crop });
      expect([shown.geometry, shown.width, shown.height]).toEqual([expected.geometry, expected.width, expected.height]);
      for (const other of ratios.filter((each) => each !== ratio)) expect(inOrder(own, { ratio: other }).geometry).toEqual(inOrder(mix, { ratio: other }).geometry);
      expect(inOrder(own, { ratio: null })).toBe(own);
      // Taken back, nothing is left of it.
      expect(withOwnCrop(own, framingOf(own), ratio, null)).toEqual(framing);
    }), { numRuns: 40 });
  });

  test('is turned for a picture taller than wide, replaces the one before, and goes along to another reference', () => {
    const tall: Mix = { ...plain, ...frameMix(plain, { ...asShot(0.72), ratio: 2 / 3 }) };
    const once = withOwnCrop(tall, framingOf(tall), 4 / 3, { at: [0.5, 0.3], width: 0.3, height: 0.4 });
    const twice = withOwnCrop(tall, once, 4 / 3, { at: [0.4, 0.3], width: 0.3, height: 0.4 });
    expect(twice.ownCrops).toEqual([{ ratio: 3 / 4, crop: { at: [0.4, 0.3], width: 0.3, height: 0.4 } }]);
    const mix = { ...tall, ...frameMix(tall, twice) };
    expect(ownCropOf(mix, 4 / 3)).toEqual({ at: [0.4, 0.3], width: 0.3, height: 0.4 });
    expect(ownCropOf(mix, 16 / 9)).toBeNull();
    const moved = changeReference(mix, 'b');
    const middle = ({ geometry, width, height }: Mix): readonly [number, number] => mapPoint(geometry, (width - 1) / 2, (height - 1) / 2);
    const [was, is] = [middle(inOrder(mix, { ratio: 4 / 3 })), middle(inOrder(moved, { ratio: 4 / 3 }))];
    expect(Math.hypot(is[0] - was[0] - 40, is[1] - was[1] + 25)).toBeLessThan(2);
  });
});

describe('the framing that is proposed', () => {
  test('is plumb; faces a wall only where it nearly does and many edges say so; costs no more than a third', () => {
    expect(proposeFraming(plain, found({}), 0.72)).toMatchObject({ roll: 1, pitch: -4, yaw: 0, strength: 1 });
    expect(proposeFraming(plain, found({ yaw: 1.1, horizontals: 30 }), 0.72).yaw).toBe(1.1);
    expect(proposeFraming(plain, found({ yaw: 1.1, horizontals: 5 }), 0.72).yaw).toBe(0);
    expect(proposeFraming(plain, found({ yaw: 4, horizontals: 30 }), 0.72).yaw).toBe(0);
    const steep = proposeFraming(plain, found({ plumb: { roll: 0, pitch: 24 } }), 0.72);
    expect(steep.strength).toBeLessThan(1);
    const out = frameMix(plain, steep);
    expect(out.width * out.height).toBeGreaterThan(0.6 * W * H);
  });
  test('is as shot where nothing tells, or where the camera stood as level as anybody sees', () => {
    expect(proposeFraming(plain, found({ plumb: { roll: 0.04, pitch: -0.08 } }), 0.72)).toEqual(asShot(0.72));
    expect(proposeFraming(plain, found({ plumb: { roll: 0.06, pitch: 0 } }), 0.72).roll).toBe(0.06);
    expect(proposeFraming(plain, found({ plumb: null, verticals: 1 }), 0.72)).toEqual(asShot(0.72));
  });
  test('knows the focal length from what files tell of 35 mm film', () => {
    expect(focalOf({ focal35: 24, width: 6000, height: 4000 })).toBeCloseTo(24 / 36, 6);
    expect(focalOf({ focal35: 24, width: 4000, height: 6000 })).toBeCloseTo(24 / 36, 6);
    expect(focalOf({ focal35: null, width: 6000, height: 4000 })).toBeCloseTo(0.7, 6);
  });
});

describe('what leans', () => {
  const told = (plumb: StanceFound['plumb']) => ({ ...found({ plumb }), frame: 'a', focal: 0.72 });
  test('is nothing in a picture that is straightened so, and goes with the strength', () => {
    const mix = (strength: number): Mix => ({ ...plain, ...frameMix(plain, { ...asShot(0.72), roll: 1, pitch: -6, strength }) });
    for (const angle of leaning(mix(1), { roll: 1, pitch: -6 }, 0.72)) expect(Math.abs(angle)).toBeLessThan(1e-6);
    const [left, right] = leaning(mix(0), { roll: 0, pitch: -6 }, 0.72);
    const [half] = leaning({ ...plain, ...frameMix(plain, { ...asShot(0.72), pitch: -6, strength: 0.5 }) }, { roll: 0, pitch: -6 }, 0.72);
    // Seen from above, things spread upwards: to the left at the left.
    expect(left).toBeLessThan(-1);
    expect(right).toBeGreaterThan(1);
    expect(half).toBeLessThan(-1);
  });
  test('is told with what to do, and not at all where nothing tells', () => {
    expect(leaningReading(plain, told(null))).toBeNull();
    expect(leaningReading(plain, told({ roll: 2, pitch: 0 }))).toMatchObject({ kind: 'leaning', state: 'check', text: expect.stringMatching(/lean left.*Shift \+ f/) });
    expect(leaningReading(plain, told({ roll: 0, pitch: 8 }))).toMatchObject({ state: 'bad', text: expect.stringMatching(/meet above/) });
    expect(leaningReading(plain, told({ roll: 0.1, pitch: 0.1 }))).toMatchObject({ state: 'good', text: expect.stringMatching(/12 agree/) });
  });
});
