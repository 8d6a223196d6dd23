import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { workingToCones } from '../src/colour/oklab';
import { toneCurveTable } from '../src/finish/tonePoints';
import { BLEND_MODE_CODES } from '../src/blend/blendModes';
import { coordCount } from '../src/geometry/composedMap';
import { displayBlock } from '../src/finish/displayBlock';
import { responseTables } from '../src/colour/responseTable';
import type { Arena } from '../src/kernels/arena';
import { TRACK_SCRATCH, type Kernels } from '../src/kernels/kernels';
import { both, expectClose, floats, lengths, random, runs, seeds, wasm } from './bothKernels';
import { seeded } from './kernelMemory';

describe('rows of light', () => {
  const plane = 1024;
  const place3 = (arena: Arena, seed: number, low = 0, high = 2): number => {
    const at = arena.take(plane * 4);
    for (let c = 0; c < 4; c++) arena.floats(at + c * plane, 220).set(random(seed + c, 220, low, high));
    return at;
  };
  const placeMask = (arena: Arena, seed: number): number => arena.placeFloats(random(seed, 220).map((v) => (v < 0.3 ? 0 : v)));
  const compare = (n: number, tolerance: number, prepare: (arena: Arena) => { at: number; planes: number; call: (k: Kernels) => void }): void => {
    let at = 0;
    let planes = 0;
    const { a, b } = both((arena) => {
      const p = prepare(arena);
      ({ at, planes } = p);
      return p.call;
    });
    for (let c = 0; c < planes; c++) expectClose(floats(a, at + c * plane, n), floats(b, at + c * plane, n), tolerance);
  };
  const check = (tolerance: number, prepare: (arena: Arena, seed: number, n: number) => { at: number; planes: number; call: (k: Kernels) => void }): void => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => compare(n, tolerance, (arena) => prepare(arena, seed, n))), runs);
  };
  const codes = (arena: Arena, seed: number): number => {
    const at = arena.take(plane * 3);
    const next = seeded(seed);
    for (let c = 0; c < 3; c++) new Uint16Array(arena.buffer, at + c * plane, 220).forEach((_, i, all) => (all[i] = Math.floor(next() * 4081)));
    return at;
  };

  test('linearise', () => check(1e-6, (arena, seed, n) => {
    const from = codes(arena, seed);
    const [tables, matrix, at] = [arena.placeFloats(responseTables([])), arena.placeFloats(random(seed, 9, -0.5, 1)), place3(arena, seed)];
    return { at, planes: 3, call: (k) => k.lineariseRow(from, plane, n, tables, matrix, at, plane) };
  }));
  const joining = (arena: Arena, seed: number, n: number): { acc: number; rest: number; cover: number; call: (k: Kernels) => void } => {
    const from = codes(arena, seed);
    const [weights, tables, matrix] = [arena.placeFloats(random(seed + 9, 4096).map((v) => (v < 0.3 ? 0 : v))), arena.placeFloats(responseTables([])), arena.placeFloats(random(seed + 2, 9, -0.2, 1.2))];
    const [acc, cover, rest, gains] = [place3(arena, seed + 5), placeMask(arena, seed), placeMask(arena, seed + 1), arena.placeFloats(random(seed + 4, 20, 1, 2))];
    return { acc, rest, cover, call: (k) => k.joinRow(from, plane, cover, n, weights, tables, matrix, seed % 2 ? gains : 0, acc, plane, rest) };
  };
  test('join and normalise', () => check(1e-5, (arena, seed, n) => {
    const { acc, cover, call } = joining(arena, seed, n);
    return { at: acc, planes: 4, call: (k) => { call(k); k.normaliseRow(acc, plane, n, cover); } };
  }));
  test('what a bracket frame leaves over', () => check(1e-6, (arena, seed, n) => {
    const { rest, call } = joining(arena, seed, n);
    return { at: rest, planes: 1, call };
  }));
  test('chunks with something in them', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      let flags = 0;
      const { a, b } = both((arena) => {
        const values = arena.placeFloats(random(seed, n + 8, -1, 1).map((v, i) => (Math.floor(i / 64) % 2 === seed % 2 || Math.abs(v) < 0.9 ? 0 : v)));
        flags = arena.take(8);
        return (k) => k.chunksRow(values, n, 0.95, flags);
      });
      const count = Math.ceil(n / 64);
      expect([...new Uint8Array(a, flags, count)]).toEqual([...new Uint8Array(b, flags, count)]);
    }), runs);
  });
  test('subtract', () => check(1e-6, (arena, seed, n) => {
    const [at, other] = [place3(arena, seed), place3(arena, seed + 7)];
    return { at, planes: 3, call: (k) => k.subtractRow(at, plane, other, plane, n, 0.4) };
  }));
  test('mix', () => check(2e-5, (arena, seed, n) => {
    const [at, src, mask] = [place3(arena, seed, -0.01, 2), place3(arena, seed + 11, 0, 2), placeMask(arena, seed)];
    const [brightness, colour] = seed % 3 === 0 ? [0.8, 0.8] : [random(seed, 2)[0], random(seed, 2)[1]];
    return { at, planes: 3, call: (k) => k.mixRow(at, plane, src, plane, mask, n, brightness, colour) };
  }));
  test.each(Object.entries(BLEND_MODE_CODES))('blend, %s', (_, mode) => check(1e-4, (arena, seed, n) => {
    const [below, at] = [place3(arena, seed, -0.01, 1.6), place3(arena, seed + 11, 0, 1.6)];
    return { at, planes: 3, call: (k) => k.blendRow(below, plane, at, plane, n, mode) };
  }));
  test('a pass over a layer', () => check(1e-4, (arena, seed, n) => {
    const at = arena.take(plane * 4);
    for (let c = 0; c < 3; c++) arena.floats(at + plane * c, 210).set(random(seed + c, 210, 0, 2));
    arena.floats(at + plane * 3, 210).set(random(seed + 4, 210, 0, 1).map((v) => (v < 0.3 ? 0 : v > 0.8 ? 1 : v)));
    const [src, plain, mask] = [place3(arena, seed + 11, 0, 2), place3(arena, seed + 12, 0, 2), placeMask(arena, seed)];
    const [brightness, colour] = seed % 2 === 0 ? [0.7, 0.7] : [random(seed, 2)[0], random(seed, 2)[1]];
    return { at, planes: 4, call: (k) => k.layerRow(at, plane, src, plain, plane, mask, n, brightness, colour) };
  }));
  test('a layer over light', () => check(1e-6, (arena, seed, n) => {
    const [at, layer] = [place3(arena, seed), arena.take(plane * 4)];
    for (let c = 0; c < 4; c++) arena.floats(layer + plane * c, 210).set(random(seed + c + 20, 210, 0, 1));
    return { at, planes: 3, call: (k) => k.overRow(at, plane, layer, plane, n) };
  }));
  test('a fill', () => check(1e-6, (arena, seed, n) => {
    const [at, share] = [place3(arena, seed), placeMask(arena, seed)];
    return { at, planes: 3, call: (k) => k.fillRow(at, plane, n, share, 0.1, 0.5, 0.9, 1.4, 0, 0.2) };
  }));
  test('a tonal range', () => check(1e-5, (arena, seed, n) => {
    const [at, logY] = [placeMask(arena, seed), arena.placeFloats(random(seed, 220, -8, 2))];
    return { at, planes: 1, call: (k) => k.tonesRow(logY, n, -4, -1, 0.8, at) };
  }));
  test.each([0, 1, 2, 3])('colour component %i', (component) => check(1e-5, (arena, seed, n) => {
    const [at, light] = [placeMask(arena, seed), place3(arena, seed, -0.01, 1.5)];
    return { at, planes: 1, call: (k) => k.channelRow(light, plane, n, component, 0.2, 0.9, at) };
  }));
  test('a band of hues', () => check(3e-3, (arena, seed, n) => {
    const [at, light, matrix] = [placeMask(arena, seed), place3(arena, seed, 0.02, 1), arena.placeFloats(Float32Array.from(workingToCones()))];
    return { at, planes: 1, call: (k) => k.huesRow(light, plane, n, matrix, Math.cos(1), Math.sin(1), 0.6, 0.5, 0.03, at) };
  }));
  test('a curve of tones', () => check(1e-5, (arena, seed, n) => {
    const [at, logY, table] = [arena.placeFloats(random(seed, 220, -1, 1)), arena.placeFloats(random(seed + 1, 220, -14, 8)), arena.placeFloats(toneCurveTable([[-5, 0.4], [0, -0.2], [2, 1]]))];
    return { at, planes: 1, call: (k) => k.curveRow(logY, n, -12, 16, table, 305, at) };
  }));
  test.each([0, 1, 2])('fold, way %i', (how) => check(1e-6, (arena, seed, n) => {
    const [at, area] = [placeMask(arena, seed), placeMask(arena, seed + 1)];
    return { at, planes: 1, call: (k) => k.foldRow(at, area, n, how) };
  }));
  test('finished masks, and whether anything is left', () => {
    let [left, twin] = [0, 0];
    check(1e-6, (arena, seed, length) => {
      // Kernels work on four pixels at a time; what lies behind an odd end is the caller's padding.
      const n = Math.ceil(length / 4) * 4;
      const [at, cover] = [placeMask(arena, seed), placeMask(arena, seed + 1)];
      return { at, planes: 1, call: (k) => { const any = k.finishMaskRow(at, cover, n, seed % 4 === 0 ? 0.001 : 0.7); if (k === wasm) left += any; else twin += any; } };
    });
    expect(left).toBe(twin);
    expect(left).toBeGreaterThan(0);
  });
  test('log luminance', () => check(1e-5, (arena, seed, n) => {
    const [src, at] = [place3(arena, seed, -0.01, 3), place3(arena, seed)];
    return { at, planes: 1, call: (k) => k.logLuminanceRow(src, plane, n, at) };
  }));
  test('gain and saturation', () => check(1e-4, (arena, seed, n) => {
    const [at, logY, a, b, mask] = [place3(arena, seed), arena.placeFloats(random(seed, 220, -8, 2)), arena.placeFloats(random(seed + 1, 220, -0.4, 0.4)), arena.placeFloats(random(seed + 2, 220, -2, 2)), placeMask(arena, seed)];
    return { at, planes: 3, call: (k) => k.gainRow(at, plane, logY, a, b, mask, n, 0.1, -0.2, 1.2) };
  }));
  test('balance', () => check(1e-6, (arena, seed, n) => {
    const [at, mask] = [place3(arena, seed), placeMask(arena, seed)];
    return { at, planes: 3, call: (k) => k.balanceRow(at, plane, mask, n, 1.2, 0.9, 0.7) };
  }));
  test('fall-off of light', () => check(1e-6, (arena, seed, n) => {
    const [at, gains] = [place3(arena, seed), arena.placeFloats(random(seed, 20, 0.8, 2))];
    return { at, planes: 3, call: (k) => k.shadeRow(at, plane, n, gains) };
  }));
  test('planes read bilinearly', () => check(2e-4, (arena, seed, n) => {
    const [w, h] = [13, 9];
    const src = arena.placeFloats(random(seed, w * h));
    const coords = arena.take(coordCount(n) * 8);
    const next = seeded(seed);
    new Float64Array(arena.buffer, coords, coordCount(n)).forEach((_, i, all) => (all[i] = -2 + next() * 16));
    const at = place3(arena, seed);
    return { at, planes: 1, call: (k) => k.planeRow(src, w, h, coords, n, at) };
  }));
  test('guide planes along a level line, as at full size', () => check(1e-5, (arena, seed, n) => {
    const next = seeded(seed);
    const [w, h] = [40, 9];
    const src = arena.placeFloats(random(seed, w * h, -2, 2));
    const coords = arena.take(coordCount(n) * 8);
    const [x, y, step] = [next() * 10 - 1, next() * 10 - 1, next() * 2.2];
    new Float64Array(arena.buffer, coords, coordCount(n)).forEach((_, i, all) => (all[i] = i % 2 ? y : x + (step * i) / 2));
    const at = place3(arena, seed);
    return { at, planes: 1, call: (k) => k.planeRow(src, w, h, coords, n, at) };
  }));
  test('guided masks', () => check(1e-6, (arena, seed, n) => {
    const [a, b, g, at] = [random(seed, 220, -1, 1), random(seed + 1, 220, -1, 1), random(seed + 2, 220, -4, 1), random(seed, 220)].map((v) => arena.placeFloats(v));
    return { at, planes: 1, call: (k) => k.guidedRow(a, b, g, n, at) };
  }));
  describe.each(['srgb', 'p3', 'oprgb'] as const)('in colours of %s', (profile) => {
    test('encoding to bytes', () => {
      fc.assert(fc.property(seeds, lengths, (seed, n) => {
        let out = 0;
        const { a, b } = both((arena) => {
          const src = place3(arena, seed, -0.05, 8);
          const display = arena.placeBytes(displayBlock(profile));
          out = arena.take(800);
          return (k) => k.encodeRow(src, plane, n, display, out);
        });
        const [p, q] = [new Uint8Array(a, out, n * 3), new Uint8Array(b, out, n * 3)];
        for (let i = 0; i < n * 3; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(1);
      }), runs);
    });
    test('encoding to 16-bit numbers', () => {
      fc.assert(fc.property(seeds, lengths, (seed, n) => {
        let out = 0;
        const { a, b } = both((arena) => {
          const src = place3(arena, seed, -0.05, 8);
          const display = arena.placeBytes(displayBlock(profile));
          out = arena.take(1600);
          return (k) => k.encodeDeepRow(src, plane, n, display, out);
        });
        const [p, q] = [new Uint16Array(a, out, n * 3 + 3), new Uint16Array(b, out, n * 3 + 3)];
        for (let i = 0; i < n * 3; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(4);
        // The next row's pixels are left alone.
        expect(p.subarray(n * 3)).toEqual(q.subarray(n * 3));
      }), runs);
    });
  });
  test('largest codes', () => check(1e-6, (arena, seed, n) => {
    const [from, at] = [codes(arena, seed), place3(arena, seed)];
    return { at, planes: 1, call: (k) => k.topRow(from, plane, n, at) };
  }));
  test('grey and halved rows', () => check(1e-4, (arena, seed, n) => {
    const at = place3(arena, seed);
    const [rgb, upper, lower] = [arena.placeBytes(Uint8Array.from(random(seed, n * 3, 0, 255))), arena.placeFloats(random(seed, 2 * n, 0, 255)), arena.placeFloats(random(seed + 1, 2 * n, 0, 255))];
    return { at, planes: 2, call: (k) => { k.greyRow8(rgb, n, 0.3, 0.6, 0.1, at); k.halveRow(upper, lower, n, at + plane); } };
  }));
  test('sums of rows, shrunk by whole factors, are means to half a step', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 16 }), (seed, n, factor) => {
      let out = 0;
      const width = n * factor;
      const { a, b } = both((arena) => {
        const src = arena.placeBytes(Uint8Array.from(random(seed, (width * 3 + 5) * factor + 16, 0, 255.9)));
        const acc = arena.take(width * 6 + 64);
        out = arena.take(n * 3 + 64);
        return (k) => {
          k.sumRows8(src, width * 3 + 5, factor, width * 3, acc);
          k.shrinkSums(acc, width, factor, factor, n, out);
        };
      });
      expect(new Uint8Array(a, out, n * 3)).toEqual(new Uint8Array(b, out, n * 3));
    }), runs);
  });
  test('shrinking rows', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: 3, max: 60 }), fc.integer({ min: 60, max: 200 }), (seed, n, width) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const src = arena.placeBytes(Uint8Array.from(random(seed, width * 3 + 8, 0, 255)));
        const acc = arena.take(width * 12);
        out = arena.take(n * 3);
        return (k) => {
          k.addRow8(src, width * 3, 16, acc);
          k.addRow8(src, width * 3, 5, acc);
          k.shrinkSums(acc, width, width / n, 21, n, out);
        };
      });
      const [p, q] = [new Uint8Array(a, out, n * 3), new Uint8Array(b, out, n * 3)];
      for (let i = 0; i < n * 3; i++) expect(Math.abs(p[i] - q[i])).toBeLessThanOrEqual(1);
    }), runs);
  });
});

describe('painted rows', () => {
  /** Positions of a slanted row, as the map writes them, and numbers of a stroke. */
  const place = (arena: Arena, seed: number, n: number): { coords: number; next: () => number } => {
    const next = seeded(seed);
    const coords = arena.take(coordCount(n) * 8);
    const [x0, y0, dx, dy] = [next() * 50, next() * 50, 0.3 + next(), next() * 0.2];
    const view = new Float64Array(arena.buffer, coords, coordCount(n));
    for (let k = 0; k < view.length / 2; k++) [view[2 * k], view[2 * k + 1]] = [x0 + 16 * k * dx, y0 + 16 * k * dy];
    return { coords, next };
  };
  test('strokes', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const { coords, next } = place(arena, seed, n);
        out = arena.placeFloats(random(seed, n + 4, 0, 0.3));
        const segment = [next() * 120, next() * 60, next() * 120, next() * 60];
        // A point is a segment of no length.
        if (seed % 4 === 0) [segment[2], segment[3]] = [segment[0], segment[1]];
        const [radius, width, strength] = [1 + next() * 40, 1 + next() * 20, next()];
        return (kernels) => kernels.strokeRow(coords, 0, n, segment[0], segment[1], segment[2], segment[3], radius, width, strength, out);
      });
      expectClose(floats(a, out, n), floats(b, out, n), 1e-4);
    }), runs);
  });
  test('ramps', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const { coords, next } = place(arena, seed, n);
        out = arena.take(n * 4 + 16);
        const [x, y, dx, dy] = [next() * 100, next() * 60, next() * 200 - 100, next() * 200 - 100];
        return (kernels) => kernels.rampRow(coords, n, x, y, dx, dy, out);
      });
      expectClose(floats(a, out, n), floats(b, out, n), 1e-4);
    }), runs);
  });
  test('outlines', () => {
    fc.assert(fc.property(seeds, lengths, fc.integer({ min: 3, max: 12 }), (seed, n, count) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const { coords, next } = place(arena, seed, n);
        out = arena.take(n * 4 + 80);
        const corners = Array.from({ length: count }, () => [next() * 120 - 10, next() * 80 - 10]);
        const edges = arena.placeFloats(Float32Array.from(corners.flatMap((c, k) => [...c, ...corners[(k + 1) % count]])));
        const width = 0.5 + 30 * next() * next();
        return (kernels) => kernels.outlineRow(coords, n, edges, count, width, out);
      });
      expectClose(floats(a, out, n), floats(b, out, n), 2e-3);
    }), runs);
  });
  test('spots', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const { coords, next } = place(arena, seed, n);
        out = arena.take(n * 4 + 16);
        const [x, y, ux, uy, vx, vy] = [next() * 100, next() * 60, next() / 20, next() / 20, -next() / 40, next() / 40];
        const [end, width] = [1 + next() / 10, 0.02 + next()];
        return (kernels) => kernels.spotRow(coords, n, x, y, ux, uy, vx, vy, end, width, out);
      });
      expectClose(floats(a, out, n), floats(b, out, n), 1e-4);
    }), runs);
  });
});

describe('lining up', () => {
  test('correlation of planes with gaps, at any shift', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), (seed, dx, dy) => {
      let sums = 0;
      const { a, b } = both((arena) => {
        const plane = (offset: number, n: number) => arena.placeFloats(random(seed + offset, n, -1, 1).map((v) => (Math.abs(v) < 0.2 ? 0 : v)));
        const [p, q] = [plane(0, 23 * 17), plane(1, 25 * 15)];
        sums = arena.take(32);
        return (kernels) => kernels.correlate(p, 23, 17, q, 25, 15, dx, dy, sums);
      });
      const [x, y] = [new Float64Array(a, sums, 4), new Float64Array(b, sums, 4)];
      for (let k = 0; k < 4; k++) expect(x[k]).toBeCloseTo(y[k], 3);
    }), runs);
  });
  test('windows are followed to the same place, and lost together', () => {
    fc.assert(fc.property(seeds, fc.double({ min: -1.5, max: 1.5, noNaN: true }), (seed, shift) => {
      const [w, h, n] = [60, 44, 6];
      const next = seeded(seed);
      const bumps = Array.from({ length: 40 }, () => [next() * w, next() * h, 1.5 + 2 * next(), 20 + 80 * next()]);
      const picture = (by: number, gain: number) => Float32Array.from({ length: w * h }, (_, i) => Math.min(255, gain * (30 + bumps.reduce((sum, [x, y, r, v]) => sum + v * Math.exp(-(((i % w) - x - by) ** 2 + (Math.floor(i / w) - y - by / 2) ** 2) / (2 * r * r)), 0))));
      let out = 0;
      const { a, b } = both((arena) => {
        const [p, q] = [arena.placeFloats(picture(0, 1)), arena.placeFloats(picture(shift, 0.6))];
        const points = arena.take(n * 32);
        new Float64Array(arena.buffer, points, n * 4).set(Array.from({ length: n }, () => [4 + next() * 52, 4 + next() * 36]).flatMap(([x, y]) => [x, y, x, y]));
        out = arena.take(n * 32);
        const scratch = arena.take(TRACK_SCRATCH);
        return (kernels) => kernels.trackPoints(p, w, h, q, w, h, points, n, out, scratch, 5);
      });
      const [x, y] = [new Float64Array(a, out, n * 4), new Float64Array(b, out, n * 4)];
      for (let k = 0; k < n; k++) {
        expect(x[4 * k + 2]).toBeCloseTo(y[4 * k + 2], 2);
        if (y[4 * k + 2] < 0.9) continue;
        expect(Math.hypot(x[4 * k] - y[4 * k], x[4 * k + 1] - y[4 * k + 1])).toBeLessThan(0.02);
        expect(x[4 * k + 3]).toBeCloseTo(y[4 * k + 3], 1);
      }
    }), runs);
  });
});
