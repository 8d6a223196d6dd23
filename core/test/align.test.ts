import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { coarseSearch } from '../src/align/coarseSearch';
import { findCorners } from '../src/align/findCorners';
import { fitHomography, type Match } from '../src/align/fitHomography';
import { jackknifeError } from '../src/align/jackknifeError';
import { alignmentReference, chain, cornerDistance, fitAlignment, lineUp } from '../src/align/lineUp';
import { lineUpPart } from '../src/align/lineUpPart';
import { PARTS } from '../src/align/misfit';
import { greyPyramid, proxyStructure } from '../src/align/structure';
import { trackCorners } from '../src/align/trackCorners';
import { compose, IDENTITY, invert, mapPoint, type Homography } from '../src/geometry/homography';
import { NO_DISTORTION } from '../src/geometry/lens';
import { createPlane, type Pixels, type Plane } from '../src/image/plane';
import { seeded, testTools } from './kernelMemory';
import { paintRoom, ROOM_HEIGHT, ROOM_WIDTH, standIn, takeFrame } from './syntheticRoom';

const tools = testTools(48 << 20);
const [width, height] = [ROOM_WIDTH, ROOM_HEIGHT];
const SEED = 20261126;
const runs = { numRuns: 8, seed: SEED, endOnFailure: true };
const seeds = fc.integer({ min: 1, max: 99_999 });
const shifted = (dx: number, dy: number): Homography => [1, 0, dx, 0, 1, dy, 0, 0, 1];
const frameOf = (seed: number, move: Homography, stops = 0, noise = 1): Pixels => takeFrame(paintRoom(seed), { stops, flash: 0, warmth: 0.1, move, seed: seed + 7, noise });

/** Structure of random blobs, turned about the middle and shifted. */
function blobs(seed: number, w: number, h: number, dx: number, dy: number, turn: number): Plane {
  const next = seeded(seed);
  const spots = Array.from({ length: 60 }, () => [next() * w, next() * h, 1.5 + 3 * next(), next() - 0.5]);
  const data = new Float32Array(w * h);
  const [cx, cy] = [(w - 1) / 2, (h - 1) / 2];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [rx, ry] = [x - dx - cx, y - dy - cy];
      const [u, v] = [cx + Math.cos(turn) * rx + Math.sin(turn) * ry, cy - Math.sin(turn) * rx + Math.cos(turn) * ry];
      data[y * w + x] = 1e-4 + spots.reduce((sum, [sx, sy, r, value]) => sum + value * Math.exp(-((u - sx) ** 2 + (v - sy) ** 2) / (2 * r * r)), 0);
    }
  }
  return createPlane(w, h, data);
}

describe('the coarse search', () => {
  test('finds any shift and turn within its reach, as nearly as tracking needs', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: -8, max: 8 }), fc.integer({ min: -8, max: 8 }), fc.double({ min: -0.03, max: 0.03, noNaN: true }), (seed, dx, dy, turn) => {
      const found = coarseSearch(tools.kernels, tools.arena, blobs(seed, 120, 80, 0, 0, 0), blobs(seed, 120, 80, dx, dy, turn));
      // Tracking begins at twice this size and looks 9 pixels about.
      const offAtCorner = Math.hypot(found.dx - dx, found.dy - dy) + Math.abs(found.turn - turn) * Math.hypot(60, 40);
      expect(offAtCorner).toBeLessThan(4.5);
    }), runs);
  });
  test('another view does not stand out as the same one does', () => {
    fc.assert(fc.property(seeds, (seed) => {
      const [one, other] = [1, 2].map((k) => proxyStructure(tools, frameOf(seed * k, IDENTITY)));
      const again = proxyStructure(tools, frameOf(seed, shifted(9, -5), -3, 3));
      const same = coarseSearch(tools.kernels, tools.arena, one, again);
      const apart = coarseSearch(tools.kernels, tools.arena, one, other);
      expect(same.score).toBeGreaterThan(apart.score + 0.1);
      expect(same.standout).toBeGreaterThan(apart.standout);
    }), runs);
  });
  test('planes with nothing in them have nothing in common', () => {
    expect(coarseSearch(tools.kernels, tools.arena, createPlane(60, 40), createPlane(60, 40)).score).toBe(0);
  });
});

describe('corners', () => {
  test('cover every cell that has structure, keep apart, and are not seen on an even picture', () => {
    const { levels } = greyPyramid(tools, frameOf(5, IDENTITY));
    const corners = findCorners({ levels }, 48, 2);
    expect(corners.length).toBeGreaterThan(100);
    const cells = new Map<string, number>();
    for (const { x, y } of corners) {
      const key = `${Math.floor(x / 48)} ${Math.floor(y / 48)}`;
      cells.set(key, (cells.get(key) ?? 0) + 1);
      expect(x > 5 && y > 5 && x < width - 5 && y < height - 5).toBe(true);
    }
    // Cells are counted from the margin on, so a cell of this grid may hold parts of four.
    expect(Math.max(...cells.values())).toBeLessThanOrEqual(8);
    const even = greyPyramid(tools, { width, height, data: new Uint8Array(width * height * 3).fill(128) });
    expect(findCorners(even, 48, 2)).toEqual([]);
  });
  test('are followed to a tenth of a pixel, whatever the exposure', () => {
    fc.assert(fc.property(seeds, fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), fc.integer({ min: -3, max: 1 }), (seed, dx, dy, stops) => {
      const reference = alignmentReference(greyPyramid(tools, frameOf(seed, shifted(0.37, 0.21))));
      const frame = greyPyramid(tools, frameOf(seed, shifted(0.37 + dx, 0.21 + dy), stops));
      const matches = trackCorners(tools, reference.corners, reference.pyramid, frame, 0, (x, y) => [x, y], NO_DISTORTION, 5, 0.6).filter((m) => m.weight > 0.6);
      expect(matches.length).toBeGreaterThan(60);
      const off = matches.map((m) => Math.hypot(m.u - m.x - dx, m.v - m.y - dy)).sort((a, b) => a - b);
      expect(off[off.length >> 1]).toBeLessThan(0.1);
    }), runs);
  });
  test('beside what is clipped they have little say', () => {
    const bright = greyPyramid(tools, frameOf(9, shifted(1.3, 0.4), 3));
    const reference = alignmentReference(greyPyramid(tools, frameOf(9, IDENTITY)));
    const matches = trackCorners(tools, reference.corners, reference.pyramid, bright, 0, (x, y) => [x + 1.3, y + 0.4], NO_DISTORTION, 5, 0.6);
    const { data } = bright.levels[0];
    const clippedShare = ({ u, v }: Match): number => {
      let clipped = 0;
      for (let y = -7; y <= 7; y++) for (let x = -7; x <= 7; x++) if (data[(Math.round(v) + y) * width + Math.round(u) + x] > 251) clipped++;
      return clipped / 225;
    };
    const beside = matches.filter((m) => clippedShare(m) > 0.12);
    expect(beside.length).toBeGreaterThan(10);
    for (const m of beside) expect(m.weight).toBeLessThanOrEqual(0.15);
    expect(Math.max(...matches.filter((m) => clippedShare(m) === 0).map((m) => m.weight))).toBeGreaterThan(0.8);
  });
});

describe('a frame', () => {
  test('lies the same way by another one as directly, and says that it is less sure', () => {
    const [a, b, c] = [IDENTITY, shifted(11, -6), shifted(-8, 13)];
    const [one, two, three] = [a, b, c].map((move) => greyPyramid(tools, frameOf(31, move)));
    const first = lineUp(tools, alignmentReference(one), two, NO_DISTORTION)!;
    const second = lineUp(tools, alignmentReference(two), three, NO_DISTORTION)!;
    const whole = chain(first, second);
    expect(cornerDistance(whole.homography, compose(c, invert(a)), width, height)).toBeLessThan(0.5);
    expect(whole.residual).toBeGreaterThan(Math.max(first.residual, second.residual));
    expect(whole.inliers).toBe(Math.min(first.inliers, second.inliers));
  });
  test('of another view is not lined up as if it were this one', () => {
    fc.assert(fc.property(seeds, (seed) => {
      const found = lineUp(tools, alignmentReference(greyPyramid(tools, frameOf(seed, IDENTITY))), greyPyramid(tools, frameOf(seed + 100_000, IDENTITY)), NO_DISTORTION);
      if (found) expect(found.residual > 0.6 || found.inliers < 60).toBe(true);
    }), runs);
  });
  test('that is black, or white, or smaller than a window, is said not to fit', () => {
    const reference = alignmentReference(greyPyramid(tools, frameOf(31, IDENTITY)));
    for (const value of [0, 255]) expect(lineUp(tools, reference, greyPyramid(tools, { width, height, data: new Uint8Array(width * height * 3).fill(value) }), NO_DISTORTION)).toBeNull();
    expect(lineUp(tools, reference, greyPyramid(tools, { width: 3, height: 2, data: new Uint8Array(18) }), NO_DISTORTION)).toBeNull();
  });
});

/** Matches all over the picture under a map, each off by noise, and those of one part by something of their own. */
function matchesUnder(seed: number, h: Homography, noise: number, astray: number): Match[] {
  const next = seeded(seed);
  const gauss = (): number => Math.sqrt(-2 * Math.log(next() + 1e-9)) * Math.cos(2 * Math.PI * next());
  const [columns, rows] = PARTS;
  return Array.from({ length: 400 }, () => {
    const [x, y] = [next() * width, next() * height];
    const [u, v] = mapPoint(h, x, y);
    const inPart = x < width / columns && y < height / rows;
    return { x, y, u: u + noise * gauss() + (inPart ? astray : 0), v: v + noise * gauss(), weight: 1 };
  });
}

describe('how well the corners of a map are known', () => {
  test('leaving parts out says about what noise says, where there is only noise', () => {
    fc.assert(fc.property(seeds, fc.double({ min: 0.1, max: 0.6, noNaN: true }), (seed, noise) => {
      const matches = matchesUnder(seed, shifted(3, 2), noise, 0);
      const fit = fitHomography(matches, width, height, 3)!;
      const error = jackknifeError(matches, fit.homography, width, height, 3);
      expect(error).toBeGreaterThan(0.3 * fit.cornerError);
      expect(error).toBeLessThan(4 * fit.cornerError);
    }), runs);
  });
  test('and more, where a part is misled as a whole', () => {
    const misled = matchesUnder(3, IDENTITY, 0.1, 0.3);
    const fit = fitHomography(misled, width, height, 3)!;
    expect(jackknifeError(misled, fit.homography, width, height, 3)).toBeGreaterThan(1.5 * fit.cornerError);
  });
  test('a fit says part by part what it leaves unexplained', () => {
    const alignment = fitAlignment(matchesUnder(4, IDENTITY, 0.05, 0.9), NO_DISTORTION, width, height, 2)!;
    const [first, ...rest] = alignment.parts.map((p) => Math.hypot(p.u, p.v));
    expect(first).toBeGreaterThan(0.4);
    expect(Math.max(...rest)).toBeLessThan(first / 2);
    expect(alignment.residual).toBeGreaterThanOrEqual(first);
    expect(fitAlignment([], NO_DISTORTION, width, height, 2)).toBeNull();
  });
});

describe('one part of a frame', () => {
  test('that moved by itself is lined up by itself', () => {
    fc.assert(fc.property(seeds, fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: -2, max: 2, noNaN: true }), (seed, dx, dy) => {
      const [still, moved] = [IDENTITY, shifted(dx, dy)].map((move) => frameOf(seed, move));
      // The right half of the frame is that of a frame which was moved.
      const data = Uint8Array.from(still.data);
      for (let y = 0; y < height; y++) data.set(moved.data.subarray((y * width + width / 2) * 3, (y + 1) * width * 3), (y * width + width / 2) * 3);
      const [reference, frame] = [greyPyramid(tools, still), greyPyramid(tools, { width, height, data })];
      const right = lineUpPart(tools, reference, frame, IDENTITY, NO_DISTORTION, (x) => x > width / 2 + 20)!;
      const left = lineUpPart(tools, reference, frame, IDENTITY, NO_DISTORTION, (x) => x < width / 2 - 20)!;
      const [u, v] = mapPoint(right.homography, 0.75 * width, 0.7 * height);
      expect(Math.hypot(u - 0.75 * width - dx, v - 0.7 * height - dy)).toBeLessThan(0.2);
      expect(cornerDistance(left.homography, IDENTITY, width / 2, height)).toBeLessThan(0.2);
    }), runs);
  });
  test('with too little structure says so', () => {
    const pyramid = greyPyramid(tools, frameOf(12, IDENTITY));
    expect(lineUpPart(tools, pyramid, pyramid, IDENTITY, NO_DISTORTION, (_, y) => y < 90)).toBeNull();
  });
});

test('somebody in the way does not move the map', () => {
  fc.assert(fc.property(seeds, (seed) => {
    const room = paintRoom(seed);
    const somebody = standIn(room, seeded(seed));
    const move = shifted(5.4, -3.3);
    const [clean, crossed] = [room, somebody.room].map((r, k) => greyPyramid(tools, takeFrame(r, { stops: -k, flash: 0, warmth: 0.1, move: k === 0 ? IDENTITY : move, seed: seed + k })));
    const found = lineUp(tools, alignmentReference(clean), crossed, NO_DISTORTION)!;
    expect(cornerDistance(found.homography, move, width, height)).toBeLessThan(0.6);
  }), runs);
});
