import { describe, expect, test } from 'vitest';
import type { AdjustPass, Area, Mix, Pass } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import { GuideLevel } from '../src/graph/guideLevel';
import { placeGuideSources } from '../src/graph/placeGuideSources';
import { prepareMix } from '../src/graph/prepareMix';
import { packCasts, StoredCasts } from '../src/graph/storedCasts';
import { newWideContext } from '../src/graph/wideContext';
import { FOUND, H, PICTURES, ready, tools, use, W } from './evaluation';

const ramp: Area = { id: 'ramp', kind: 'ramp', join: 'add', inverted: false, from: [0.1, 0.1], to: [0.8, 0.5] };
const brush: Area = { id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes: [{ points: [[0.2, 0.2], [0.6, 0.4]], radius: 0.1, softness: 0.5, strength: 1, reveal: true }] };
const light = (id: string, changes: object = {}): Pass => ({ id, name: id, within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'b' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 0.5, mask: [brush], exposure: 0, balance: [1, 1, 1], ...changes });
const even = (changes: Partial<AdjustPass> = {}): AdjustPass => ({ id: 'even', name: 'Even', why: '', kind: 'adjust', on: true, opacity: 1, within: null, mask: [ramp], exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: 0, shadows: 0, curve: [], tied: false, saturation: 1, evenness: 1, ...changes });
const mixOf = (passes: readonly Pass[], changes: Partial<Mix> = {}): Mix => ({
  reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use(0), b: use(1) }, merge: ['a'], passes, ...changes,
});
const base = light('base', { source: { kind: 'merge' }, opacity: 1, mask: [] });
const MIX = mixOf([base, light('flash'), even(), light('above')]);
const packed = packCasts(ready(MIX))!;
const stored = StoredCasts.unpack(packed);
const at = (mix: Mix, pass = 'even') => {
  const prepared = prepareMix(mix, FOUND);
  return stored.of(prepared, prepared.passes.findIndex((each) => each.pass.id === pass));
};
/** The same with all keys the other way round, as another machine may write them. */
const turned = (value: unknown): unknown => (Array.isArray(value) ? value.map(turned) : value !== null && typeof value === 'object' ? Object.fromEntries(Object.entries(value).reverse().map(([key, each]) => [key, turned(each)])) : value);

describe('casts that were worked out elsewhere', () => {
  test('are the very ones, by whatever order things are written in', () => {
    const own = ready(MIX).passes[2].cast!;
    const got = at(turned(JSON.parse(JSON.stringify(MIX))) as Mix)!;
    expect(own.red.data.some((v) => Math.abs(v) > 0.01)).toBe(true);
    for (const plane of ['red', 'blue'] as const) {
      expect([got[plane].width, got[plane].height]).toEqual([own[plane].width, own[plane].height]);
      expect(got[plane].data).toEqual(own[plane].data);
    }
  });

  test('hold whatever the output, names, reasons, and what lies above', () => {
    expect(at(mixOf([base, light('flash', { name: 'Other', why: 'told' }), even({ name: 'Mine', opacity: 0.3, evenness: 0.5 }), light('above', { opacity: 0.1 })], { width: 200, geometry: [1, 0, 40, 0, 1, 0, 0, 0, 1] }))).not.toBeNull();
  });

  test.each<[string, Mix]>([
    ['a fader below', mixOf([base, light('flash', { opacity: 0.51 }), even()])],
    ['a stroke below', mixOf([base, light('flash', { mask: [{ ...brush, strokes: [...brush.strokes, ...brush.strokes] }] }), even()])],
    ['a pass muted below', mixOf([base, light('flash', { on: false }), even()])],
    ['its own mask', mixOf([base, light('flash'), even({ mask: [] })])],
    ['a frame’s exposure', mixOf([base, light('flash'), even()], { frames: { a: use(0), b: { ...use(1), stops: -1.1 } } })],
    ['how frames lie', mixOf([base, light('flash'), even()], { frames: { a: use(0), b: { ...use(1), homography: use(2).homography } } })],
    ['what is joined', mixOf([base, light('flash'), even()], { merge: ['a', 'b'] })],
    ['the lens', mixOf([base, light('flash'), even()], { lens: { ...NO_LENS, k1: 0.01 } })],
    ['the mask of a pass that it is linked to', mixOf([base, light('flash'), even({ mask: [{ id: 'link', kind: 'same', join: 'add', inverted: false, pass: 'above' }] }), light('above')])],
  ])('are not taken for another: %s', (_, mix) => {
    expect(at(mix)).toBeNull();
  });

  test('follow the mask of a pass that theirs is linked to, though that lies above', () => {
    const linked = (strength: number): Mix => mixOf([base, even({ mask: [{ id: 'link', kind: 'same', join: 'add', inverted: false, pass: 'above' }] }), light('above', { mask: [{ ...brush, strokes: [{ ...brush.strokes[0], strength }] }] })]);
    const kept = StoredCasts.unpack(packCasts(ready(linked(1)))!);
    const of = (mix: Mix) => kept.of(prepareMix(mix, FOUND), 1);
    expect(of(linked(1))).not.toBeNull();
    expect(of(linked(0.9))).toBeNull();
  });

  test('are taken by whoever prepares the picture, instead of being worked out again', () => {
    const { kernels, arena } = tools;
    const mark = arena.mark();
    const sources = placeGuideSources(kernels, arena, MIX, PICTURES);
    const marked = StoredCasts.unpack(packed);
    marked.of(prepareMix(MIX, FOUND), 2)!.red.data.fill(0.25);
    const prepared = new GuideLevel(kernels, arena, sources, null, newWideContext(), null, marked).workOut(prepareMix(MIX, FOUND));
    expect(prepared.passes[2].cast!.red.data.every((v) => v === 0.25)).toBe(true);
    arena.release(mark);
  });

  test('are nothing where nothing is evened, and a damaged file is told', () => {
    expect(packCasts(ready(mixOf([base])))).toBeNull();
    for (const length of [0, 3, 20, packed.length - 1]) expect(() => StoredCasts.unpack(packed.subarray(0, length))).toThrow(RangeError);
  });
});
