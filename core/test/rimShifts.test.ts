import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { finerShifts, rimShifts } from '../src/heal/rimShifts';
import type { HealFeatures } from '../src/heal/healLook';
import { boxBlur } from '../src/image/boxBlur';
import { createPlane } from '../src/image/plane';
import { seeded } from './kernelMemory';

const [WIDTH, HEIGHT] = [96, 72];
/** The place to be taken away, and how far about it copies of what lies there go: further than the rim that is looked at. */
const HOLE = { x: 40, y: 30, w: 10, h: 8 };
const ABOUT = 9;

/** Texture that repeats nowhere, in log light; all of it as rough. */
function texture(seed: number, scale = 1): HealFeatures {
  const next = seeded(seed);
  const [width, height] = [WIDTH * scale, HEIGHT * scale];
  const channel = (): Float32Array => boxBlur(createPlane(width, height, Float32Array.from({ length: width * height }, () => 3 * (next() - 0.5))), scale).data;
  return { width, height, logs: [channel(), channel(), channel()], rough: new Float32Array(width * height).fill(0.1) };
}

/** Puts what lies about the place elsewhere, too, with some stops more of red, green and blue. */
function copy({ width, logs }: HealFeatures, dx: number, dy: number, more: readonly [number, number, number] = [0, 0, 0]): void {
  logs.forEach((channel, c) => {
    const whole = channel.slice();
    for (let y = HOLE.y - ABOUT; y < HOLE.y + HOLE.h + ABOUT; y++) for (let x = HOLE.x - ABOUT; x < HOLE.x + HOLE.w + ABOUT; x++) channel[(y + dy) * width + x + dx] = whole[y * width + x] + more[c];
  });
}
function within(features: HealFeatures, { x, y, w, h }: typeof HOLE): Uint8Array {
  return Uint8Array.from(features.rough, (_, i) => {
    const [u, v] = [i % features.width, Math.floor(i / features.width)];
    return u >= x && u < x + w && v >= y && v < y + h ? 1 : 0;
  });
}
const holeOf = (features: HealFeatures): Uint8Array => within(features, HOLE);
const openOf = (features: HealFeatures): Uint8Array => holeOf(features).map((v) => 1 - v);
const best = (features: HealFeatures, count = 1) => rimShifts(features, holeOf(features), openOf(features), count).map(({ dx, dy }) => [dx, dy]);

const seeds = fc.integer({ min: 1, max: 9999 });

describe('where a place is taken from', () => {
  test('is where its rim is the same, to the pixel, wherever that lies and however bright it is there', () => {
    fc.assert(fc.property(seeds, fc.constantFrom<readonly [number, number]>([-30, -20], [33, 18], [-29, 22], [35, -19]), fc.double({ min: -0.7, max: 0.7, noNaN: true }), (seed, [dx, dy], more) => {
      const features = texture(seed);
      copy(features, dx, dy, [more, more, more]);
      expect(best(features)).toEqual([[dx, dy]]);
    }), { numRuns: 20 });
  });
  test('of two as good the nearer; rather one of another brightness than of another colour', () => {
    fc.assert(fc.property(seeds, (seed) => {
      const features = texture(seed);
      copy(features, -30, -20);
      copy(features, 36, 24);
      expect(best(features, 2)).toEqual([[-30, -20], [36, 24]]);
      const tinted = texture(seed);
      copy(tinted, -30, -20, [0.3, 0, -0.3]);
      copy(tinted, 36, 24, [0.4, 0.4, 0.4]);
      expect(best(tinted)).toEqual([[36, 24]]);
    }), { numRuns: 8 });
  });
  test('is about as rough as the rim: what is smoother costs less than what is rougher', () => {
    const features = texture(7);
    copy(features, -30, -20);
    copy(features, 30, 24);
    const rough = (dx: number, dy: number, times: number): void => within(features, { ...HOLE, x: HOLE.x + dx, y: HOLE.y + dy }).forEach((v, i) => v && (features.rough[i] *= times));
    rough(-30, -20, 3);
    expect(best(features)).toEqual([[30, 24]]);
    // Now both are as far off.
    rough(30, 24, 1 / 3);
    expect(best(features)).toEqual([[30, 24]]);
    // Far smoother costs more than a little rougher.
    rough(30, 24, 1 / 8);
    rough(-30, -20, 1.2 / 3);
    expect(best(features)).toEqual([[-30, -20]]);
  });
  test('lies apart from others that are as good, in what is open, and not in the place itself', () => {
    const features = texture(9);
    const found = rimShifts(features, holeOf(features), openOf(features), 12);
    expect(found.length).toBeGreaterThan(6);
    for (const [k, one] of found.entries()) for (const other of found.slice(0, k)) expect(Math.hypot(one.dx - other.dx, one.dy - other.dy)).toBeGreaterThanOrEqual(3.5);
    expect(found.map(({ cost }) => cost)).toEqual(found.map(({ cost }) => cost).sort((a, b) => a - b));
    for (const { dx, dy } of found) expect(Math.abs(dx) >= HOLE.w || Math.abs(dy) >= HOLE.h).toBe(true);
    // What is closed is taken from nowhere: only the right half is left.
    const right = openOf(features).map((v, i) => (i % WIDTH < 56 ? 0 : v));
    for (const { dx } of rimShifts(features, holeOf(features), right, 12)) expect(HOLE.x + dx).toBeGreaterThanOrEqual(56);
    expect(rimShifts(features, holeOf(features), new Uint8Array(right.length), 3)).toEqual([]);
  });
  test('is found to the pixel on a grid twice as fine, from where it is on the coarse one', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: -2, max: 2 }), fc.integer({ min: -2, max: 2 }), (seed, ox, oy) => {
      const fine = texture(seed, 2);
      const hole = within(fine, { x: HOLE.x * 2, y: HOLE.y * 2, w: HOLE.w * 2, h: HOLE.h * 2 });
      const [dx, dy] = [-60 + ox, -40 + oy];
      fine.logs.forEach((channel) => {
        const whole = channel.slice();
        for (let y = HOLE.y * 2 - ABOUT; y < (HOLE.y + HOLE.h) * 2 + ABOUT; y++) for (let x = HOLE.x * 2 - ABOUT; x < (HOLE.x + HOLE.w) * 2 + ABOUT; x++) channel[(y + dy) * fine.width + x + dx] = whole[y * fine.width + x];
      });
      const [found] = finerShifts(fine, hole, hole.map((v) => 1 - v), [{ dx: -30, dy: -20, cost: 0 }]);
      expect([found.dx, found.dy]).toEqual([dx, dy]);
      expect(finerShifts(fine, hole, hole, [{ dx: -30, dy: -20, cost: 0 }])).toEqual([]);
    }), { numRuns: 10 });
  });
});
