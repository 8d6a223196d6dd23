import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fitHomography, type Match } from '../src/align/fitHomography';
import { cornerDistance } from '../src/align/lineUp';
import { composeMap, coordCount, writeRowCoords } from '../src/geometry/composedMap';
import { compose, IDENTITY, invert, mapPoint, rescale, type Homography } from '../src/geometry/homography';
import { findStraightEdges } from '../src/geometry/findStraightEdges';
import { estimateLens } from '../src/align/estimateLens';
import { freeOfLens, lensFactor, NO_DISTORTION, NO_LENS } from '../src/geometry/lens';
import { createPlane } from '../src/image/plane';
import { seeded } from './kernelMemory';

const [W, H] = [1500, 1000];
const small = (r: number): fc.Arbitrary<number> => fc.double({ min: -r, max: r, noNaN: true });
/** Movements as between frames by hand: up to 75 px, 2° and some perspective. */
const moves: fc.Arbitrary<Homography> = fc.tuple(small(75), small(75), small(0.035), small(0.01), small(4e-6), small(4e-6)).map(([dx, dy, turn, zoom, px, py]) => {
  const [c, s] = [Math.cos(turn) * (1 + zoom), Math.sin(turn) * (1 + zoom)];
  return compose([1, 0, W / 2 + dx, 0, 1, H / 2 + dy, px, py, 1], compose([c, -s, 0, s, c, 0, 0, 0, 1], [1, 0, -W / 2, 0, 1, -H / 2, 0, 0, 1]));
});

describe('homographies', () => {
  test('a map and its inverse cancel; composing maps points in turn', () => {
    fc.assert(fc.property(moves, moves, fc.double({ min: 0, max: W, noNaN: true }), fc.double({ min: 0, max: H, noNaN: true }), (a, b, x, y) => {
      const [u, v] = mapPoint(invert(a), ...mapPoint(a, x, y));
      expect(Math.hypot(u - x, v - y)).toBeLessThan(1e-6);
      const [p, q] = mapPoint(compose(b, a), x, y);
      const [r, s] = mapPoint(b, ...mapPoint(a, x, y));
      expect(Math.hypot(p - r, q - s)).toBeLessThan(1e-6);
    }));
  });
  test('one that cannot be inverted says so', () => {
    expect(() => invert([1, 0, 0, 1, 0, 0, 0, 0, 1])).toThrow(/corners/);
  });
  test('sizes of one picture: pixel areas coincide', () => {
    expect(mapPoint(rescale(100, 50, 200, 100), 0, 0)).toEqual([0.5, 0.5]);
    expect(mapPoint(rescale(200, 100, 100, 50), 0.5, 0.5)).toEqual([0, 0]);
  });
});

describe('lens', () => {
  test('freeing a pixel and finding it again cancel', () => {
    fc.assert(fc.property(small(0.08), small(0.02), fc.double({ min: 0, max: W - 1, noNaN: true }), fc.double({ min: 0, max: H - 1, noNaN: true }), (k1, k2, x, y) => {
      const [u, v] = freeOfLens({ k1, k2 }, W, H, x, y);
      const [cx, cy] = [(W - 1) / 2, (H - 1) / 2];
      const s = lensFactor({ k1, k2 }, ((u - cx) ** 2 + (v - cy) ** 2) / ((W * W + H * H) / 4));
      expect(Math.hypot(cx + (u - cx) * s - x, cy + (v - cy) * s - y)).toBeLessThan(1e-3);
    }));
  });

  test('row positions of the composed map equal mapping each step by itself', () => {
    fc.assert(fc.property(moves, small(0.04), fc.integer({ min: 0, max: H }), (h, k1, y) => {
      const lens = { ...NO_LENS, k1 };
      const map = composeMap(IDENTITY, h, IDENTITY, lens, W, H);
      const out = new Float64Array(coordCount(100));
      writeRowCoords(map, 32, y, 100, out);
      for (let i = 0; i < 7; i++) {
        const [u, v] = mapPoint(h, 32 + 16 * i, y);
        const [p, q] = freeOfLens(lens, W, H, out[2 * i], out[2 * i + 1]);
        expect(Math.hypot(p - u, q - v)).toBeLessThan(1e-3);
      }
    }));
  });

  test('a part of a picture is mapped as the whole is', () => {
    const lens = { ...NO_LENS, k1: 0.03 };
    const whole = new Float64Array(coordCount(64));
    const part = new Float64Array(coordCount(64));
    writeRowCoords(composeMap(IDENTITY, IDENTITY, IDENTITY, lens, W, H), 700, 600, 64, whole);
    writeRowCoords(composeMap(IDENTITY, IDENTITY, IDENTITY, lens, 200, 100, { width: W, height: H, x: 650, y: 560 }), 700, 600, 64, part);
    for (let i = 0; i < part.length; i += 2) {
      expect(part[i] + 650).toBeCloseTo(whole[i], 6);
      expect(part[i + 1] + 560).toBeCloseTo(whole[i + 1], 6);
    }
  });
});

/** Matches of a map with Gaussian noise and a share of nonsense. */
function matchesOf(h: Homography, seed: number, noise: number, outliers: number, lens = NO_LENS): Match[] {
  const next = seeded(seed);
  const gauss = (): number => (next() + next() + next() + next() - 2) * Math.sqrt(3) * noise;
  return Array.from({ length: 500 }, () => {
    const [u0, v0] = [40 + next() * (W - 80), 40 + next() * (H - 80)];
    const [x, y] = freeOfLens(lens, W, H, u0, v0);
    const wrong = next() < outliers;
    const [cx, cy] = [(W - 1) / 2, (H - 1) / 2];
    const [mu, mv] = mapPoint(h, x, y);
    const s = lensFactor(lens, ((mu - cx) ** 2 + (mv - cy) ** 2) / ((W * W + H * H) / 4));
    return { x: u0, y: v0, u: cx + (mu - cx) * s + gauss() + (wrong ? 60 * (next() - 0.5) : 0), v: cy + (mv - cy) * s + gauss() + (wrong ? 60 * (next() - 0.5) : 0), weight: 1 };
  });
}

describe('fitting a homography', () => {
  test('finds any hand-held movement among 30 % wrong matches, and knows its own error', () => {
    fc.assert(fc.property(moves, fc.integer({ min: 1, max: 9999 }), (h, seed) => {
      const fit = fitHomography(matchesOf(h, seed, 0.15, 0.3), W, H, 6);
      expect(fit).not.toBeNull();
      const error = cornerDistance(fit!.homography, h, W, H);
      expect(error).toBeLessThan(0.3);
      expect(error).toBeLessThan(8 * fit!.cornerError + 0.05);
    }), { numRuns: 40 });
  });
  test('gives up on nonsense and on too little', () => {
    const next = seeded(5);
    const noise = Array.from({ length: 40 }, () => ({ x: next() * W, y: next() * H, u: next() * W, v: next() * H, weight: 1 }));
    expect(fitHomography(noise, W, H, 2)).toBeNull();
    expect(fitHomography(matchesOf(IDENTITY, 1, 0.1, 0).slice(0, 8), W, H, 2)).toBeNull();
  });
});

describe('lens', () => {
  const byMatches = (frames: Parameters<typeof estimateLens>[0]['frames']) => estimateLens({ frames, width: W, height: H, edges: [], edgeWidth: W / 2, edgeHeight: H / 2 });
  test('is found where frames lie apart, and not invented where there is none', () => {
    const h: Homography = [0.9999, 0.012, 30, -0.012, 0.9999, -22, 0, 0, 1];
    const found = byMatches([matchesOf(h, 3, 0.12, 0.1, { ...NO_LENS, k1: 0.03 })]);
    expect(Math.abs(found.k1 - 0.03)).toBeLessThan(0.006);
    expect(Math.abs(byMatches([matchesOf(h, 4, 0.12, 0.1)]).k1)).toBeLessThan(0.004);
    expect(byMatches([matchesOf(IDENTITY, 4, 0.12, 0.1, { ...NO_LENS, k1: 0.03 })])).toEqual(NO_DISTORTION);
  });
  /** A grey picture of leaning stripes and a few bars across, as a lens stores it. */
  const striped = (k1: number, seed: number, w = 700, h = 466) => {
    const next = seeded(seed);
    const [lean, pitch, phase] = [0.1 * next() - 0.05, 60 + 50 * next(), 100 * next()];
    const plane = createPlane(w, h);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const [u, v] = freeOfLens({ k1, k2: 0 }, w, h, x, y);
        const up = Math.sin(((u + lean * v + phase) / pitch) * 2 * Math.PI);
        const across = Math.sin(((v - 0.6 * lean * u + phase) / (1.3 * pitch)) * 2 * Math.PI);
        plane.data[y * w + x] = 120 + 60 * Math.tanh(6 * up) + 30 * Math.tanh(6 * across) + 4 * (next() - 0.5);
      }
    }
    return plane;
  };
  test('is found by what should be straight in a single frame', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 99999 }), fc.double({ min: -0.06, max: 0.06, noNaN: true }), (seed, k1) => {
      const plane = striped(k1, seed);
      const edges = findStraightEdges(plane);
      expect(edges.length).toBeGreaterThan(8);
      const found = estimateLens({ frames: [], width: 2 * plane.width, height: 2 * plane.height, edges, edgeWidth: plane.width, edgeHeight: plane.height });
      expect(Math.abs(found.k1 - k1)).toBeLessThan(0.004);
    }), { numRuns: 12 });
  });
});
