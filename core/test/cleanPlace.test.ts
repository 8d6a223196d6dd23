import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { commandSchema, type Area, type FrameUse, type Mix, type SourcePass } from '@zaddle/document';
import { coarserLooks } from '../src/clean/coarserLooks';
import { insetPass } from '../src/clean/insetPass';
import { leastSeam } from '../src/clean/leastSeam';
import { lookAtPlace, type PlaceLooks } from '../src/clean/lookAtPlace';
import { placeBox } from '../src/clean/placeBox';
import { rateCandidates } from '../src/clean/rateCandidates';
import { traceOutline } from '../src/clean/traceOutline';
import { growThing } from '../src/found/growThing';
import { NO_LENS } from '../src/geometry/lens';
import { prepareMix } from '../src/graph/prepareMix';
import { createLight, createPlane, type Light, type Plane } from '../src/image/plane';
import type { Guide } from '../src/mix/guides';
import { placeOutlines } from '../src/read/placeOutlines';
import { seeded, testTools } from './kernelMemory';

const CHANNELS = ['r', 'g', 'b'] as const;
const planeOf = (width: number, height: number, value: (x: number, y: number) => number): Plane => createPlane(width, height, Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))));
function lightOf(width: number, height: number, value: (x: number, y: number, c: number) => number): Light {
  const light = createLight(width, height);
  CHANNELS.forEach((name, c) => { for (let i = 0; i < width * height; i++) light[name][i] = value(i % width, Math.floor(i / width), c); });
  return light;
}

describe('the seam that shows least', () => {
  const [W, H] = [61, 47];
  const from = (x: number, y: number): number => Math.hypot(x - 30, y - 23);
  const inner = planeOf(W, H, (x, y) => (from(x, y) < 6 ? 1 : 0));
  const outer = planeOf(W, H, (x, y) => (from(x, y) > 20 ? 1 : 0));

  test('keeps what is surely inside and leaves what is surely not, whatever the pictures', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), (seed) => {
      const next = seeded(seed);
      const [a, b] = [lightOf(W, H, () => 0.05 + next()), lightOf(W, H, () => 0.05 + next())];
      const cut = leastSeam(a, b, inner, outer, 1e-3);
      cut.data.forEach((v, i) => {
        if (inner.data[i] > 0.5) expect(v).toBe(1);
        if (outer.data[i] > 0.5) expect(v).toBe(0);
      });
    }), { numRuns: 25 });
  });

  test('costs no more than any circle, and runs where both pictures are alike', () => {
    // They differ everywhere but on a wobbly ring.
    const ring = (x: number, y: number): number => Math.abs(from(x, y) - 13 - 3 * Math.sin(3 * Math.atan2(y - 23, x - 30)));
    const a = lightOf(W, H, () => 0.2);
    const b = lightOf(W, H, (x, y) => 0.2 * 2 ** Math.min(1, Math.max(0, ring(x, y) - 1)));
    const cut = leastSeam(a, b, inner, outer, 1e-3);
    const shows = (mask: Plane): number => {
      let sum = 0;
      for (let y = 0; y < H - 1; y++) {
        for (let x = 0; x < W - 1; x++) {
          const i = y * W + x;
          for (const j of [i + 1, i + W]) if (mask.data[i] !== mask.data[j]) sum += Math.abs(Math.log2(a.g[i] / b.g[i])) + Math.abs(Math.log2(a.g[j] / b.g[j]));
        }
      }
      return sum;
    };
    for (let r = 7; r < 20; r++) expect(shows(cut)).toBeLessThan(shows(planeOf(W, H, (x, y) => (from(x, y) < r ? 1 : 0))));
    expect(shows(cut)).toBeLessThan(1);
  });
});

describe('outlines of masks', () => {
  /** Even-odd, at pixel middles. */
  const filled = (rings: readonly (readonly (readonly [number, number])[])[], width: number, height: number): Plane => planeOf(width, height, (x, y) => {
    let inside = false;
    for (const ring of rings) ring.forEach(([ax, ay], k) => {
      const [bx, by] = ring[(k + 1) % ring.length];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
    });
    return inside ? 1 : 0;
  });

  test('hold exactly the pixels that they were traced from: holes, corners that touch, the very edge', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 14 }), fc.integer({ min: 1, max: 14 }), fc.integer({ min: 1, max: 9999 }), fc.double({ min: 0.1, max: 0.9, noNaN: true }), (width, height, seed, share) => {
      const next = seeded(seed);
      const plane = planeOf(width, height, () => (next() < share ? 1 : 0));
      expect([...filled(traceOutline(plane, 0.01), width, height).data]).toEqual([...plane.data]);
    }), { numRuns: 200 });
  });

  test('of a disc take few points and lie within the tolerance', () => {
    const disc = planeOf(80, 80, (x, y) => (Math.hypot(x - 40, y - 40) < 30 ? 1 : 0));
    const [ring, ...others] = traceOutline(disc, 0.8);
    expect(others).toEqual([]);
    expect(ring.length).toBeLessThan(60);
    for (const [x, y] of ring) expect(Math.abs(Math.hypot(x - 40, y - 40) - 30)).toBeLessThan(1.6);
  });
});

/** A textured wall in a frame's own light, with something before it. */
const [W, H] = [72, 64];
const place = planeOf(W, H, (x, y) => (Math.hypot(x - 36, y - 32) < 13 ? 1 : 0));
const texture = seeded(7);
const wall = planeOf(W, H, () => 0.7 + 0.6 * texture());
const isInside = (x: number, y: number): boolean => Math.hypot(x - 36, y - 32) < 10;
interface Shown {
  readonly gain: number;
  readonly slope?: number;
  readonly thing?: 'glare' | 'dark';
  readonly ceiling?: number;
  readonly blurred?: boolean;
}
const frameOf = ({ gain, slope = 0, thing, ceiling = 1, blurred = false }: Shown): Light => lightOf(W, H, (x, y, c) => {
  const at = (u: number, v: number): number => wall.data[Math.min(H - 1, Math.max(0, v)) * W + Math.min(W - 1, Math.max(0, u))];
  const surface = blurred ? [-2, -1, 0, 1, 2].reduce((sum, d) => sum + [-2, -1, 0, 1, 2].reduce((s, e) => s + at(x + d, y + e), 0), 0) / 25 : at(x, y);
  const light = 0.2 * gain * 2 ** (slope * (x - 36)) * surface * (c === 2 ? 0.8 : 1);
  if (thing && isInside(x, y)) return Math.min(ceiling, thing === 'glare' ? light * 3 : 0.15 * gain * (c === 0 ? 0.25 : 0.1));
  return Math.min(ceiling, light);
});
const looksOf = (picture: Shown, frames: Record<string, Shown>): PlaceLooks => ({
  pixel: 2, left: 100, top: 200, coverage: place, picture: frameOf(picture),
  frames: new Map(Object.entries(frames).map(([id, shown]) => [id, { light: frameOf(shown), cover: planeOf(W, H, () => 1) }])),
});

const POINTED = { pointedAt: true };

describe('what frames would give a place', () => {
  test('a clean one comes first, whatever its exposure and however its light falls; the others say why they do not', () => {
    const rated = rateCandidates(looksOf({ gain: 1, thing: 'glare' }, { a: { gain: 1.4, thing: 'glare' }, b: { gain: 0.3, slope: 0.012 }, c: { gain: 0.8, slope: -0.01 }, d: { gain: 1, thing: 'dark' }, e: { gain: 9, ceiling: 0.95 }, f: { gain: 1, blurred: true }, g: { gain: 0.005 } }), POINTED);
    expect(['b', 'c']).toContain(rated[0].frame);
    const words = Object.fromEntries(rated.map(({ frame, word }) => [frame, word]));
    expect(words).toMatchObject({ b: 'clean', c: 'clean', d: 'something there', e: 'clipped', f: 'blurred', g: 'dark' });
    expect(['glare', 'as it is now']).toContain(words.a);
    expect(rated.findIndex(({ frame }) => frame === 'a')).toBeGreaterThan(1);
  });

  test('what most frames have is not clean where the picture that was pointed at has it, too', () => {
    const rated = rateCandidates(looksOf({ gain: 1, thing: 'dark' }, { a: { gain: 1, thing: 'dark' }, b: { gain: 0.5, thing: 'dark' }, plate: { gain: 0.7 }, other: { gain: 0.6 } }), POINTED);
    expect(['plate', 'other']).toContain(rated[0].frame);
  });

  test('a place that was found need not be unclean: what the picture and most frames show comes first, never the frame that is known to have something', () => {
    const frames = { a: { gain: 0.9 }, b: { gain: 0.5 }, c: { gain: 0.7, thing: 'dark' as const } };
    const rated = rateCandidates(looksOf({ gain: 1 }, frames), { pointedAt: false });
    expect(rated[0]).toMatchObject({ word: 'as it is now' });
    expect(rated[2]).toMatchObject({ frame: 'c', word: 'something there' });
    const two = rateCandidates(looksOf({ gain: 1, thing: 'dark' }, { b: frames.b, c: frames.c }), { pointedAt: false, having: ['c'] });
    expect(two[0]).toMatchObject({ frame: 'b', word: 'clean' });
  });

  test('a coarser grid says the same', () => {
    const looks = looksOf({ gain: 1, thing: 'glare' }, { a: { gain: 1.4, thing: 'glare' }, b: { gain: 0.3 }, c: { gain: 0.8 } });
    const coarse = coarserLooks(looks, 40);
    expect(Math.max(coarse.coverage.width, coarse.coverage.height)).toBeLessThanOrEqual(40);
    expect([coarse.pixel, coarse.left, coarse.top]).toEqual([4, 101, 201]);
    expect(['b', 'c']).toContain(rateCandidates(coarse, POINTED)[0].frame);
  });

  test('an inset takes in all that is meant, keeps near it, and says by how much its light was changed', () => {
    const looks = looksOf({ gain: 1, thing: 'glare' }, { a: { gain: 1.4, thing: 'glare' }, b: { gain: 0.25 }, c: { gain: 0.8 } });
    const candidate = rateCandidates(looks, POINTED).find(({ frame }) => frame === 'b')!;
    const use: FrameUse = { width: 1000, height: 800, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
    const mix = { frames: { r: use }, reference: 'r' } as unknown as Mix;
    const inset = insetPass(looks, candidate, mix, { id: 'i', name: 'n', why: 'w' });
    expect(inset).toMatchObject({ kind: 'inset', matched: true, source: { kind: 'frame', frame: 'b' } });
    expect(inset.exposure).toBeCloseTo(2, 1);
    const [area] = inset.mask;
    if (area.kind !== 'outline') throw new Error('An inset is outlined.');
    // In reference pixels: the middle of the place lies at (100 + 2 * 36, 200 + 2 * 32), its radius is 26.
    for (const { at } of area.rings[0]) {
      const away = Math.hypot(at[0] * 1000 - 172, at[1] * 1000 - 264);
      expect(away).toBeGreaterThan(23);
      expect(away).toBeLessThan(45);
    }
  });
});

test('an inset of a frayed place has no more points than a document takes', () => {
  const next = seeded(3);
  const looks = looksOf({ gain: 1, thing: 'glare' }, { b: { gain: 0.5 }, c: { gain: 0.8 } });
  const frayed = { ...looks, coverage: planeOf(W, H, (x, y) => (x > 3 && y > 3 && x < W - 4 && y < H - 4 && next() < 0.5 ? 1 : 0)) };
  const use: FrameUse = { width: 1000, height: 800, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
  const inset = insetPass(frayed, { frame: 'b', gains: [1, 1, 1] }, { frames: { r: use }, reference: 'r' } as unknown as Mix, { id: 'i', name: 'n', why: 'w' }, { room: 0 });
  expect(commandSchema.validate({ kind: 'addPass', pass: inset, index: 0 }, { convert: false }).error).toBeUndefined();
});

test('a place is looked at as it lies in each frame, with the picture and what is meant', () => {
  const tools = testTools(64 << 20);
  const [w, h] = [300, 200];
  const pixels = (shift: number): Uint8Array => Uint8Array.from({ length: w * h * 3 }, (_, i) => 60 + Math.round(80 * (0.5 + 0.5 * Math.sin(((Math.floor(i / 3) % w) - shift) / 9))));
  const use = (dx: number): FrameUse => ({ width: w, height: h, homography: [1, 0, dx, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] });
  const pass: SourcePass = { id: 'u', name: 'u', why: '', within: null, kind: 'light', on: true, opacity: 1, mask: [], exposure: 1, balance: [1, 1, 1], source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 };
  const mix: Mix = { reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 40, 0, 1, 30, 0, 0, 1], width: 200, height: 120, frames: { a: use(0), b: use(12) }, merge: ['a'], passes: [pass] };
  const found = { reference: 'a', edgeFound: () => null, share: () => null };
  const areas: Area[] = [{ id: 's', kind: 'spot', join: 'add', inverted: false, at: [150 / w, 100 / w], rim: [170 / w, 100 / w], ratio: 1, softness: 0 }];
  const sources = new Map(['a', 'b'].map((id, k) => [id, { at: tools.arena.placeBytes(pixels(12 * k)), width: w, height: h, depth: 8 as const }]));
  const looks = lookAtPlace(tools, prepareMix(mix, found), found, areas, placeBox(areas, w)!, ['a', 'b'], () => sources);
  // A crop moves nothing: the place is meant on the reference.
  const area = looks.coverage.data.reduce((sum, v) => sum + v, 0) * looks.pixel ** 2;
  expect(area / (Math.PI * 400)).toBeCloseTo(1, 1);
  const [a, b] = ['a', 'b'].map((id) => looks.frames.get(id)!.light);
  let worst = 0;
  for (let i = 0; i < a.g.length; i++) worst = Math.max(worst, Math.abs(a.g[i] - b.g[i]) / a.g[i], Math.abs(looks.picture.g[i] / a.g[i] - 2) / 2);
  expect(worst).toBeLessThan(0.03);
});

test('boxes of places hold shapes only', () => {
  const spot: Area = { id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.25], rim: [0.6, 0.25], ratio: 2, softness: 0 };
  const box = placeBox([spot], 1000)!;
  expect([box.left, box.right, box.top, box.bottom].map(Math.round)).toEqual([300, 700, 50, 450]);
  expect(placeBox([], 1000)).toBeNull();
  expect(placeBox([{ ...spot, inverted: true }], 1000)).toBeNull();
  expect(placeBox([spot, { id: 'b', kind: 'brush', join: 'add', inverted: false, strokes: [] }], 1000)).toBeNull();
});

test('a thing is found whole from a part of it, thin parts too, and no further', () => {
  const [w, h] = [120, 100];
  const thing = (x: number, y: number): boolean => (x >= 30 && x < 60 && y >= 10 && y < 30) || (x >= 43 && x < 47 && y >= 30 && y < 90);
  const elsewhere = (x: number, y: number): boolean => x >= 90 && x < 110 && y >= 40 && y < 70;
  const guide = (dark: (x: number, y: number) => boolean, gain: number): Guide => ({ light: lightOf(w, h, (x, y) => gain * (dark(x, y) ? 0.08 : 0.2)), top: planeOf(w, h, () => 0.5), cover: planeOf(w, h, () => 1) }) as unknown as Guide;
  const having = guide((x, y) => thing(x, y) || elsewhere(x, y), 2);
  const lacking = guide(() => false, 1);
  const sure = new Set([10 * (w >> 1) + 20, 11 * (w >> 1) + 22]);
  const found = growThing({ width: w, height: h } as never, having, lacking, { having: 1, lacking: 0 }, sure);
  let [missed, extra, all] = [0, 0, 0];
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
    const [is, told] = [thing(x, y), found.data[y * w + x] > 0];
    if (is) all++;
    if (is && !told) missed++;
    if (told && !is) extra++;
  }
  // Of each part an outermost pixel may be missing: what is thinner than three is no thing.
  expect(missed / all).toBeLessThan(0.3);
  expect(extra).toBe(0);
  expect(found.data[80 * w + 45]).toBe(1);
});

test('places of a reading are outlined where they lie', () => {
  const [w, h] = [100, 80];
  const pixels: number[] = [];
  for (let y = 10; y < 20; y++) for (let x = 20; x < 30; x++) pixels.push(y * (w >> 1) + x);
  const [ring] = placeOutlines([pixels], { width: w, height: h }, 10);
  const [xs, ys] = [ring.map(([x]) => x), ring.map(([, y]) => y)];
  // Ten pixels of twenty reference pixels each, two more on every side.
  expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]).toEqual([360, 640, 160, 440]);
});
