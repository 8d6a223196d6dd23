import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, checkWhole, collide, commandSchema, CURRENT_VERSION, InvalidMix, touchedPaths, type Area, type Command, type Matrix3, type MixDocument, type Pass, type Stroke } from '../src/index';

/*
 * Edits that go past each other: which can, and that they mean the same in either order; and maps that nobody wishes for.
 */

const stroke = (k: number): Stroke => ({ points: [[k / 10, 0.2], [k / 10, 0.4]], radius: 0.05, softness: 0.5, strength: 1, reveal: true });
const brush = (id: string, strokes: readonly Stroke[] = []): Area => ({ id, kind: 'brush', join: 'add', inverted: false, strokes });
const pass = (id: string): Pass => ({ id, name: id, within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [brush('m', [stroke(1)])], exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: 'f1' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null, stops: 0, balance: [1, 1, 1] as const };
const start: MixDocument = {
  version: CURRENT_VERSION, reference: 'f1', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000,
  frames: { f1: use, f2: use }, merge: ['f1'], passes: [pass('a'), pass('b'), pass('c')],
};

const id = fc.constantFrom('a', 'b', 'c');
const single: fc.Arbitrary<Command> = fc.oneof(
  fc.record({ kind: fc.constant('changePass' as const), id, changes: fc.record({ exposure: fc.integer({ min: -3, max: 3 }), opacity: fc.constantFrom(0.2, 0.8), on: fc.boolean() }, { requiredKeys: ['on'] }) }),
  fc.record({ kind: fc.constant('addStroke' as const), pass: id, area: fc.constant('m'), stroke: fc.integer({ min: 1, max: 9 }).map(stroke) }),
  fc.record({ kind: fc.constant('removeStroke' as const), pass: id, area: fc.constant('m'), index: fc.constant(0) }),
  fc.record({ kind: fc.constant('addArea' as const), pass: id, area: fc.constantFrom('n', 'o').map((n) => brush(n)), index: fc.constant(9) }),
  fc.record({ kind: fc.constant('removeArea' as const), pass: id, area: fc.constant('m') }),
  fc.record({ kind: fc.constant('removePass' as const), id }),
  fc.record({ kind: fc.constant('movePass' as const), id, index: fc.integer({ min: 0, max: 3 }) }),
  fc.record({ kind: fc.constant('changeFrame' as const), id: fc.constantFrom('f1', 'f2'), changes: fc.record({ stops: fc.integer({ min: -3, max: 3 }) }) }),
  fc.constant<Command>({ kind: 'changeMix', changes: { response: [0.1] } }),
);
const command: fc.Arbitrary<Command> = fc.oneof({ weight: 4, arbitrary: single }, { weight: 1, arbitrary: fc.array(single, { minLength: 1, maxLength: 3 }).map((commands): Command => ({ kind: 'several', commands })) });

const applied = (document: MixDocument, ...list: Command[]): MixDocument | null => {
  try {
    return list.reduce((d, c) => applyCommand(d, c).document, document);
  } catch (error) {
    expect(error).toBeInstanceOf(InvalidMix);
    return null;
  }
};
/** Strokes that were added by both come in the order of coming; everything else must be the same. */
const unordered = (document: MixDocument): unknown => ({ ...document, passes: document.passes.map((p) => ({ ...p, mask: p.mask.map((a) => (a.kind === 'brush' ? { ...a, strokes: a.strokes.map((s) => JSON.stringify(s)).sort() } : a)).sort((x, y) => x.id.localeCompare(y.id)) })) });

describe('edits that go past each other', () => {
  test('two that do not collide mean the same in either order', () => {
    let compared = 0;
    fc.assert(fc.property(command, command, (one, other) => {
      if (collide(touchedPaths(one), touchedPaths(other))) return;
      const [first, second] = [applied(start, one, other), applied(start, other, one)];
      if (!first || !second) return;
      compared++;
      expect(unordered(first)).toEqual(unordered(second));
    }), { numRuns: 600 });
    expect(compared).toBeGreaterThan(50);
  });
  test.each<[string, Command, Command, boolean]>([
    ['strokes of one area', { kind: 'addStroke', pass: 'a', area: 'm', stroke: stroke(1) }, { kind: 'addStroke', pass: 'a', area: 'm', stroke: stroke(2) }, false],
    ['a stroke, and the whole mask', { kind: 'addStroke', pass: 'a', area: 'm', stroke: stroke(1) }, { kind: 'changePass', id: 'a', changes: { mask: [] } }, true],
    ['a stroke, and its pass going', { kind: 'addStroke', pass: 'a', area: 'm', stroke: stroke(1) }, { kind: 'removePass', id: 'a' }, true],
    ['two values of one pass', { kind: 'changePass', id: 'a', changes: { exposure: 1 } }, { kind: 'changePass', id: 'a', changes: { opacity: 0.5 } }, false],
    ['one value twice', { kind: 'changePass', id: 'a', changes: { exposure: 1 } }, { kind: 'changePass', id: 'a', changes: { exposure: 2 } }, true],
    ['passes whose names begin alike', { kind: 'changePass', id: 'a', changes: { exposure: 1 } }, { kind: 'removePass', id: 'ab' }, false],
    ['another reference, and anything', { kind: 'changeMix', changes: { frames: {}, passes: [] } }, { kind: 'changeFrame', id: 'f2', changes: { stops: 1 } }, true],
  ])('%s', (_, one, other, expected) => {
    expect(collide(touchedPaths(one), touchedPaths(other))).toBe(expected);
    expect(collide(touchedPaths(other), touchedPaths(one))).toBe(expected);
  });
  test('any run of edits, strokes and areas and several at once too, is undone step by step, and its inverses come over the wire', () => {
    fc.assert(fc.property(fc.array(command, { maxLength: 15 }), (list) => {
      const states = [start];
      const inverses: Command[] = [];
      for (const each of list) {
        expect(commandSchema.validate(each).error).toBeUndefined();
        try {
          const { document, inverse } = applyCommand(states[states.length - 1], each);
          states.push(document);
          inverses.push(inverse);
        } catch (error) {
          expect(error).toBeInstanceOf(InvalidMix);
        }
      }
      let document = states[states.length - 1];
      checkWhole(document);
      for (let k = inverses.length - 1; k >= 0; k--) {
        expect(commandSchema.validate(inverses[k], { convert: false }).error).toBeUndefined();
        document = applyCommand(document, inverses[k]).document;
        expect(document).toEqual(states[k]);
      }
    }));
  });
  test('a further stroke is checked by itself: nothing of a large document is looked through', () => {
    const bad = { ...stroke(1), points: [[NaN, 0]] } as unknown as Stroke;
    expect(() => applyCommand(start, { kind: 'addStroke', pass: 'a', area: 'm', stroke: bad })).toThrow(InvalidMix);
    const many = { ...start, passes: [{ ...start.passes[0], mask: [brush('m', Array.from({ length: 4000 }, (_, k) => ({ ...stroke(k % 9), points: Array.from({ length: 100 }, (_, i) => [i / 100, 0.3] as const) })))] }] } as MixDocument;
    expect(() => applyCommand(many, { kind: 'addStroke', pass: 'a', area: 'm', stroke: stroke(2) })).not.toThrow();
    expect(() => applyCommand(many, { kind: 'addStroke', pass: 'a', area: 'nowhere', stroke: stroke(2) })).toThrow(/no such area/);
  });
});

describe('maps', () => {
  const align = (map: Matrix3): Command => ({ kind: 'changeFrame', id: 'f2', changes: { homography: map } });
  const small = fc.tuple(...[0.1, 0.1, 200, 0.1, 0.1, 200, 5e-5, 5e-5].map((m) => fc.double({ min: -m, max: m, noNaN: true }))).map((d) => [1 + d[0], d[1], d[2], d[3], 1 + d[4], d[5], d[6], d[7], 1] as unknown as Matrix3);
  test('those that a hand or a camera makes are taken', () => {
    fc.assert(fc.property(small, (map) => void applyCommand(start, align(map))));
    applyCommand(start, { kind: 'changeMix', changes: { geometry: [0.5, 0, 300, 0, 0.5, 200, 0, 0, 1], width: 800, height: 600 } });
  });
  test.each<[string, Matrix3]>([
    ['nothing', [0, 0, 0, 0, 0, 0, 0, 0, 0]], ['no numbers', [NaN, 0, 0, 0, 1, 0, 0, 0, 1]], ['mirrored', [-1, 0, 1500, 0, 1, 0, 0, 0, 1]], ['folded over', [1, 0, 0, 0, 1, 0, 0, -0.002, 1]],
    ['far away', [1, 0, 90000, 0, 1, 0, 0, 0, 1]], ['a point', [1e-4, 0, 0, 0, 1e-4, 0, 0, 0, 1]], ['endless', [1e300, 0, 0, 0, 1e300, 0, 0, 0, 1e-300]],
  ])('%s is refused, for a frame, a pass and the picture', (_, map) => {
    expect(() => applyCommand(start, align(map))).toThrow(InvalidMix);
    expect(() => applyCommand(start, { kind: 'changePass', id: 'a', changes: { source: { kind: 'frame', frame: 'f2' }, alignment: map } })).toThrow(InvalidMix);
    expect(() => applyCommand(start, { kind: 'changeMix', changes: { geometry: map } })).toThrow(InvalidMix);
  });
});
