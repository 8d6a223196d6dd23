import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { coarseSearch, likenessOf, DIFFERENT } from '../src/align/coarseSearch';
import { createPlane, type Plane } from '../src/image/plane';
import { seeded, testTools } from './kernelMemory';

const [WIDTH, HEIGHT] = [150, 100];
const tools = testTools(16 << 20);

/** Lines of a made-up room, brighter or darker than what lies beside them, of some pixels' width and length; continuous, so that it can be looked at anywhere. */
function structure(seed: number): (x: number, y: number) => number {
  const next = seeded(seed);
  const lines = Array.from({ length: 32 }, () => ({ x: next() * WIDTH, y: next() * HEIGHT, way: next() * Math.PI, long: 8 + 22 * next(), sign: next() < 0.5 ? -1 : 1 }));
  return (x, y) => lines.reduce((sum, line) => {
    const [dx, dy] = [x - line.x, y - line.y];
    const [along, across] = [dx * Math.cos(line.way) + dy * Math.sin(line.way), dy * Math.cos(line.way) - dx * Math.sin(line.way)];
    return Math.abs(along) < line.long ? sum + line.sign * Math.exp(-((across / 1.8) ** 2)) : sum;
  }, 0);
}
const drawn = (at: (x: number, y: number) => number): Plane => {
  const plane = createPlane(WIDTH, HEIGHT);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = at(i % WIDTH, Math.floor(i / WIDTH));
  return plane;
};
/** The same as seen by a camera that turned about the middle of the picture and moved. */
function moved(look: (x: number, y: number) => number, turn: number, dx: number, dy: number): Plane {
  const [cx, cy] = [(WIDTH - 1) / 2, (HEIGHT - 1) / 2];
  return drawn((x, y) => {
    const [u, v] = [x - cx - dx, y - cy - dy];
    return look(cx + Math.cos(turn) * u + Math.sin(turn) * v, cy + Math.cos(turn) * v - Math.sin(turn) * u);
  });
}

const seeds = fc.integer({ min: 1, max: 9999 });
const shifts = fc.integer({ min: -11, max: 11 });

describe('the coarse search', () => {
  test('finds any shift within its reach, to a pixel, without a turn', () => {
    fc.assert(fc.property(seeds, shifts, shifts, (seed, dx, dy) => {
      const look = structure(seed);
      const fit = coarseSearch(tools.kernels, tools.arena, drawn(look), moved(look, 0, dx, dy));
      expect([fit.dx, fit.dy, fit.turn]).toEqual([dx, dy, 0]);
      expect(fit.score).toBeGreaterThan(0.97);
      expect(likenessOf(fit)).toBeGreaterThan(4 * DIFFERENT);
    }), { numRuns: 12 });
  });
  test('finds a turn to either side, and the shift beside it', () => {
    fc.assert(fc.property(seeds, fc.constantFrom(-0.035, -0.0175, 0.0175, 0.035), fc.integer({ min: -7, max: 7 }), fc.integer({ min: -7, max: 7 }), (seed, turn, dx, dy) => {
      const look = structure(seed);
      const fit = coarseSearch(tools.kernels, tools.arena, drawn(look), moved(look, turn, dx, dy));
      expect(Math.hypot(fit.dx - dx, fit.dy - dy)).toBeLessThan(1.5);
      // One that does no harm to how alike the two look need not be looked for.
      if (fit.turn === 0) expect(fit.score).toBeGreaterThan(0.8);
      else expect(fit.turn).toBe(turn);
    }), { numRuns: 20 });
  });
  test('calls different rooms different', () => {
    fc.assert(fc.property(seeds, seeds, (one, other) => {
      fc.pre(one !== other);
      const fit = coarseSearch(tools.kernels, tools.arena, drawn(structure(one)), drawn(structure(other)));
      expect(fit.score).toBeLessThan(0.4);
    }), { numRuns: 15 });
  });
});
