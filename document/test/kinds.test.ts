import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { areaWithin, followedBy, framesOfPass, movedArea, usesMerge, type Area, type FillPass, type Pass, type PixelsOf, type Point } from '../src/index';
import { AREAS, framesOfArea } from '../src/area/areas';
import { areaSchema } from '../src/area/areaSchema';
import { namedBy, PASSES, passSchema } from '../src/pass/passes';

/*
 * What every kind of area and pass must hold, whichever it is: a new kind is tested by being added here.
 */

const point: fc.Arbitrary<Point> = fc.tuple(fc.double({ min: -1, max: 2, noNaN: true }), fc.double({ min: -1, max: 2, noNaN: true }));
const unit = fc.double({ min: 0, max: 1, noNaN: true });
const frame = fc.constantFrom('f1', 'f2', 'f3');
const pixels: fc.Arbitrary<PixelsOf> = fc.oneof(fc.constant({ kind: 'below' as const }), frame.map((f) => ({ kind: 'frame' as const, frame: f })));
const base = { id: fc.constantFrom('a', 'b'), join: fc.constantFrom('add' as const, 'subtract' as const, 'intersect' as const), inverted: fc.boolean() };
const stroke = fc.record({ points: fc.array(point, { minLength: 1, maxLength: 5 }), radius: fc.double({ min: 0.001, max: 0.5, noNaN: true }), softness: unit, strength: unit, reveal: fc.boolean() });

const areas: { readonly [K in keyof typeof AREAS]: fc.Arbitrary<Extract<Area, { kind: K }>> } = {
  brush: fc.record({ ...base, kind: fc.constant('brush' as const), strokes: fc.array(stroke, { maxLength: 3 }) }),
  ramp: fc.record({ ...base, kind: fc.constant('ramp' as const), from: point, to: point }),
  outline: fc.record({ ...base, kind: fc.constant('outline' as const), softness: unit, rings: fc.array(fc.array(fc.record({ at: point, before: fc.option(point), after: fc.option(point) }), { minLength: 3, maxLength: 6 }), { minLength: 1, maxLength: 3 }) }),
  box: fc.record({ ...base, kind: fc.constant('box' as const), corners: fc.tuple(point, point, point, point), softness: unit }),
  spot: fc.record({ ...base, kind: fc.constant('spot' as const), at: point, rim: point, ratio: fc.double({ min: 0.1, max: 10, noNaN: true }), softness: unit }),
  tones: fc.record({ ...base, kind: fc.constant('tones' as const), of: pixels, from: fc.constant(-3), to: fc.constant(2), softness: unit }),
  channel: fc.record({ ...base, kind: fc.constant('channel' as const), of: pixels, component: fc.constantFrom('red' as const, 'green' as const, 'blue' as const, 'luminance' as const), from: unit, to: unit }),
  hues: fc.record({ ...base, kind: fc.constant('hues' as const), of: pixels, hue: fc.constant(200), width: fc.constant(30), softness: fc.constant(10), chroma: fc.constant(0.05) }),
  same: fc.record({ ...base, kind: fc.constant('same' as const), pass: fc.constantFrom('q', 'r') }),
  found: fc.oneof(
    fc.record({ ...base, kind: fc.constant('found' as const), what: fc.constantFrom('glass' as const, 'before' as const, 'sky' as const), edge: frame }),
    fc.record({ ...base, kind: fc.constant('found' as const), what: fc.constant('lit' as const), frame, among: fc.uniqueArray(frame) }),
  ),
};
const kinds = Object.keys(AREAS) as (keyof typeof AREAS)[];
const anyArea = fc.oneof(...kinds.map((kind) => areas[kind] as fc.Arbitrary<Area>));

const passBase = { id: fc.constant('p'), within: fc.constantFrom(null, 'g'), name: fc.string({ maxLength: 20 }).filter((s) => !/\p{Cs}|\0/u.test(s) && s.length > 0), why: fc.constant(''), on: fc.boolean(), opacity: unit, mask: fc.array(anyArea, { maxLength: 3 }), exposure: fc.double({ min: -6, max: 6, noNaN: true }), balance: fc.constant([1, 1, 1] as const) };
const source = fc.oneof(fc.constant({ kind: 'merge' as const }), frame.map((f) => ({ kind: 'frame' as const, frame: f })), frame.map((f) => ({ kind: 'flash' as const, frame: f })), fc.constantFrom(['a', 'b'], ['b', 'a']).map(([f, without]) => ({ kind: 'switched' as const, frame: f, without })));
const sourced = (kind: 'light' | 'view' | 'inset'): fc.Arbitrary<Pass> => fc.record({ ...passBase, kind: fc.constant(kind), source, alignment: fc.constant(null), mode: fc.constant('normal' as const), brightness: unit, colour: unit });
const blending = { mode: fc.constant('normal' as const), brightness: unit, colour: unit };
const tone = fc.tuple(unit, unit, unit);
const ramp: fc.Arbitrary<FillPass['ramp']> = fc.option(fc.record({ from: point, to: point, tone }));
const passes: { readonly [K in keyof typeof PASSES]: fc.Arbitrary<Pass> } = {
  light: sourced('light'), view: sourced('view'), inset: sourced('inset'),
  bundle: fc.record({ ...passBase, ...blending, kind: fc.constant('bundle' as const) }),
  fill: fc.record({ ...passBase, ...blending, kind: fc.constant('fill' as const), tone, ramp, around: fc.boolean() }),
  heal: fc.record({ ...passBase, ...blending, kind: fc.constant('heal' as const), softness: unit, matched: fc.boolean(), patches: fc.array(fc.record({ to: fc.tuple(point, point, point, point), from: fc.tuple(point, point, point, point), gains: fc.constantFrom([1, 1, 1] as const, [0.8, 1, 1.2] as const), rings: fc.array(fc.array(point, { minLength: 3, maxLength: 5 }), { maxLength: 2 }) }), { minLength: 1, maxLength: 3 }) }),
  adjust: fc.record({ ...passBase, kind: fc.constant('adjust' as const), contrast: fc.double({ min: 0.5, max: 2, noNaN: true }), curve: fc.constantFrom([], [[-2, 1], [0, 0.5]] as const), tied: fc.boolean(), highlights: fc.constant(-1), shadows: fc.constant(1), saturation: fc.constant(1) }),
};

const accepts = (schema: typeof areaSchema, value: unknown): boolean => schema.validate(value, { convert: false }).error === undefined;

describe.each(kinds)('an area of kind %s', (kind) => {
  const arbitrary = areas[kind] as fc.Arbitrary<Area>;
  test('is taken as it is; with any field missing, of another type, or one too many it is refused', () => {
    fc.assert(fc.property(arbitrary, (area) => {
      expect(accepts(areaSchema, area)).toBe(true);
      for (const key of Object.keys(area)) {
        const { [key as keyof Area]: _, ...rest } = area;
        expect(accepts(areaSchema, rest), `without ${key}`).toBe(false);
        expect(accepts(areaSchema, { ...area, [key]: { odd: true } }), `odd ${key}`).toBe(false);
      }
      expect(accepts(areaSchema, { ...area, more: 1 })).toBe(false);
      expect(accepts(areaSchema, { ...area, kind: 'nonsense' })).toBe(false);
    }));
  });
  test('moves to another reference and back: to where it was, with lengths as they were', () => {
    fc.assert(fc.property(arbitrary, point, fc.double({ min: 0.5, max: 2, noNaN: true }), (area, [dx, dy], scale) => {
      const there = movedArea(area, { place: ([x, y]) => [x * scale + dx, y * scale + dy], scale });
      expect(accepts(areaSchema, { ...there, kind })).toBe(accepts(areaSchema, there));
      const back = movedArea(there, { place: ([x, y]) => [(x - dx) / scale, (y - dy) / scale], scale: 1 / scale });
      const numbers = (value: unknown): number[] => (typeof value === 'number' ? [value] : typeof value === 'object' && value !== null ? Object.values(value).flatMap(numbers) : []);
      const [a, b] = [numbers(area), numbers(back)];
      expect(b).toHaveLength(a.length);
      a.forEach((v, i) => expect(b[i]).toBeCloseTo(v, 9));
      expect(movedArea(area, { place: (p) => p, scale: 1 })).toEqual(area);
    }));
  });
  test('names the frames that it follows, and without some of its frames names none that is not there', () => {
    fc.assert(fc.property(arbitrary, fc.subarray(['f1', 'f2', 'f3']), (area, held) => {
      const named = framesOfArea(area);
      for (const followed of followedBy(area)) expect(named).toContain(followed);
      expect(areaWithin(area, () => true)).toEqual(area);
      // What an area cannot be without stays named: such an area is not offered at all.
      const left = framesOfArea(areaWithin(area, (id) => held.includes(id)));
      for (const id of left) expect(named).toContain(id);
      if (area.kind === 'found' && area.what === 'lit') expect(left.slice(1).every((id) => held.includes(id))).toBe(true);
    }));
  });
});

describe.each(Object.keys(PASSES) as (keyof typeof PASSES)[])('a pass of kind %s', (kind) => {
  test('is taken as it is; with a field missing or one too many it is refused', () => {
    fc.assert(fc.property(passes[kind], (pass) => {
      expect(accepts(passSchema, pass)).toBe(true);
      for (const key of Object.keys(pass)) {
        const { [key as keyof Pass]: _, ...rest } = pass;
        expect(accepts(passSchema, rest), `without ${key}`).toBe(false);
      }
      expect(accepts(passSchema, { ...pass, more: 1 })).toBe(false);
    }), { numRuns: 40 });
  });
  test('needs the frames of its source and those that its mask follows, and the merge’s where it uses that', () => {
    fc.assert(fc.property(passes[kind], (pass) => {
      const merge = ['m1', 'm2'];
      const needed = framesOfPass({ merge, passes: [] }, pass);
      expect(new Set(needed).size).toBe(needed.length);
      expect(merge.every((id) => needed.includes(id))).toBe(usesMerge(pass));
      const { source: own, mask } = namedBy(pass);
      for (const id of own) expect(needed).toContain(id);
      for (const id of needed) expect([...merge, ...own, ...mask]).toContain(id);
    }));
  });
});
