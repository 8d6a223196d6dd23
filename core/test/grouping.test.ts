import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { localStructure } from '../src/align/structure';
import { boxBlur } from '../src/image/boxBlur';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import type { FrameFacts } from '../src/intake/frameFacts';
import { groupShots, type SortingFrame } from '../src/intake/groupShots';
import { findTwins } from '../src/intake/findTwins';
import { seeded, testTools } from './kernelMemory';

const tools = testTools(4 << 20);
const [W, H, MARGIN] = [150, 100, 20];

/** A made-up view, larger than its frames all round: blobs and bars of all sizes. */
function view(seed: number): Plane {
  const next = seeded(seed);
  const plane = createPlane(W + 2 * MARGIN, H + 2 * MARGIN);
  for (let k = 0; k < 160; k++) {
    const [x0, y0, w, h, v] = [next() * plane.width, next() * plane.height, 3 + next() * 25, 3 + next() * 25, 20 + next() * 200];
    for (let y = Math.floor(y0); y < Math.min(plane.height, y0 + h); y++) for (let x = Math.floor(x0); x < Math.min(plane.width, x0 + w); x++) plane.data[y * plane.width + x] = v;
  }
  return boxBlur(plane, 1);
}
const views = new Map<number, Plane>();

interface Press {
  readonly view: number;
  /** Seconds since the first frame. */
  readonly at: number;
  readonly stops?: number;
  readonly bracketed?: boolean;
  readonly dx?: number;
  readonly dy?: number;
  /** How much another light changes the picture, 0..1. */
  readonly light?: number;
  readonly noise?: number;
}

function take(press: Press, number: number, timed = true): SortingFrame {
  const { stops = 0, dx = 0, dy = 0, light = 0, noise = 2 } = press;
  if (!views.has(press.view)) views.set(press.view, view(press.view));
  const from = views.get(press.view)!;
  const next = seeded(number * 31 + 7);
  const lamp = [next() * W, next() * H];
  const grey = createPlane(W, H);
  for (let i = 0; i < grey.data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const value = from.data[(y + MARGIN + dy) * from.width + x + MARGIN + dx];
    const lit = 1 - light + light * 1.6 * Math.exp(-((x - lamp[0]) ** 2 + (y - lamp[1]) ** 2) / 4000);
    grey.data[i] = Math.min(255, Math.max(0, value * 2 ** (stops / 2.2) * lit + noise * (next() + next() + next() - 1.5)));
  }
  const facts: FrameFacts = {
    id: String(number), name: `F${number}.JPG`, width: 1500, height: 1000, takenAt: timed ? 1e12 + press.at * 1000 : null, seconds: timed ? 0.25 * 2 ** stops : null, aperture: timed ? 8 : null, iso: timed ? 200 : null,
    flash: null, bracketed: press.bracketed ?? false, focalLength: timed ? 20 : null, format: 'jpeg', camera: null, lensName: null, twinOf: null,
  };
  return { facts, structure: localStructure(grey, 5, 3) };
}

const sorted = (presses: readonly Press[], timed = true): { ids: number[][]; shots: ReturnType<typeof groupShots> } => {
  const shots = groupShots(tools, presses.map((p, k) => take(p, k, timed)));
  return { shots, ids: shots.map((s) => s.frames.map(Number)) };
};
const bracket = (v: number, at: number): Press[] => [0, -2, 2].map((stops, k) => ({ view: v, at: at + k, stops, bracketed: true }));

describe('sorting a card', () => {
  test('any number of frames a shot, within seconds of each other, in any order of the files', () => {
    fc.assert(fc.property(fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 5 }), fc.integer({ min: 1, max: 9999 }), (sizes, seed) => {
      const next = seeded(seed);
      let at = 0;
      const presses = sizes.flatMap((size, v) => Array.from({ length: size }, (): Press => ({ view: 100 * seed + v, at: (at += 1 + 2 * next()), stops: Math.round(4 * next() - 2), light: 0.5 * next(), dx: Math.round(next()), dy: Math.round(next()) })));
      const truth = sizes.map((size, v) => { const first = sizes.slice(0, v).reduce((a, b) => a + b, 0); return Array.from({ length: size }, (_, k) => first + k); });
      expect(sorted(presses).ids).toEqual(truth);
      const turned = groupShots(tools, presses.map((p, k) => take(p, k)).sort(() => next() - 0.5));
      expect(turned.map((s) => s.frames.map(Number))).toEqual(truth);
      // In the example another view is like the first one by chance, at the end of the reach.
    }), { numRuns: 12, examples: [[[8, 1], 4]] });
  });
  test('forty frames of one view stay one shot', () => {
    const { ids } = sorted(Array.from({ length: 40 }, (_, k) => ({ view: 7, at: 4 * k, stops: (k % 5) - 2, light: k % 3 === 0 ? 0.5 : 0 })));
    expect(ids).toEqual([Array.from({ length: 40 }, (_, k) => k)]);
  });
  test('a stray test frame in the middle does not end the shot', () => {
    const { ids, shots } = sorted([...bracket(1, 0), { view: 2, at: 9 }, { view: 1, at: 14, light: 0.4 }, { view: 1, at: 19, light: 0.5 }, ...bracket(3, 60)]);
    expect(ids).toEqual([[0, 1, 2, 4, 5], [3], [6, 7, 8]]);
    expect(shots[0].confidence).toBeLessThanOrEqual(0.85);
  });
  test('the same view shot twice is cut where its bracket begins anew, and is doubtful', () => {
    const { ids, shots } = sorted([...bracket(4, 0), { view: 4, at: 8, light: 0.4 }, ...bracket(4, 70), { view: 4, at: 78, light: 0.4 }]);
    expect(ids).toEqual([[0, 1, 2, 3], [4, 5, 6, 7]]);
    expect(shots[1].confidence).toBeLessThan(0.6);
  });
  test('a camera that was moved a little and held still again begins another composition', () => {
    const held = (dx: number, from: number): Press[] => [0, -1, 1, 0].map((stops, k) => ({ view: 5, at: from + 3 * k, stops, dx, dy: k % 2 }));
    const { ids } = sorted([...held(0, 0), ...held(8, 30)]);
    expect(ids).toEqual([[0, 1, 2, 3], [4, 5, 6, 7]]);
  });
  test('a hand-held set that never holds still is one shot', () => {
    const moves = [[0, 0], [5, -3], [-4, 4], [3, 5], [-5, -2], [4, 1]];
    const { ids } = sorted(moves.map(([dx, dy], k) => ({ view: 6, at: 2 * k, dx, dy })));
    expect(ids).toEqual([[0, 1, 2, 3, 4, 5]]);
  });
  test('without EXIF, by content and the order of names', () => {
    const { ids } = sorted([{ view: 8, at: 0 }, { view: 8, at: 0, light: 0.3 }, { view: 9, at: 0 }, { view: 9, at: 0, stops: 1 }], false);
    expect(ids).toEqual([[0, 1], [2, 3]]);
  });
  test('a black frame right after goes on with the shot, one long after does not', () => {
    const black: SortingFrame = { ...take({ view: 1, at: 4 }, 50), structure: mapPlane(take({ view: 1, at: 4 }, 50).structure, () => 0) };
    const late: SortingFrame = { ...black, facts: { ...black.facts, id: '51', takenAt: 1e12 + 4e6 } };
    const shots = groupShots(tools, [...bracket(1, 0).map((p, k) => take(p, k)), black, late]);
    expect(shots.map((s) => s.frames)).toEqual([['0', '1', '2', '50'], ['51']]);
    expect(shots.every((s) => s.confidence <= 0.5)).toBe(true);
  });
  test('another picture shape or focal length is another shot', () => {
    const [a, b] = [take({ view: 1, at: 0 }, 0), take({ view: 1, at: 2 }, 1)];
    expect(groupShots(tools, [a, { ...b, facts: { ...b.facts, focalLength: 35 } }])).toHaveLength(2);
    expect(groupShots(tools, [])).toEqual([]);
  });
});

describe('twins', () => {
  const facts = (name: string, more: Partial<FrameFacts> = {}): FrameFacts => ({ ...take({ view: 1, at: 0 }, 0).facts, id: name, name, ...more });
  test('the same name, time and shape is one exposure; the larger file is worked with', () => {
    const [jpeg, tiff, other] = findTwins([facts('A1.JPG'), facts('A1.TIF', { width: 750, height: 500 }), facts('A2.JPG')]);
    expect([jpeg.twinOf, tiff.twinOf, other.twinOf]).toEqual([null, 'A1.JPG', null]);
  });
  test('the same name at another time or of another shape is another exposure', () => {
    expect(findTwins([facts('A1.JPG'), facts('A1.TIF', { takenAt: 5 })]).every((f) => f.twinOf === null)).toBe(true);
    expect(findTwins([facts('A1.JPG'), facts('A1.TIF', { width: 1000, height: 1000 })]).every((f) => f.twinOf === null)).toBe(true);
  });
});
