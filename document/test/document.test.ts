import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, commandSchema, CURRENT_VERSION, draftOf, InvalidMix, openMix, type Command, type MixDocument, type Pass } from '../src/index';

const light = (id: string): Pass => ({ id, name: id, within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: 'f1' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const tone = (id: string): Pass => ({ id, name: id, within: null, why: '', kind: 'adjust', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], contrast: 1, curve: [], tied: false, highlights: 0, shadows: 0, saturation: 1 });
const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null, stops: 0, balance: [1, 1, 1] as const };
const start: MixDocument = {
  version: CURRENT_VERSION, reference: 'f1', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000,
  frames: { f1: use, f2: use }, merge: ['f1'], passes: [light('a'), light('b'), tone('c')],
};

const ids = fc.constantFrom('a', 'b', 'c', 'd', 'e');
const commands: fc.Arbitrary<Command> = fc.oneof(
  fc.record({ kind: fc.constant('addPass' as const), pass: ids.map((id) => light(id)), index: fc.integer({ min: 0, max: 9 }) }),
  fc.record({ kind: fc.constant('removePass' as const), id: ids }),
  fc.record({ kind: fc.constant('movePass' as const), id: ids, index: fc.integer({ min: 0, max: 9 }) }),
  fc.record({ kind: fc.constant('changePass' as const), id: ids, changes: fc.record({ exposure: fc.integer({ min: -12, max: 12 }), opacity: fc.constantFrom(0, 0.5, 1), on: fc.boolean() }, { requiredKeys: ['on'] }) }),
);

describe('commands', () => {
  test('any run of commands, undone step by step, gives back every document on the way', () => {
    fc.assert(fc.property(fc.array(commands, { maxLength: 30 }), (list) => {
      const states = [start];
      const inverses: Command[] = [];
      for (const command of list) {
        try {
          const { document, inverse } = applyCommand(states[states.length - 1], command);
          states.push(document);
          inverses.push(inverse);
        } catch (error) {
          expect(error).toBeInstanceOf(InvalidMix);
        }
      }
      let document = states[states.length - 1];
      for (let k = inverses.length - 1; k >= 0; k--) {
        expect(commandSchema.validate(inverses[k]).error).toBeUndefined();
        document = applyCommand(document, inverses[k]).document;
        expect(document).toEqual(states[k]);
      }
    }));
  });
  test('the given document stays as it was', () => {
    const copy = structuredClone(start);
    applyCommand(start, { kind: 'changePass', id: 'a', changes: { exposure: 2 } });
    expect(start).toEqual(copy);
  });
  test.each<[string, Command, RegExp]>([
    ['a pass that is not there', { kind: 'removePass', id: 'zz' }, /no pass zz/],
    ['a second pass of one id', { kind: 'addPass', pass: light('a'), index: 0 }, /duplicate/],
    ['a field that its kind has not', { kind: 'changePass', id: 'a', changes: { contrast: 2 } }, /has no contrast/],
    ['a change of kind', { kind: 'changePass', id: 'a', changes: { kind: 'view' } as never }, /has no kind/],
    ['values out of range', { kind: 'changePass', id: 'a', changes: { opacity: 7 } }, /opacity|passes/],
    ['a frame that is foreign', { kind: 'changePass', id: 'a', changes: { source: { kind: 'frame', frame: 'f9' } } }, /f9/],
  ])('refuse %s', (_, command, message) => {
    expect(() => applyCommand(start, command)).toThrow(message);
  });
});

describe('opening', () => {
  test('a stored document comes back as it was', () => {
    expect(openMix(JSON.parse(JSON.stringify(start)))).toEqual(start);
  });
  test.each<[string, unknown, RegExp]>([
    ['nothing', null, /JSON object/],
    ['a newer version', { ...start, version: 99 }, /version 99/],
    ['a missing field', { ...start, merge: undefined }, /merge/],
    ['a foreign reference', { ...start, reference: 'q' }, /reference names frame q/],
    ['a foreign merge', { ...start, merge: ['q'] }, /merge names frame q/],
    ['a foreign edge', { ...start, passes: [{ ...light('a'), mask: [{ id: 'm', kind: 'found', what: 'glass', join: 'add', inverted: false, edge: 'q' }] }] }, /mask of “a” names frame q/],
    ['numbers that are none', { ...start, width: Number.NaN }, /width/],
  ])('refuses %s', (_, stored, message) => {
    expect(() => openMix(stored)).toThrow(message);
  });
});

const without = (thing: object, key: string): object => Object.fromEntries(Object.entries(thing).filter(([name]) => name !== key));

describe('version 2', () => {
  test('a document of version 1 is brought up to date, and means what it meant', () => {
    const { corrects, response, ...rest } = start;
    const old = {
      ...rest, version: 1, lens: { k1: 0.02, k2: 0 }, frames: Object.fromEntries(Object.entries(start.frames).map(([id, frame]) => [id, without(frame, 'mesh')])),
      passes: start.passes.map((pass) => without(pass, 'alignment')),
    };
    expect([corrects.distortion, response]).toEqual([true, []]);
    expect(openMix(old)).toEqual({ ...start, lens: { ...start.lens, k1: 0.02 } });
  });
  test('frames are aligned, added and removed; what folds a picture over or counts wrong is refused', () => {
    const homography = [1, 0, 3, 0, 1, -2, 0, 0, 1] as const;
    const moved = applyCommand(start, { kind: 'changeFrame', id: 'f2', changes: { homography } });
    expect(moved.document.frames.f2.homography).toEqual(homography);
    expect(applyCommand(moved.document, moved.inverse).document).toEqual(start);
    const added = applyCommand(start, { kind: 'addFrame', id: 'f3', use });
    expect(applyCommand(added.document, added.inverse).document).toEqual(start);
    expect(() => applyCommand(start, { kind: 'addFrame', id: 'f1', use })).toThrow(InvalidMix);
    expect(() => applyCommand(start, { kind: 'removeFrame', id: 'f1' })).toThrow(/f1/);
    expect(() => applyCommand(start, { kind: 'changeFrame', id: 'f2', changes: { homography: [1, 1, 0, 1, 1, 0, 0, 0, 1] } })).toThrow(/inverted/);
    expect(() => applyCommand(start, { kind: 'changeFrame', id: 'f2', changes: { mesh: { columns: 3, rows: 3, shifts: [0, 0] } } })).toThrow(/two shifts/);
    expect(() => applyCommand(start, { kind: 'changeMix', changes: { response: [99] } })).toThrow(InvalidMix);
  });
  test('a draft is what the command makes, whether or not it may stand', () => {
    fc.assert(fc.property(fc.double({ min: -6, max: 6, noNaN: true }), (exposure) => {
      const command: Command = { kind: 'changePass', id: 'a', changes: { exposure } };
      expect(draftOf(start, command)).toEqual(applyCommand(start, command).document);
    }));
    expect(draftOf(start, { kind: 'changePass', id: 'a', changes: { exposure: 99 } }).passes[0].exposure).toBe(99);
    expect(() => draftOf(start, { kind: 'changePass', id: 'none', changes: { exposure: 1 } })).toThrow(InvalidMix);
  });
});
