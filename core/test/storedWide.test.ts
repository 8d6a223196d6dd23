import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { AdjustPass, Area, Mix, Pass } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import { GuideLevel } from '../src/graph/guideLevel';
import { placeGuideSources } from '../src/graph/placeGuideSources';
import { wholeGrid } from '../src/graph/placedMix';
import { prepareMix, type PreparedMix } from '../src/graph/prepareMix';
import { packWide, StoredWide, type WideResults } from '../src/graph/storedWide';
import { newWideContext } from '../src/graph/wideContext';
import { createPlane, type Plane } from '../src/image/plane';
import { dequantize, quantize, rounded, roundedLight } from '../src/image/quantize';
import { FOUND, H, PICTURES, ready, render, tools, use, W } from './evaluation';

const ramp: Area = { id: 'ramp', kind: 'ramp', join: 'add', inverted: false, from: [0.1, 0.1], to: [0.8, 0.5] };
const brush: Area = { id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes: [{ points: [[0.2, 0.2], [0.6, 0.4]], radius: 0.1, softness: 0.5, strength: 1, reveal: true }], border: { grow: 0.01, soften: 0, snap: 'b' } };
const light = (id: string, changes: object = {}): Pass => ({ id, name: id, within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'b' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 0.5, mask: [brush], exposure: 0, balance: [1, 1, 1], ...changes });
const tone = (changes: Partial<AdjustPass> = {}): AdjustPass => ({ id: 'tone', name: 'Tone', why: '', kind: 'adjust', on: true, opacity: 1, within: null, mask: [ramp], exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: -0.6, shadows: 0.5, localContrast: 0.3, veil: 0.4, glow: 0.3, curve: [], tied: false, saturation: 1, evenness: 1, ...changes });
const mixOf = (passes: readonly Pass[], changes: Partial<Mix> = {}): Mix => ({
  reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use(0), b: use(1) }, merge: ['a'], passes, ...changes,
});
const base = light('base', { source: { kind: 'merge' }, opacity: 1, mask: [] });
const inset = light('inset', { kind: 'inset', matched: true, opacity: 1, mask: [{ ...brush, id: 'seam', border: undefined }] });
const MIX = mixOf([base, light('flash'), inset, tone(), light('above')]);
const packed = packWide(ready(MIX))!;
const stored = StoredWide.unpack(packed);
const at = (mix: Mix, pass = 'tone', from = stored): WideResults | null => {
  const prepared = prepareMix(mix, FOUND);
  return from.of(prepared)[prepared.passes.findIndex((each) => each.pass.id === pass)];
};
/** The same with all keys the other way round, as another machine may write them. */
const turned = (value: unknown): unknown => (Array.isArray(value) ? value.map(turned) : value !== null && typeof value === 'object' ? Object.fromEntries(Object.entries(value).reverse().map(([key, each]) => [key, turned(each)])) : value);
/** Prepared with what is stored. */
function readyWith(from: StoredWide | null): PreparedMix {
  const { kernels, arena } = tools;
  const mark = arena.mark();
  const prepared = new GuideLevel(kernels, arena, placeGuideSources(kernels, arena, MIX, PICTURES), null, newWideContext(), null, from).workOut(prepareMix(MIX, FOUND));
  arena.release(mark);
  return prepared;
}
const apart = (a: Float32Array, b: Float32Array): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);
const reach = (a: Float32Array): number => a.reduce((most, v) => Math.max(most, v), -Infinity) - a.reduce((least, v) => Math.min(least, v), Infinity);
const alike = (got: Plane | null, own: Plane | null): void => {
  expect([got!.width, got!.height]).toEqual([own!.width, own!.height]);
  expect(reach(own!.data)).toBeGreaterThan(0);
  expect(apart(got!.data, own!.data)).toBe(0);
};

describe('what was worked out elsewhere in a wide context', () => {
  test('is that of the picture, by whatever order things are written in', () => {
    const [, flash, own, toned] = ready(MIX).passes;
    const same = turned(JSON.parse(JSON.stringify(MIX))) as Mix;
    const got = at(same)!;
    for (const key of ['red', 'blue'] as const) alike(got.cast![key], toned.cast![key]);
    for (const key of ['a', 'b'] as const) alike(got.tone![key], toned.tone![key]);
    for (const key of ['r', 'g', 'b'] as const) expect(apart(got.glow![key], toned.glow![key])).toBe(0);
    expect(apart(got.veil!.data, toned.veil!.data)).toBe(0);
    const around = at(same, 'inset')!.around!;
    expect(around.whole).toEqual(own.around!.whole);
    for (const key of ['r', 'g', 'b'] as const) expect(apart(around.light[key], own.around!.light[key])).toBe(0);
    const [border, made] = [at(same, 'flash')!.borders[0], flash.mask[0].bordered];
    if (!border || !('a' in border) || !made || !('a' in made)) throw new Error('No border follows the frame.');
    expect(border.frame).toBe('b');
    alike(border.a, made.a);
  });

  test('makes the very same picture, and is taken instead of working it out again', () => {
    const grid = wholeGrid(MIX, W, H);
    const [own, got] = [render(readyWith(null), grid), render(readyWith(stored), grid)];
    expect(got).toEqual(own);
    const without = ready(MIX);
    const flat = { ...without, passes: without.passes.map((each) => (each.tone ? { ...each, tone: { a: createPlane(2, 2), b: createPlane(2, 2, new Float32Array(4).fill(0.25)) } } : each)) };
    expect(readyWith(StoredWide.unpack(packWide(flat)!)).passes[3].tone!.b.data).toEqual(new Float32Array(4).fill(0.25));
  });

  test('holds whatever the output, names, reasons, and what lies above', () => {
    expect(at(mixOf([base, light('flash', { name: 'Other', why: 'told' }), inset, tone({ name: 'Mine' }), light('above', { opacity: 0.1 })], { width: 200, geometry: [1, 0, 40, 0, 1, 0, 0, 0, 1] }))).not.toBeNull();
  });

  test.each<[string, Mix]>([
    ['a fader below', mixOf([base, light('flash', { opacity: 0.51 }), inset, tone()])],
    ['a stroke below', mixOf([base, light('flash', { mask: [{ ...brush, strokes: [...brush.strokes, ...brush.strokes] }] }), inset, tone()])],
    ['a pass muted below', mixOf([base, light('flash', { on: false }), inset, tone()])],
    ['the order below', mixOf([base, inset, light('flash'), tone()])],
    ['its own mask', mixOf([base, light('flash'), inset, tone({ mask: [] })])],
    ['its own strength', mixOf([base, light('flash'), inset, tone({ shadows: 0.51 })])],
    ['a frame’s exposure', mixOf(MIX.passes, { frames: { a: use(0), b: { ...use(1), stops: -1.1 } } })],
    ['how frames lie', mixOf(MIX.passes, { frames: { a: use(0), b: { ...use(1), homography: use(2).homography } } })],
    ['what is joined', mixOf(MIX.passes, { merge: ['a', 'b'] })],
    ['the lens', mixOf(MIX.passes, { lens: { ...NO_LENS, k1: 0.01 } })],
  ])('is not taken for another: %s', (_, mix) => {
    expect(at(mix)).toBeNull();
  });

  test('follows the mask of a pass that its own is linked to, though that lies above', () => {
    const linked = (strength: number): Mix => mixOf([base, tone({ mask: [{ id: 'link', kind: 'same', join: 'add', inverted: false, pass: 'above' }] }), light('above', { mask: [{ ...brush, strokes: [{ ...brush.strokes[0], strength }] }] })]);
    const kept = StoredWide.unpack(packWide(ready(linked(1)))!);
    expect(at(linked(1), 'tone', kept)).not.toBeNull();
    expect(at(linked(0.9), 'tone', kept)).toBeNull();
  });

  test('is nothing where nothing is asked for, nor where something is no number, and a damaged file is told', () => {
    expect(packWide(ready(mixOf([base])))).toBeNull();
    const made = ready(MIX);
    made.passes[3].tone!.a.data[7] = NaN;
    expect(packWide(made)).toBeNull();
    for (const length of [0, 3, 20, packed.length - 1]) expect(() => StoredWide.unpack(packed.subarray(0, length))).toThrow(RangeError);
  });
});

test('a plane in 16 bits is what it was to half a step; of light, dark values to a thousandth of themselves', () => {
  const values = fc.float32Array({ minLength: 4, maxLength: 40, noNaN: true, noDefaultInfinity: true, min: -30, max: 30 });
  fc.assert(fc.property(values, (data) => {
    const plane = createPlane(data.length, 1, data);
    const even = quantize(plane, 'even')!;
    expect(apart(dequantize(even.how, even.values).data, data)).toBeLessThanOrEqual(0.51 * even.how.step);
    expect(even.how.step).toBeLessThanOrEqual(Math.max(reach(data) / 16000, 30 / 2 ** 22));
  }));
  const light = createPlane(5, 1, Float32Array.from([0, 0.004, 0.05, 1, 30]));
  const { how, values: kept } = quantize(light, 'root')!;
  dequantize(how, kept).data.forEach((v, i) => expect(Math.abs(v - light.data[i])).toBeLessThanOrEqual(1.5e-3 * light.data[i] + 1e-8));
  expect(quantize(createPlane(2, 1, Float32Array.from([1, Infinity])), 'even')).toBeNull();
});

test('what was rounded to 16 bits once stays as it is, to the last bit', () => {
  const values = fc.float32Array({ minLength: 2, maxLength: 40, noNaN: true, noDefaultInfinity: true, min: -1000, max: 1000 });
  const near = fc.tuple(fc.float({ noNaN: true, min: 1, max: 100 }), fc.float32Array({ minLength: 2, maxLength: 40, noNaN: true, min: 0, max: Math.fround(1e-4) })).map(([middle, off]) => off.map((v) => middle + v));
  fc.assert(fc.property(fc.oneof(values, near), fc.constantFrom('even' as const, 'root' as const), (data, scale) => {
    const once = rounded(createPlane(data.length, 1, data), scale);
    expect(rounded(once, scale)).toEqual(once);
  }), { numRuns: 2000 });
  const zero = createPlane(3, 1);
  const light = { width: 3, height: 1, r: zero.data, g: Float32Array.from([0, 0.3, 4]), b: zero.data };
  expect(roundedLight(roundedLight(light))).toEqual(roundedLight(light));
  expect(roundedLight(light).r).toEqual(zero.data);
});
