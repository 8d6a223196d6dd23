import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { bendMesh, fitMesh } from '../src/align/fitMesh';
import type { Match } from '../src/align/fitHomography';
import { coarseSearch, likenessOf } from '../src/align/coarseSearch';
import { SAME, searchEitherSign } from '../src/align/searchEitherSign';
import { localStructure } from '../src/align/structure';
import { IDENTITY } from '../src/geometry/homography';
import { meshMap } from '../src/geometry/mesh';
import { boxBlur } from '../src/image/boxBlur';
import { createPlane, type Plane } from '../src/image/plane';
import { seeded, testTools } from './kernelMemory';

const tools = testTools(4_000_000);
const [W, H] = [160, 106];

/** Smooth random grey on a plane larger than what is looked at. */
function ground(seed: number): Plane {
  const next = seeded(seed);
  const plane = createPlane(W + 40, H + 40);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = 255 * next();
  return boxBlur(boxBlur(plane, 2), 2);
}

/** What a frame shows of it from (x, y) on; `turned` places have their contrast turned round. */
function frameAt(from: Plane, x: number, y: number, turned: (u: number, v: number) => boolean): Plane {
  const out = createPlane(W, H);
  for (let v = 0; v < H; v++) for (let u = 0; u < W; u++) {
    const value = (from.data[(v + y) * from.width + u + x] - 127) * 4;
    out.data[v * W + u] = 127 + Math.max(-110, Math.min(110, turned(u + x, v + y) ? -value : value));
  }
  return localStructure(out, 5, 3);
}

describe('two frames of one view', () => {
  test('are found alike where half of all things are bright in one light and dark in the other', () => {
    let blind = 0;
    for (let seed = 1; seed <= 24; seed++) {
      const next = seeded(seed * 977);
      const [dx, dy] = [Math.round(18 * next() - 9), Math.round(12 * next() - 6)];
      const room = ground(seed * 31);
      const plain = frameAt(room, 20, 20, () => false);
      // In squares of a tenth of the picture, as things hang before a wall.
      const other = frameAt(room, 20 + dx, 20 + dy, (u, v) => (Math.floor(u / 14) + Math.floor(v / 14)) % 2 === 0);
      if (likenessOf(coarseSearch(tools.kernels, tools.arena, plain, other)) < SAME) blind++;
      const found = searchEitherSign(tools, plain, other);
      expect(likenessOf(found)).toBeGreaterThanOrEqual(SAME);
      expect(Math.hypot(found.dx + dx, found.dy + dy)).toBeLessThan(1.5);
    }
    // With its sign, structure tells of few of them.
    expect(blind).toBeGreaterThan(16);
  });

  test('of different places stay apart, with or without the sign', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 100_000 }), (seed) => {
      const [a, b] = [seed, seed + 100_001].map((s) => frameAt(ground(s), 20, 20, () => false));
      expect(likenessOf(searchEitherSign(tools, a, b))).toBeLessThan(SAME);
    }), { numRuns: 12, seed: 20261 });
  });
});

describe('a mesh for near and far', () => {
  const [width, height] = [1500, 1000];
  /** Far things stay; the ground moves the more, the nearer it is: up to `most` pixels at the lower edge. */
  const shift = (y: number, most: number): number => most * Math.max(0, (y - 600) / 400);
  const followed = (seed: number, most: number, noise: number): Match[] => {
    const next = seeded(seed);
    return Array.from({ length: 1100 }, () => {
      const [x, y] = [next() * (width - 1), next() * (height - 1)];
      const wrong = next() < 0.12;
      return { x, y, u: x + (wrong ? 40 * (next() - 0.5) : shift(y, most)) + noise * (next() - 0.5), v: y + (wrong ? 40 * (next() - 0.5) : -0.4 * shift(y, most)) + noise * (next() - 0.5), weight: 0.5 + 0.5 * next() };
    });
  };

  test('is found from coarse to fine, however far the near things went, and wrong matches do not bend it', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 100_000 }), fc.double({ min: 4, max: 20, noNaN: true }), (seed, most) => {
      const coarse = bendMesh(followed(seed, most, 5), IDENTITY, width, height, null, 24);
      const finer = bendMesh(followed(seed + 1, most, 2), IDENTITY, width, height, coarse, 12);
      const mesh = fitMesh(followed(seed + 2, most, 0.5), IDENTITY, width, height, finer, 6)!;
      expect(mesh).not.toBeNull();
      const map = meshMap(IDENTITY, mesh, width, height);
      for (const x of [100, 700, 1400]) for (const y of [50, 300, 700, 800, 900, 980]) {
        const [u, v] = map(x, y);
        expect(Math.hypot(u - x - shift(y, most), v - y + 0.4 * shift(y, most))).toBeLessThan(0.5);
      }
    }), { numRuns: 12, seed: 20261 });
  });

  test('goes on straight, not wild, where nothing was followed', () => {
    const most = 12;
    const matches = followed(5, most, 0.4).filter(({ x, y }) => !(x > 900 && y > 500));
    const mesh = bendMesh(matches, IDENTITY, width, height, null, 24);
    const map = meshMap(IDENTITY, mesh, width, height);
    for (const [x, y] of [[1200, 700], [1400, 980], [1000, 600]] as const) {
      const [u, v] = map(x, y);
      expect(Math.hypot(u - x, v - y)).toBeLessThan(1.5 * most);
    }
  });
});
