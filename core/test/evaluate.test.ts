import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { invert, mapPoint, type Homography } from '../src/geometry/homography';
import { NO_LENS } from '../src/geometry/lens';
import { Heap } from '../src/graph/heap';
import type { Keep } from '../src/graph/keep';
import { maskFaces } from '../src/graph/maskFaces';
import { placeMix } from '../src/graph/placeMix';
import { placedBytes, wholeGrid, type OutputGrid } from '../src/graph/placedMix';
import { contributionMap } from '../src/graph/contributionMap';
import { probeMix } from '../src/graph/probeMix';
import { prepareMix } from '../src/graph/prepareMix';
import { readyMix } from '../src/graph/readyMix';
import { RowRenderer } from '../src/graph/rowRenderer';
import { Arena } from '../src/kernels/arena';
import { BLEND_MODE_CODES } from '../src/blend/blendModes';
import type { HealPass, HealPatch, AdjustPass, Area, BlendMode, BundlePass, FillPass, Mix, Pass, PixelsOf, SourcePass } from '@zaddle/document';
import { DIGEST, FOUND, H, IDS, kernels, newKeep, PICTURES, pixelsIn, quadAt, ready, render, sourceArena, tools, use, W } from './evaluation';

/*
 * One evaluator for every level: what it makes does not depend on what was kept, on the order of asking, or on how the
 * picture is cut into parts; and levels agree.
 */

const point = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 0.66, noNaN: true }));
const pixels: fc.Arbitrary<PixelsOf> = fc.constantFrom({ kind: 'below' as const }, { kind: 'frame' as const, frame: 'b' });
const area: fc.Arbitrary<Area> = fc.record({ id: fc.constant('area'), join: fc.constantFrom('add' as const, 'subtract' as const, 'intersect' as const), inverted: fc.boolean() }).chain((base) => fc.oneof(
  fc.record({ points: fc.array(point, { minLength: 1, maxLength: 6 }), radius: fc.double({ min: 0.01, max: 0.2, noNaN: true }), softness: fc.double({ min: 0.3, max: 1, noNaN: true }), strength: fc.double({ min: 0.2, max: 1, noNaN: true }), reveal: fc.boolean() }).chain((stroke) => fc.array(fc.constant(stroke), { minLength: 1, maxLength: 3 }).map((strokes): Area => ({ ...base, kind: 'brush', strokes: strokes.map((s, k) => ({ ...s, points: s.points.map(([x, y]) => [x * (1 - k / 9), y] as const) })) }))),
  fc.tuple(point, point).map(([from, to]): Area => ({ ...base, kind: 'ramp', from, to: [to[0] + 0.3, to[1]] })),
  fc.constantFrom(...IDS).map((frame): Area => ({ ...base, kind: 'found', what: 'lit', frame, among: [] })),
  fc.constant<Area>({ ...base, kind: 'found', what: 'glass', edge: 'b' }),
  pixels.map((of): Area => ({ ...base, kind: 'tones', of, from: -3, to: 0.5, softness: 1.5 })),
  fc.tuple(pixels, fc.constantFrom('red' as const, 'luminance' as const)).map(([of, component]): Area => ({ ...base, kind: 'channel', of, component, from: 0.2, to: 0.8 })),
  pixels.map((of): Area => ({ ...base, kind: 'hues', of, hue: 60, width: 70, softness: 60, chroma: 0.01 })),
  fc.constant<Area>({ ...base, kind: 'same', pass: 'p0' }),
));
const common = { on: fc.constant(true), opacity: fc.double({ min: 0.2, max: 1, noNaN: true }), mask: fc.array(area, { maxLength: 2 }), exposure: fc.double({ min: -1, max: 1.5, noNaN: true }), balance: fc.constantFrom([1, 1, 1] as const, [1.1, 1, 0.9] as const) };
const sourcePass: fc.Arbitrary<Pass> = fc.record({
  ...common, id: fc.constant(''), name: fc.constant(''), within: fc.constant(null), why: fc.constant(''), kind: fc.constant('light' as const), source: fc.oneof(fc.constantFrom({ kind: 'merge' as const }, { kind: 'below' as const }), fc.constantFrom(...IDS).map((frame) => ({ kind: 'frame' as const, frame })), fc.constant({ kind: 'flash' as const, frame: 'c' }), fc.constantFrom({ kind: 'switched' as const, frame: 'c', without: 'a' }, { kind: 'switched' as const, frame: 'b', without: 'c' })),
  alignment: fc.constantFrom(null, [1, 0, 4, 0, 1, -3, 0, 0, 1] as Homography), mode: fc.constantFrom(...(Object.keys(BLEND_MODE_CODES) as BlendMode[])), brightness: fc.constantFrom(1, 0.5), colour: fc.constantFrom(1, 0.2),
}).map((pass): SourcePass => ({ ...pass, alignment: pass.source.kind === 'merge' ? null : pass.alignment }));
const adjustPass: fc.Arbitrary<Pass> = fc.record({ ...common, id: fc.constant(''), name: fc.constant(''), within: fc.constant(null), why: fc.constant(''), kind: fc.constant('adjust' as const), contrast: fc.constantFrom(1, 1.2), curve: fc.constantFrom([], [[-4, 0.5], [0, 0.1], [2, -0.7]] as const), tied: fc.boolean(), highlights: fc.constantFrom(0, -0.6), shadows: fc.constantFrom(0, 0.5), saturation: fc.constantFrom(1, 1.1), muted: fc.constantFrom(null, 0.3), localContrast: fc.constantFrom(null, 0.6), veil: fc.constantFrom(null, 0.5), glow: fc.constantFrom(null, 0.4), table: fc.constantFrom(null, { digest: DIGEST, name: 'Peat', space: 'srgb' as const, strength: 0.6 }), bands: fc.constantFrom(null, [{ hue: 60, width: 40, softness: 30, shift: 12, chroma: 0.6, lightness: 0.1 }]) }).map((pass): AdjustPass => pass);
const blending = { mode: fc.constantFrom(...(Object.keys(BLEND_MODE_CODES) as BlendMode[])), brightness: fc.constantFrom(1, 0.5), colour: fc.constantFrom(1, 0.2) };
const fillPass: fc.Arbitrary<Pass> = fc.record({ ...common, ...blending, id: fc.constant(''), name: fc.constant(''), within: fc.constant(null), why: fc.constant(''), kind: fc.constant('fill' as const), tone: fc.constant([0.4, 0.3, 0.1] as const), ramp: fc.constantFrom(null, { from: [0.2, 0.1], to: [0.7, 0.4], tone: [0, 0.1, 0.9] } as const), around: fc.boolean() })
  // What lies around a mask that is everywhere is the picture itself: what is left of the two by *difference* is noise, which levels do not share.
  .map((pass): FillPass => (pass.around ? { ...pass, mode: 'normal' } : pass));
const healPatch: fc.Arbitrary<HealPatch> = fc.tuple(fc.constantFrom([0.1, 0.2], [0.5, 0.3], [0.7, 0.05]), fc.constantFrom([0.4, 0.1], [0.2, 0.35], [0.62, 0.2]), fc.boolean(), fc.boolean()).map(([[x, y], [u, v], turned, ringed]): HealPatch => {
  const from = quadAt(u, v, 0.14, 0.12);
  return { gains: turned ? [0.8, 1, 1.3] : [1, 1, 1], to: quadAt(x, y, 0.14, 0.12), from: turned ? [from[1], from[0], from[3], from[2]] : from, rings: ringed ? [[[x + 0.01, y + 0.02], [x + 0.12, y + 0.01], [x + 0.07, y + 0.11]]] : [] };
});
const healPass: fc.Arbitrary<Pass> = fc.record({ ...common, ...blending, id: fc.constant(''), name: fc.constant(''), within: fc.constant(null), why: fc.constant(''), kind: fc.constant('heal' as const), softness: fc.constantFrom(0, 0.01), matched: fc.boolean(), patches: fc.array(healPatch, { minLength: 1, maxLength: 3 }) }).map((pass): HealPass => pass);
const bundlePass: fc.Arbitrary<Pass> = fc.record({ ...common, ...blending, id: fc.constant(''), name: fc.constant(''), within: fc.constant(null), why: fc.constant(''), kind: fc.constant('bundle' as const) }).map((pass): BundlePass => pass);

/** Passes as they lie, with some in bundles: which by a plan of indices, from the innermost out. */
function inBundles(passes: readonly Pass[], bundles: readonly Pass[], plan: readonly (readonly [number, number])[]): Pass[] {
  let out: Pass[] = passes.map((pass, k) => ({ ...pass, id: `p${k}`, mask: k === 0 ? pass.mask.filter(({ kind }) => kind !== 'same') : pass.mask }));
  plan.forEach(([from, to], b) => {
    const bundle = { ...bundles[b % bundles.length], id: `bundle${b}` };
    const [first, last] = [out.findIndex(({ id }) => id === `p${Math.min(from, passes.length - 1)}`), out.findLastIndex(({ id }) => id === `p${Math.min(to, passes.length - 1)}`)];
    // What lies in a bundle of this one stays there.
    const held = new Set(out.filter(({ kind }) => kind === 'bundle').map(({ id }) => id));
    const end = Math.max(last, ...out.map(({ within }, k) => (within !== null && k >= first && k <= last + 1 ? out.findIndex(({ id }) => id === within) : -1)));
    out = [...out.slice(0, first), ...out.slice(first, end + 1).map((pass) => (pass.within !== null && held.has(pass.within) ? pass : { ...pass, within: bundle.id })), bundle, ...out.slice(end + 1)];
  });
  return out;
}
const plans = fc.constantFrom<readonly (readonly [number, number])[]>([], [[0, 1]], [[1, 3]], [[1, 2], [0, 3]], [[0, 0], [2, 3]]);
const mixes: fc.Arbitrary<Mix> = fc.tuple(fc.array(fc.oneof({ weight: 4, arbitrary: sourcePass }, { weight: 2, arbitrary: adjustPass }, { weight: 1, arbitrary: fillPass }, { weight: 1, arbitrary: healPass }), { minLength: 1, maxLength: 5 }).chain((passes) => fc.tuple(fc.array(bundlePass, { minLength: 2, maxLength: 2 }), plans).map(([bundles, plan]) => inBundles(passes, bundles, plan))), fc.boolean(), fc.boolean()).map(([passes, bends, crop]) => ({
  reference: 'a', lens: bends ? { ...NO_LENS, k1: 0.02, red: 0.0008, falloff: [0.2, 0.05] } : { ...NO_LENS }, corrects: { distortion: !bends, fringes: true, falloff: true }, response: [],
  geometry: crop ? [1, 0.01, 12, -0.01, 1, 9, 0, 2e-6, 1] : [1, 0, 0, 0, 1, 0, 0, 0, 1], width: crop ? W - 48 : W, height: crop ? H - 32 : H,
  frames: Object.fromEntries(IDS.map((id, k) => [id, use(k)])), merge: ['a', 'b'],
  passes: [{ id: 'under', name: '', within: null, why: '', kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }, ...passes],
}));

const runs = { numRuns: 40 };

describe('one evaluator', () => {
  test('what is kept changes nothing: first, again, after a change and back, and with hardly any room to keep in', () => {
    fc.assert(fc.property(mixes, fc.nat(), (mix, pick) => {
      const prepared = ready(mix);
      const grid = wholeGrid(mix, 240, Math.round((240 * mix.height) / mix.width));
      const plain = render(prepared, grid);
      const working = mix.passes[pick % mix.passes.length].id;
      const changed = ready({ ...mix, passes: mix.passes.map((pass) => (pass.id === working ? { ...pass, exposure: pass.exposure + 0.3 } : pass)) });
      const changedPlain = render(changed, grid);
      for (const keep of [newKeep(), newKeep(3 << 20)]) {
        const kept = { keep, grid: 'g', working };
        for (const [what, expected] of [[prepared, plain], [prepared, plain], [changed, changedPlain], [prepared, plain]] as const) expect(Buffer.compare(render(what, grid, kept), expected)).toBe(0);
      }
    }), runs);
  });
  test('the order of asking does not matter, and a part is what the whole has there, to the last bit', () => {
    fc.assert(fc.property(mixes, fc.nat({ max: 60 }), (mix, top) => {
      const prepared = ready(mix);
      const grid = wholeGrid(mix, 240, 150);
      const whole = render(prepared, grid);
      const backwards = Array.from({ length: 150 }, (_, k) => 149 - k);
      expect(Buffer.compare(render(prepared, grid, { keep: newKeep(), grid: 'g', working: 'p0' }, backwards), whole)).toBe(0);
      const rows = 40;
      const part: OutputGrid = { width: 240, height: rows, toOutput: [grid.toOutput[0], 0, grid.toOutput[2], 0, grid.toOutput[4], grid.toOutput[5] + top * grid.toOutput[4], 0, 0, 1] };
      const inWhole = whole.subarray(top * 240 * 3, (top + rows) * 240 * 3);
      const seen = render(prepared, part);
      let worst = 0;
      for (let i = 0; i < seen.length; i++) worst = Math.max(worst, Math.abs(seen[i] - inWhole[i]));
      // Positions of rows are sums that round in their last bit.
      expect(worst).toBeLessThanOrEqual(1);
    }), runs);
  });
  test('three levels agree after bringing them to one scale', () => {
    fc.assert(fc.property(mixes, (mix) => {
      const prepared = ready(mix);
      const [width, height] = [mix.width / 4, mix.height / 4];
      /** A level, as the mean of its pixels within each pixel of the smallest. */
      const level = (k: number): Float64Array => {
        const from = render(prepared, wholeGrid(mix, width * k, height * k));
        const out = new Float64Array(width * height * 3);
        for (let y = 0; y < height * k; y++) for (let x = 0; x < width * k; x++) for (let c = 0; c < 3; c++) out[(Math.floor(y / k) * width + Math.floor(x / k)) * 3 + c] += from[(y * width * k + x) * 3 + c] / (k * k);
        return out;
      };
      const [full, half] = [level(4), level(2)];
      let sum = 0;
      let far = 0;
      full.forEach((v, i) => ((sum += Math.abs(v - half[i])), (far += Math.abs(v - half[i]) > 6 ? 1 : 0)));
      // Differences and tonal ranges look at single pixels, which are others at another size: at edges, not on surfaces.
      expect(sum / full.length).toBeLessThan(1.2);
      expect(far / full.length).toBeLessThan(0.06);
    }), runs);
  });
});

describe('bundles', () => {
  const source = (id: string, frame: string, more: object = {}): Pass => ({ id, name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], ...more });
  const bundle = (id: string, more: object = {}): Pass => ({ id, name: '', within: null, why: '', kind: 'bundle', mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], ...more });
  const adjust = (id: string, more: object = {}): Pass => ({ id, name: '', within: null, why: '', kind: 'adjust', contrast: 1, curve: [], tied: false, highlights: 0, shadows: 0, saturation: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], ...more });
  const mixOf = (...passes: Pass[]): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: Object.fromEntries(IDS.map((id, k) => [id, use(k)])), merge: ['a'], passes });
  const seen = (...passes: Pass[]): Uint8Array => { const mix = mixOf(...passes); return render(ready(mix), wholeGrid(mix, 240, 160)); };
  const same = (a: Uint8Array, b: Uint8Array): void => expect(Math.max(...a.map((v, i) => Math.abs(v - b[i])))).toBeLessThanOrEqual(1);
  const ramp: Area = { id: 'r', kind: 'ramp', join: 'add', inverted: false, from: [0.2, 0.2], to: [0.8, 0.3] };
  const low: Area = { id: 'l', kind: 'ramp', join: 'add', inverted: false, from: [0.5, 0], to: [0.5, 0.6] };

  test('a bundle of normal passes, whole, is what its passes are without it; and nothing where they cover nothing', () => {
    const [a, b] = [source('b', 'b', { mask: [ramp] }), source('c', 'c', { opacity: 0.4, mask: [low] })];
    same(seen(source('under', 'a'), { ...a, within: 'g' }, { ...b, within: 'g' }, bundle('g')), seen(source('under', 'a'), a, b));
    same(seen(source('under', 'a'), { ...a, within: 'h' }, bundle('h', { within: 'g' }), { ...b, within: 'g' }, bundle('g')), seen(source('under', 'a'), a, b));
  });
  test('opacity, mask and mode of a bundle act on what it holds as one', () => {
    const [a, b] = [source('b', 'b', { mask: [ramp] }), source('c', 'a', { exposure: -1.5 })];
    // The upper one hides the lower one within: so it does at half the bundle's opacity.
    same(seen(source('under', 'a'), { ...a, within: 'g' }, { ...b, within: 'g' }, bundle('g', { opacity: 0.5, mask: [low], mode: 'multiply' })), seen(source('under', 'a'), { ...b, opacity: 0.5, mask: [low], mode: 'multiply' } as Pass));
  });
  test('what is below, within a bundle, is the picture so far; a pass with a mode meets only its own bundle', () => {
    same(seen(source('under', 'a'), source('below', 'b', { within: 'g', source: { kind: 'below' }, exposure: 0.5 }), bundle('g')), seen(source('under', 'a', { exposure: 0.5 })));
    same(seen(source('under', 'a'), source('m', 'b', { within: 'g', mode: 'multiply' }), bundle('g')), seen(source('under', 'a'), source('m', 'b')));
  });
  test('a tied pass changes its host alone, under its own mask; one that is not tied changes all below', () => {
    const half = source('b', 'b', { opacity: 0.5 });
    same(seen(source('under', 'a'), half, adjust('t', { tied: true, exposure: 1 })), seen(source('under', 'a'), { ...half, exposure: 1 }));
    same(seen(source('under', 'a'), { ...half, within: 'g' }, bundle('g'), adjust('t', { tied: true, exposure: 1 })), seen(source('under', 'a'), { ...half, exposure: 1 }));
    expect(Buffer.compare(seen(source('under', 'a'), half, adjust('t', { exposure: 1 })), seen(source('under', 'a'), { ...half, exposure: 1 }))).not.toBe(0);
    // Without its host it is nothing, and so is a bundle in which nothing is to be seen.
    same(seen(source('under', 'a'), { ...half, on: false }, adjust('t', { tied: true, exposure: 1 })), seen(source('under', 'a')));
    same(seen(source('under', 'a'), { ...half, on: false, within: 'g' }, bundle('g'), adjust('t', { tied: true, exposure: 1 })), seen(source('under', 'a')));
  });
  test('tones of a tied pass, of a pass in a bundle, and of all below are worked out on what each of them changes', () => {
    const tone = { highlights: -1, shadows: 0.5 };
    same(seen(source('under', 'a'), source('b', 'b', { opacity: 0.5 }), adjust('t', { tied: true, ...tone })), seen(source('under', 'a'), source('b', 'b', { within: 'g' }), adjust('t', { within: 'g', ...tone }), bundle('g', { opacity: 0.5 })));
    same(seen(source('b', 'b'), adjust('t', { ...tone })), seen(source('b', 'b', { within: 'g' }), adjust('t', { within: 'g', ...tone }), bundle('g')));
  });
  test('a linked mask is the mask of the other pass, whatever becomes of that', () => {
    const other = source('b', 'b', { on: false, mask: [ramp, { ...low, join: 'subtract' }] });
    const linked: Area = { id: 's', kind: 'same', join: 'add', inverted: true, pass: 'b' };
    const copied = [{ ...ramp }, { ...low, join: 'subtract' }] as Area[];
    const inverse = seen(source('under', 'a'), other, source('c', 'a', { exposure: -1, mask: [linked] }));
    same(inverse, seen(source('under', 'a', { exposure: -1 }), source('c', 'a', { mask: copied })));
  });
});

test('a place of the picture is told by the passes that it comes from', () => {
  const source = (id: string, frame: string, more: object = {}): Pass => ({ id, name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], ...more });
  const half: Area = { id: 'h', kind: 'box', join: 'add', inverted: false, corners: [[0, 0], [0.5, 0], [0.5, 1], [0, 1]], softness: 0 };
  const passes = [source('under', 'a'), source('b', 'b', { mask: [half], within: 'g' }), { ...source('g', 'a'), kind: 'bundle' } as unknown as Pass, source('hidden', 'c', { opacity: 0 })];
  const { source: _, alignment: __, ...bundle } = passes[2] as never as Record<string, unknown>;
  const mix: Mix = { reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: Object.fromEntries(IDS.map((id, k) => [id, use(k)])), merge: ['a'], passes: [passes[0], passes[1], bundle as unknown as Pass, passes[3]] };
  const prepared = ready(mix);
  const mark = sourceArena.mark();
  const at = (x: number, y: number, pass: string | null) => probeMix({ kernels, arena: sourceArena }, prepared, pixelsIn, [x, y], 1, pass);
  const picture = render(prepared, wholeGrid(mix, W, H));
  for (const [x, y] of [[90, 100], [400, 120]]) {
    const told = at(x, y, null);
    const mean = [0, 1, 2].map((c) => Array.from({ length: 25 }, (_, k) => picture[((y - 2 + Math.floor(k / 5)) * W + x - 2 + (k % 5)) * 3 + c]).reduce((sum, v) => sum + v, 0) / 25);
    told.delivered.forEach((v, c) => expect(Math.abs(v - mean[c])).toBeLessThan(4));
    expect(told.shares.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 6);
  }
  // Where a bundle covers all, nothing of what lies under it is seen; where it covers nothing, all is.
  expect(at(90, 100, null).shares.map(({ pass }) => pass).sort()).toEqual(['b', 'g']);
  expect(at(400, 120, null).shares.map(({ pass }) => pass)).toEqual(['under']);
  // The map says the same of every place.
  const map = contributionMap({ kernels, arena: sourceArena }, prepared, pixelsIn, 30, 20);
  const cell = (x: number, y: number): string => map.passes[map.cells[Math.floor((y / H) * 20) * 30 + Math.floor((x / W) * 30)]];
  expect(cell(90, 100)).toBe('g');
  expect(cell(400, 120)).toBe('under');
  const face = maskFaces({ kernels, arena: sourceArena }, prepared, pixelsIn, 30, 20);
  expect([...face.keys()]).toEqual(['b']);
  expect([face.get('b')![10 * 30 + 5], face.get('b')![10 * 30 + 25]]).toEqual([255, 0]);
  const { below, own } = at(90, 100, 'g');
  // What lies below a bundle as its passes end is what they made.
  expect(below).toEqual(own);
  expect(at(400, 120, 'b').own).not.toEqual(at(400, 120, 'under').own);
  own!.forEach((v, c) => expect(v).toBeCloseTo(at(90, 100, null).light[c], 5));
  sourceArena.release(mark);
});

describe('borders', () => {
  const mixWith = (area: Area): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use(0) }, merge: ['a'], passes: [{ id: 'p', name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [area], exposure: 0, balance: [1, 1, 1] }] });
  const covered = (area: Area): number => readyMix(tools, mixWith(area), FOUND, PICTURES, (level, prepared) => level.mask(prepared, 0)).result.data.reduce((sum, v) => sum + v, 0);
  const spot = (grow: number, soften: number): Area => ({ id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.33], rim: [0.6, 0.33], ratio: 1, softness: 0, border: { grow, soften, snap: null } });

  test('an area grows and shrinks by the distance said, and softening keeps how much it covers', () => {
    const disc = (r: number): number => Math.PI * (r * W) ** 2;
    for (const grow of [-0.04, -0.01, 0.02, 0.05]) expect(covered(spot(grow, 0)) / disc(0.1 + grow)).toBeCloseTo(1, 1.3);
    expect(covered(spot(0, 0.03)) / disc(0.1)).toBeCloseTo(1, 1.5);
  });
});

describe('painted areas', () => {
  const mixWith = (mask: readonly Area[], geometry: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1]): Mix => ({
    reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry, width: W, height: H, frames: { a: use(0) }, merge: ['a'],
    passes: [{ id: 'p', name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask, exposure: 0, balance: [1, 1, 1] }],
  });
  const coverage = (mix: Mix, grid: OutputGrid, kept: Keep | null = null): Float32Array => {
    const mark = sourceArena.mark();
    kept?.begin();
    const placed = placeMix(prepareMix(mix, FOUND), pixelsIn, grid, sourceArena, kept && { keeper: kept, grid: 'g', working: null });
    const start = sourceArena.take(placedBytes(placed));
    const renderer = new RowRenderer(kernels, new Arena(kernels.memory.buffer, start, start + placedBytes(placed)), placed);
    const out = new Float32Array(grid.width * grid.height);
    for (let y = 0; y < grid.height; y++) out.set(sourceArena.floats(renderer.maskRow(0, y), grid.width), y * grid.width);
    sourceArena.release(mark);
    return out;
  };
  const brush = (strokes: Extract<Area, { kind: 'brush' }>['strokes']): Area => ({ id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes });
  const dab = (x: number, y: number, more: object = {}) => ({ points: [[x / W, y / W]] as const, radius: 0.05, softness: 1, strength: 1, reveal: true, ...more });

  test('a dab lies where it was painted on every grid, through crop and perspective: within a tenth of a pixel of the reference', () => {
    const [x, y] = [201, 143];
    for (const geometry of [[1, 0, 0, 0, 1, 0, 0, 0, 1], [0.98, 0.02, 9, -0.01, 0.97, 6, 1e-5, 2e-5, 1]] as Homography[]) {
      for (const width of [120, 240, 480, 960]) {
        const grid = wholeGrid({ width: W, height: H }, width, (width * 2) / 3);
        const data = coverage(mixWith([brush([dab(x, y)])], geometry), grid);
        let [sum, sx, sy] = [0, 0, 0];
        data.forEach((v, i) => ((sum += v), (sx += v * (i % width)), (sy += v * Math.floor(i / width))));
        const [ox, oy] = mapPoint(invert(geometry), x, y);
        const k = W / width;
        // Perspective moves the middle of a disc a little from where its centre goes.
        const tolerance = geometry[6] === 0 ? 0.1 : 0.4;
        expect(Math.abs((sx / sum + 0.5) * k - 0.5 - ox)).toBeLessThan(tolerance);
        expect(Math.abs((sy / sum + 0.5) * k - 0.5 - oy)).toBeLessThan(tolerance);
      }
    }
  });
  test('a spot lies where it was drawn on every grid, as long and as broad as drawn, and its rim is soft as said', () => {
    const spot = (softness: number): Area => ({ id: 'spot', kind: 'spot', join: 'add', inverted: false, at: [200 / W, 150 / W], rim: [260 / W, 150 / W], ratio: 0.5, softness });
    for (const width of [120, 480, 960]) {
      const grid = wholeGrid({ width: W, height: H }, width, (width * 2) / 3);
      const data = coverage(mixWith([spot(0)]), grid);
      const k = W / width;
      const at = (x: number, y: number): number => data[Math.round((y + 0.5) / k - 0.5) * width + Math.round((x + 0.5) / k - 0.5)];
      expect([at(200, 150), at(250, 150), at(200, 172), at(272, 150), at(200, 188)].map(Math.round)).toEqual([1, 1, 1, 0, 0]);
      // The ellipse's own area, whatever the grid.
      expect(data.reduce((sum, v) => sum + v, 0) * k * k).toBeCloseTo(Math.PI * 60 * 30, -2);
    }
    const row = coverage(mixWith([spot(0.5)]), wholeGrid({ width: W, height: H }, W, H)).subarray(150 * W, 151 * W);
    // Half covered in the middle of the soft half of the radius.
    expect(row[200 + 45]).toBeCloseTo(0.5, 1);
    expect(row[200 + 28]).toBe(1);
  });
  test('an outline of four bent segments is the circle that it stands for, on every grid, with an edge as sharp as pixels', () => {
    const [x, y, r] = [240, 160, 90];
    const bend = 0.5522847498 * r;
    const node = (dx: number, dy: number) => ({ at: [(x + dx * r) / W, (y + dy * r) / W] as const, before: [(x + dx * r + dy * bend) / W, (y + dy * r - dx * bend) / W] as const, after: [(x + dx * r - dy * bend) / W, (y + dy * r + dx * bend) / W] as const });
    const circle: Area = { id: 'o', kind: 'outline', join: 'add', inverted: false, softness: 0, rings: [[node(1, 0), node(0, 1), node(-1, 0), node(0, -1)]] };
    for (const width of [120, 480, 960]) {
      const k = W / width;
      const data = coverage(mixWith([circle]), wholeGrid({ width: W, height: H }, width, (width * 2) / 3));
      expect(Math.abs((data.reduce((sum, v) => sum + v, 0) * k * k) / (Math.PI * r * r) - 1)).toBeLessThan(0.003);
      const row = data.subarray(Math.round(160 / k) * width, (Math.round(160 / k) + 1) * width);
      expect(row.filter((v) => v > 0.02 && v < 0.98).length).toBeLessThanOrEqual(4);
    }
  });
  test('an edge is as sharp as the brush says: at full size two pixels, however small the screen was', () => {
    const data = coverage(mixWith([brush([dab(240, 160, { softness: 0, radius: 0.1 })])]), wholeGrid({ width: W, height: H }, 960, 640));
    const row = data.subarray(320 * 960, 321 * 960);
    expect(row.filter((v) => v > 0.02 && v < 0.98).length).toBeLessThanOrEqual(4);
    expect(row[480]).toBe(1);
  });
  test('a pen that presses less paints less, along one stroke', () => {
    const points = [[100 / W, 150 / H * (H / W)], [380 / W, 150 / H * (H / W)]] as const;
    const grid = wholeGrid({ width: W, height: H }, W, H);
    const data = coverage(mixWith([brush([{ points: [points[0], [240 / W, points[0][1]], points[1]], pressures: [0.2, 0.2, 1], radius: 0.03, softness: 0, strength: 0.8, reveal: true }])]), grid);
    const at = (x: number): number => data[150 * W + x];
    expect(at(160)).toBeCloseTo(0.16, 2);
    expect(at(320)).toBeCloseTo(0.48, 2);
  });
  test('hiding takes away what was revealed, in order; strength is the most that is covered', () => {
    const grid = wholeGrid({ width: W, height: H }, W, H);
    const at = 160 * W + 240;
    const [reveal, hide] = [dab(240, 160, { softness: 0, radius: 0.1 }), dab(240, 160, { softness: 0, radius: 0.03, reveal: false })];
    expect(coverage(mixWith([brush([reveal, hide])]), grid)[at]).toBe(0);
    expect(coverage(mixWith([brush([hide, reveal])]), grid)[at]).toBe(1);
    const twice = { ...dab(240, 160, { softness: 0, strength: 0.4 }), points: [[230 / W, 160 / W], [250 / W, 160 / W], [235 / W, 160 / W]] as const };
    expect(coverage(mixWith([brush([twice])]), grid)[at]).toBeCloseTo(0.4, 5);
  });
  test('a stroke after a stroke starts from what was kept, and looks as if all were painted at once', () => {
    const keep = newKeep();
    const grid = wholeGrid({ width: W, height: H }, 300, 200);
    const strokes: ReturnType<typeof dab>[] = [];
    for (let k = 0; k < 6; k++) {
      strokes.push(dab(60 + 60 * k, 100 + 20 * (k % 3), { reveal: k % 3 !== 2, strength: 0.7 }));
      const mix = mixWith([brush([...strokes])]);
      expect(coverage(mix, grid, keep)).toEqual(coverage(mix, grid));
    }
  });
  test('a ramp rises from 0 to 1 along its line, is half way at its half, and does not change across it', () => {
    const data = coverage(mixWith([{ id: 'ramp', kind: 'ramp', join: 'add', inverted: false, from: [100 / W, 0], to: [301 / W, 0] }]), wholeGrid({ width: W, height: H }, 240, 160));
    expect([data[40], data[160]]).toEqual([0, 1]);
    for (let x = 1; x < 240; x++) expect(data[x]).toBeGreaterThanOrEqual(data[x - 1]);
    const middle = data.findIndex((v) => v >= 0.5);
    const part = (0.5 - data[middle - 1]) / (data[middle] - data[middle - 1]);
    expect(Math.abs((middle - 1 + part + 0.5) * 2 - 0.5 - 200.5)).toBeLessThan(0.2);
    expect(data[100]).toBeCloseTo(data[159 * 240 + 100], 5);
  });
});

describe('room in kernel memory', () => {
  test('pieces never overlap, and all of it can be had again', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 5000 }), fc.nat()), { maxLength: 80 }), (moves) => {
      const heap = new Heap(64, 64 + 65536);
      const taken: { at: number; bytes: number }[] = [];
      for (const [bytes, pick] of moves) {
        if (pick % 3 === 0 && taken.length > 0) heap.give(taken.splice(pick % taken.length, 1)[0].at);
        const at = heap.take(bytes);
        if (at === null) continue;
        expect(at % 64).toBe(0);
        for (const other of taken) expect(at + bytes <= other.at || other.at + other.bytes <= at).toBe(true);
        taken.push({ at, bytes });
      }
      taken.forEach(({ at }) => heap.give(at));
      expect(heap.used).toBe(0);
      expect(heap.take(65536 - 64)).toBe(64);
    }));
  });
});
