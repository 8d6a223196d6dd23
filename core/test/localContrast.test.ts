import { describe, expect, test } from 'vitest';
import { localContrast } from '../src/finish/localContrast';
import { localTone, toneBase } from '../src/finish/localTone';
import { veilOver, veilRemoval } from '../src/finish/veil';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import { seeded, testTools } from './kernelMemory';

const W = 300;
const H = 200;
const MIDDLE = Math.log2(0.18);
const at = (f: (x: number, y: number) => number): Plane => mapPlane(createPlane(W, H), (_, i) => f(i % W, Math.floor(i / W)));
/** What comes out at the pixels: the gain is carried up as a model over luminance. */
function toned(scene: Plane, strength: number): Plane {
  const tools = testTools(24 << 20);
  const { a, b } = localTone(tools, toneBase(tools, scene), { highlights: 0, shadows: 0, localContrast: strength });
  return mapPlane(scene, (v, i) => v + a.data[i] * v + b.data[i]);
}
const span = ({ data }: Plane, from: number, to: number, y = 85): number => Math.max(...data.subarray(y * W + from, y * W + to)) - Math.min(...data.subarray(y * W + from, y * W + to));

describe('local contrast', () => {
  const waves = at((x, y) => MIDDLE - 1.5 + 0.25 * Math.sin(x / 6) * Math.cos(y / 9));
  test('strengthens what surfaces have, calms it where it is negative, and does nothing at 0', () => {
    const before = span(waves, 60, 240);
    expect(span(toned(waves, 1), 60, 240)).toBeGreaterThan(before * 1.3);
    expect(span(toned(waves, -1), 60, 240)).toBeLessThan(before * 0.75);
    expect(toned(waves, 0).data).toEqual(waves.data);
  });
  test('is linear in its strength', () => {
    const [once, twice] = [toned(waves, 0.5), toned(waves, 1)];
    for (let i = 0; i < once.data.length; i += 53) expect(twice.data[i] - waves.data[i]).toBeCloseTo(2 * (once.data[i] - waves.data[i]), 4);
  });
  test('a large step of light gets no halo: beside it surfaces stay within a tenth of a stop', () => {
    const step = at((x) => MIDDLE + (x < 150 ? -3.5 : 0.5));
    const out = toned(step, 1);
    for (const x of [100, 130, 140, 146, 149, 150, 153, 160, 170, 200]) expect(Math.abs(out.data[100 * W + x] - step.data[100 * W + x])).toBeLessThan(0.1);
  });
  test('turns no gradient round', () => {
    const next = seeded(5);
    const phase = [next() * 6, next() * 6];
    // Rising everywhere, now steeply, now hardly.
    const rising = at((x) => MIDDLE - 4 + x / 60 + 0.8 * Math.sin(x / 48 + phase[0]) * 0.9 + x / 55);
    for (const strength of [-1, 1, 1.5]) {
      const out = toned(rising, strength).data.subarray(100 * W, 101 * W);
      for (let x = 6; x < W - 6; x++) expect(out[x] - out[x - 1]).toBeGreaterThan(-0.004);
    }
  });
  test('leaves blacks and whites as they are', () => {
    const dark = at((x) => MIDDLE - 8 + 0.3 * Math.sin(x / 5));
    expect(Math.max(...localContrast(testTools(24 << 20), dark).data.map(Math.abs))).toBeLessThan(1e-6);
  });
  test('takes pictures of any size, however narrow', () => {
    for (const [w, h] of [[1, 1], [2, 3], [5, 90], [61, 47]]) expect(localContrast(testTools(4 << 20), createPlane(w, h)).data.every(Number.isFinite)).toBe(true);
  });
});

describe('a veil', () => {
  const next = seeded(9);
  const room = at(() => Math.log2(0.004 + 0.9 * next() ** 2));
  const flare = at((x) => 0.14 * Math.exp(-(((x - 250) / 160) ** 2)));
  const veiled = mapPlane(room, (v, i) => Math.log2(2 ** v + flare.data[i]));
  const lightOf = (logY: Plane, share: number): Plane => {
    const { taken, grown } = veilRemoval(veilOver(logY), share);
    return mapPlane(logY, (v, i) => Math.max(0, 2 ** v - taken.data[i]) * (1 + grown.data[i]));
  };
  const error = (light: Plane): number => Math.sqrt(light.data.reduce((sum, v, i) => sum + (Math.log2(v + 0.02) - Math.log2(2 ** room.data[i] + 0.02)) ** 2, 0) / light.data.length);
  test('of flare is found where it lies, and most of it is taken away', () => {
    const veil = veilOver(veiled);
    expect(veil.data[100 * W + 250]).toBeGreaterThan(0.06);
    expect(veil.data[100 * W + 20]).toBeLessThan(0.02);
    expect(error(lightOf(veiled, 1))).toBeLessThan(0.6 * error(lightOf(veiled, 0)));
  });
  test('that is not there is not taken away, and white stays white', () => {
    expect(Math.max(...veilOver(room).data)).toBeLessThan(0.02);
    const { taken, grown } = veilRemoval(veilOver(veiled), 0.7);
    for (let i = 0; i < taken.data.length; i += 97) expect((1 - taken.data[i]) * (1 + grown.data[i])).toBeCloseTo(1, 5);
  });
  test('is not taken from a pale wall that is broader than what is looked at together, as long as something dark is near', () => {
    const wall = at((x, y) => (x > 100 && x < 150 && y > 60 && y < 110 ? -0.5 : (x + y) % 7 === 0 ? -7 : -2));
    expect(Math.max(...veilOver(wall).data)).toBeLessThan(0.02);
  });
});
