import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createPlane, quantile, type Pixels } from '../src/image/plane';
import type { FrameFacts } from '../src/intake/frameFacts';
import { frameStats } from '../src/read/frameStats';
import { coverage, setQuality, type StatedFrame } from '../src/read/setQuality';
import { misfitByPart, PARTS, worstMisfit } from '../src/align/misfit';
import { IDENTITY } from '../src/geometry/homography';
import { boxBlur } from '../src/image/boxBlur';
import { seeded } from './kernelMemory';

/** A made-up picture: a room level, a dark corner at the bottom left, a window at the top right, and texture. */
function picture(room: number, corner: number, window: number, soft = 0): Pixels {
  const [width, height] = [480, 320];
  const next = seeded(5);
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const base = x < 160 && y > 200 ? corner : x > 330 && y < 110 ? window : room;
    plane.data[i] = base * ((Math.floor(x / 9) + Math.floor(y / 9)) % 2 === 0 ? 1 : 0.6) + 2 * next();
  }
  const grey = soft > 0 ? boxBlur(boxBlur(plane, soft), soft) : plane;
  const data = new Uint8Array(width * height * 3);
  grey.data.forEach((v, i) => data.fill(Math.min(255, v), i * 3, i * 3 + 3));
  return { width, height, data };
}
const stated = (name: string, pixels: Pixels, more: Partial<FrameFacts> = {}): StatedFrame => ({
  facts: { id: name, name, width: 1500, height: 1000, takenAt: 0, seconds: 0.25, aperture: 8, iso: 200, flash: null, bracketed: false, focalLength: 20, format: 'jpeg', camera: null, lensName: null, twinOf: null, ...more },
  stats: frameStats(pixels),
});
const kinds = (frames: readonly StatedFrame[]): string[] => setQuality(frames).map((r) => r.kind);

describe('set quality', () => {
  test('names what is dark or white in every frame, where, and is silent once a frame mends it', () => {
    const ambient = stated('A.JPG', picture(120, 12, 255));
    const [unlit, unsafe] = setQuality([ambient]);
    expect([unlit.kind, unsafe.kind]).toEqual(['unlit', 'unsafe']);
    expect(unlit.where![0]).toBeLessThan(500);
    expect(unlit.where![1]).toBeGreaterThan(600);
    expect(unsafe.where![0]).toBeGreaterThan(1000);
    expect(unsafe.where![1]).toBeLessThan(400);
    expect(kinds([ambient, stated('B.JPG', picture(30, 4, 140))])).toEqual(['unlit']);
    expect(kinds([ambient, stated('B.JPG', picture(30, 4, 140)), stated('C.JPG', picture(200, 120, 255))])).toEqual([]);
  });
  test('a step too large in a bracket', () => {
    const at = (stops: number) => stated(`${stops}.JPG`, picture(120, 90, 140), { bracketed: true, seconds: 0.25 * 2 ** stops });
    expect(kinds([at(0), at(-2), at(2)])).toEqual([]);
    expect(kinds([at(0), at(-4)])).toEqual(['step']);
  });
  test('a blurred frame among sharp ones is named', () => {
    const sharp = ['A', 'B', 'C'].map((n) => stated(`${n}.JPG`, picture(120, 90, 140)));
    const blurred = stated('D.JPG', picture(120, 90, 140, 2));
    expect(kinds(sharp)).toEqual([]);
    const [reading] = setQuality([...sharp, blurred]);
    expect([reading.kind, reading.value]).toEqual(['blur', 1]);
    expect(reading.text).toContain('D.JPG');
  });
  test('nothing is said of nothing, and frames of another shape do not count', () => {
    expect(coverage([])).toBeNull();
    const tall: Pixels = { width: 320, height: 480, data: picture(200, 200, 200).data };
    expect(coverage([stated('A.JPG', picture(120, 12, 255)), stated('B.JPG', tall)])!.cells).toContain('unlit');
  });
});

describe('quantile', () => {
  test('is what sorting gives, whatever the order, NaNs left out', () => {
    fc.assert(fc.property(fc.array(fc.float({ noNaN: true, noDefaultInfinity: true }), { minLength: 1, maxLength: 60 }), fc.double({ min: 0, max: 1, noNaN: true }), (values, share) => {
      const sorted = Float32Array.from(values).sort();
      const at = share * (sorted.length - 1);
      const low = Math.floor(at);
      const expected = sorted[low] + (at - low) * (sorted[Math.min(low + 1, sorted.length - 1)] - sorted[low]);
      const found = quantile([NaN, ...values, NaN], share);
      expect(Math.abs(found - expected)).toBeLessThanOrEqual(1e-6 * (1 + Math.abs(expected)) + Math.abs(expected) * 1e-6);
    }));
    expect(quantile([], 0.5)).toBeNaN();
  });
});

describe('misfit by part of the picture', () => {
  test('a part that moved by itself is found, wrong matches and empty parts do not count', () => {
    const next = seeded(3);
    const matches = Array.from({ length: 900 }, () => {
      const [x, y] = [next() * 1500, next() * 1000];
      const moved = x > 1125 && y < 333 ? 0.8 : 0;
      return { x, y, u: x + moved + 0.1 * (next() - 0.5), v: y + 0.1 * (next() - 0.5), weight: 1 };
    });
    const wrong = Array.from({ length: 60 }, () => ({ x: next() * 1500, y: next() * 1000, u: next() * 1500, v: next() * 1000, weight: 1 }));
    const parts = misfitByPart([...matches, ...wrong], IDENTITY, 1500, 1000, 2);
    expect(parts).toHaveLength(PARTS[0] * PARTS[1]);
    expect(parts[3].u).toBeCloseTo(0.8, 1);
    expect(worstMisfit(parts)).toBeCloseTo(0.8, 1);
    expect(worstMisfit(misfitByPart(matches.slice(0, 3), IDENTITY, 1500, 1000, 2))).toBe(0);
  });
});
