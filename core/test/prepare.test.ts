import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findCorners } from '../src/align/findCorners';
import { greyPyramid } from '../src/align/structure';
import type { Pixels } from '../src/image/plane';
import type { Match } from '../src/align/fitHomography';
import { fitMesh } from '../src/align/fitMesh';
import { misfitByPart, worstMisfit } from '../src/align/misfit';
import { estimateResponse, type ResponseFrame } from '../src/colour/estimateResponse';
import { responseStops } from '../src/colour/responseTable';
import { linearToSrgb, srgbToLinear } from '../src/colour/transfer';
import { composeMap, coordCount, writeRowCoords, writeRowGains } from '../src/geometry/composedMap';
import { estimateFalloff, type FalloffPair } from '../src/geometry/estimateFalloff';
import { estimateFringes } from '../src/align/estimateFringes';
import { IDENTITY, mapPoint, type Homography } from '../src/geometry/homography';
import { falloffGain, freeOfLens, lensFactor, NO_LENS } from '../src/geometry/lens';
import { mapThroughMesh } from '../src/geometry/mesh';
import { seeded, testTools } from './kernelMemory';

const [W, H] = [900, 600];
const [CX, CY, HALF] = [(W - 1) / 2, (H - 1) / 2, (W * W + H * H) / 4];

/** A picture of soft blobs of many colours, in which red and blue are stored a little larger or smaller than green. */
function fringed(seed: number, red: number, blue: number) {
  const next = seeded(seed);
  const blobs = Array.from({ length: 500 }, () => ({ x: next() * W, y: next() * H, r: 3 + 9 * next(), v: 60 + 160 * next() }));
  const light = new Float32Array(W * H).fill(90);
  for (const b of blobs) {
    for (let y = Math.max(0, Math.floor(b.y - b.r)); y < Math.min(H, b.y + b.r); y++) {
      for (let x = Math.max(0, Math.floor(b.x - b.r)); x < Math.min(W, b.x + b.r); x++) {
        const edge = Math.min(1, Math.max(0, b.r - Math.hypot(x - b.x, y - b.y)));
        light[y * W + x] += edge * (b.v - light[y * W + x]);
      }
    }
  }
  const at = (x: number, y: number): number => {
    const [u, v] = [Math.min(W - 1.01, Math.max(0, x)), Math.min(H - 1.01, Math.max(0, y))];
    const i = Math.floor(v) * W + Math.floor(u);
    const [fx, fy] = [u % 1, v % 1];
    return (light[i] * (1 - fx) + light[i + 1] * fx) * (1 - fy) + (light[i + W] * (1 - fx) + light[i + W + 1] * fx) * fy;
  };
  const data = new Uint8Array(W * H * 3);
  for (let y = 0, p = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const r2 = ((x - CX) ** 2 + (y - CY) ** 2) / HALF;
      for (const [f, gain] of [[red, 0.9], [0, 1], [blue, 0.8]]) {
        const s = 1 + f * r2;
        data[p++] = Math.round(gain * at(CX + (x - CX) * s, CY + (y - CY) * s) + 3 * (next() - 0.5));
      }
    }
  }
  return { width: W, height: H, data };
}

describe('lens', () => {
  const tools = testTools(32 << 20);
  const fringesOf = (proxy: Pixels) => estimateFringes(tools, proxy, findCorners(greyPyramid(tools, proxy), 48, 2));
  test('lateral colour is found to a tenth of a pixel in the corner, and not invented', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.double({ min: -0.0012, max: 0.0012, noNaN: true }), fc.double({ min: -0.0012, max: 0.0012, noNaN: true }), (seed, red, blue) => {
      const found = fringesOf(fringed(seed, red, blue));
      expect(Math.abs(found.red - red) * Math.sqrt(HALF)).toBeLessThan(0.1);
      expect(Math.abs(found.blue - blue) * Math.sqrt(HALF)).toBeLessThan(0.1);
    }), { numRuns: 6 });
    expect(fringesOf(fringed(5, 0, 0))).toEqual({ red: 0, blue: 0 });
    expect(fringesOf({ width: 300, height: 200, data: new Uint8Array(180_000).fill(128) })).toEqual({ red: 0, blue: 0 });
  });
  test('a colour that lies apart is read where it was stored, and light that was lost comes back', () => {
    fc.assert(fc.property(fc.double({ min: -0.03, max: 0.03, noNaN: true }), fc.double({ min: -0.001, max: 0.001, noNaN: true }), fc.integer({ min: 0, max: H - 1 }), (k1, fringe, y) => {
      const lens = { ...NO_LENS, k1, red: fringe, falloff: [0.3, 0.1] as const };
      const map = composeMap(IDENTITY, IDENTITY, IDENTITY, lens, W, H);
      const [green, red, gains] = [new Float64Array(coordCount(64)), new Float64Array(coordCount(64)), new Float32Array(coordCount(64))];
      writeRowCoords(map, 16, y, 64, green);
      writeRowCoords(map, 16, y, 64, red, fringe);
      writeRowGains(map, green, 64, gains);
      for (let i = 0; i < 5; i++) {
        // What the statement of the model says of the stored place gives back where we asked for.
        const r2 = ((red[2 * i] - CX) ** 2 + (red[2 * i + 1] - CY) ** 2) / HALF;
        const s = (1 + k1 * r2) * (1 + fringe * r2);
        expect(CX + (red[2 * i] - CX) * s).toBeCloseTo(16 + 16 * i, 2);
        const g2 = ((green[2 * i] - CX) ** 2 + (green[2 * i + 1] - CY) ** 2) / HALF;
        expect(gains[i] * (1 - 0.3 * g2 - 0.1 * g2 * g2)).toBeCloseTo(1, 4);
      }
    }));
    expect(falloffGain({ ...NO_LENS, falloff: [0.9, 0.9] }, 1)).toBe(5);
  });
  test('fall-off is found where frames lie apart, and not invented', () => {
    const places = (seed: number, f: number, shift: number, changed: number): FalloffPair[] => {
      const next = seeded(seed);
      return Array.from({ length: 6000 }, (_, i) => {
        const [x, y] = [((i % 100) / 100) * W, (Math.floor(i / 100) / 60) * H];
        const r2 = (dx: number): number => ((x + dx - CX) ** 2 + (y - CY) ** 2) / HALF;
        const [first, second] = [r2(0), r2(shift)];
        const moved = next() < changed ? 2 * (next() - 0.5) : 0;
        return { first, second, ratio: 0.3 + Math.log2((1 - f * second) / (1 - f * first)) + moved + 0.12 * (next() - 0.5) };
      });
    };
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.double({ min: 0.1, max: 0.5, noNaN: true }), (seed, f) => {
      expect(Math.abs(estimateFalloff(places(seed, f, 45, 0.1)) - f)).toBeLessThan(0.05);
      expect(estimateFalloff(places(seed, 0, 45, 0.1))).toBe(0);
      // On a tripod nothing tells it from light that really falls off.
      expect(estimateFalloff(places(seed, f, 2, 0.1))).toBe(0);
    }), { numRuns: 6 });
    expect(estimateFalloff([])).toBe(0);
  });
  test('a picture that keeps its distortion shows the reference as it was stored', () => {
    const lens = { ...NO_LENS, k1: 0.03 };
    const out = new Float64Array(coordCount(64));
    writeRowCoords(composeMap({ toReference: IDENTITY, lens, centre: [CX, CY], half: HALF }, IDENTITY, IDENTITY, lens, W, H), 700, 500, 64, out);
    for (let i = 0; i < 5; i++) expect([out[2 * i], out[2 * i + 1]].map((v) => Math.round(v * 100) / 100)).toEqual([700 + 16 * i, 500]);
  });
});

describe('camera response', () => {
  /** Frames of one scene through a response. */
  const shoot = (seed: number, stops: readonly number[], encode: (light: number) => number, moved = 0): ResponseFrame[] => {
    const next = seeded(seed);
    const scene = Float32Array.from({ length: 20_000 }, () => 2 ** (-6.5 * next()));
    return stops.map((s) => ({ stops: s, values: scene.map((v) => {
      const light = (next() < moved ? 2 ** (-6 * next()) : v) * 2 ** s;
      return Math.round(255 * encode(Math.min(1, light * (1 + 0.01 * (next() - 0.5))))) / 255;
    }) }));
  };
  const curves: readonly ((light: number) => number)[] = [(l) => linearToSrgb(l) ** 0.85, (l) => { const v = linearToSrgb(l); return v - 0.06 * Math.sin(2 * Math.PI * v); }, (l) => (1 - (1 - linearToSrgb(l)) ** 1.3)];
  test('is found to a fifth of a stop, whatever moved', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: 0, max: 2 }), (seed, which) => {
      const response = estimateResponse(shoot(seed, [0, -2, 1.5], curves[which], 0.08));
      for (let light = 0.02; light < 0.9; light *= 1.6) {
        const v = curves[which](light);
        expect(Math.abs(Math.log2(srgbToLinear(v)) + responseStops(response, v) - Math.log2(light))).toBeLessThan(0.2);
      }
    }), { numRuns: 12 });
  });
  test('an sRGB camera stays one, also when its shutter is a little off, and single frames tell nothing', () => {
    const frames = shoot(3, [0, -2, 2], linearToSrgb, 0.08);
    expect(estimateResponse(frames)).toEqual([]);
    expect(estimateResponse(frames.map((f, k) => ({ ...f, stops: f.stops + 0.04 * k })))).toEqual([]);
    expect(estimateResponse(frames.slice(0, 1))).toEqual([]);
    expect(estimateResponse([])).toEqual([]);
  });
});

describe('local line-up', () => {
  const h: Homography = [1.0002, 0.0011, 3.2, -0.0009, 0.9998, -1.4, 0, 0, 1];
  const matches = (seed: number, extra: (x: number, y: number) => [number, number]): Match[] => {
    const next = seeded(seed);
    return Array.from({ length: 900 }, () => {
      const [x, y] = [next() * W, next() * H];
      const [u, v] = mapPoint(h, x, y);
      const [du, dv] = next() < 0.1 ? [8 * (next() - 0.5), 8 * (next() - 0.5)] : extra(x, y);
      return { x, y, u: u + du + 0.2 * (next() - 0.5), v: v + dv + 0.2 * (next() - 0.5), weight: 0.5 + 0.5 * next() };
    });
  };
  test('near and far things get maps of their own; the misfit says how much is left', () => {
    const near = (x: number, y: number): [number, number] => (y > 380 ? [2.2, 0.5] : [-0.3 * (x / W), 0]);
    const list = matches(4, near);
    const before = worstMisfit(misfitByPart(list, h, W, H, 6));
    expect(before).toBeGreaterThan(1.5);
    const mesh = fitMesh(list, h, W, H, null, 6)!;
    expect(worstMisfit(misfitByPart(list, h, W, H, 6, mesh))).toBeLessThan(0.3 * before);
    const [u, v] = mapThroughMesh(h, mesh, W, H, 400, 520);
    const [pu, pv] = mapPoint(h, 400, 520);
    expect(Math.hypot(u - pu - 2.2, v - pv - 0.5)).toBeLessThan(0.3);
  });
  test('is left alone where one map does', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 9999 }), (seed) => {
      expect(fitMesh(matches(seed, () => [0, 0]), h, W, H, null, 6)).toBeNull();
    }), { numRuns: 10 });
    expect(fitMesh([], h, W, H, null, 6)).toBeNull();
  });
});

test('the factor of a lens with lateral colour undoes its statement', () => {
  fc.assert(fc.property(fc.double({ min: -0.05, max: 0.05, noNaN: true }), fc.double({ min: 0, max: W, noNaN: true }), fc.double({ min: 0, max: H, noNaN: true }), (k1, x, y) => {
    const [u, v] = freeOfLens({ k1, k2: 0 }, W, H, x, y);
    const s = lensFactor({ k1, k2: 0 }, ((u - CX) ** 2 + (v - CY) ** 2) / HALF);
    expect(Math.hypot(CX + (u - CX) * s - x, CY + (v - CY) * s - y)).toBeLessThan(1e-3);
  }));
});
