import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, blockStart, checkWhole, commandSchema, CURRENT_VERSION, holders, hostOf, InvalidMix, openMix, readStep, type Command, type MixDocument, type Pass, type SourcePass } from '../src/index';

const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } as const;
const base = (id: string, within: string | null) => ({ id, name: id, within, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }) as const;
const light = (id: string, within: string | null = null, mask: Pass['mask'] = []): Pass => ({ ...base(id, within), mask, kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const bundle = (id: string, within: string | null = null): Pass => ({ ...base(id, within), kind: 'bundle', mode: 'normal', brightness: 1, colour: 1 });
const tone = (id: string, within: string | null = null, tied = true): Pass => ({ ...base(id, within), kind: 'adjust', contrast: 1, highlights: 0, shadows: 0, curve: [], tied, saturation: 1 });
const mixOf = (...passes: Pass[]): MixDocument => ({
  version: CURRENT_VERSION, reference: 'f1', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000,
  frames: { f1: use }, merge: ['f1'], passes,
});
const ids = ({ passes }: MixDocument): string[] => passes.map(({ id, within }) => (within ? `${within}/${id}` : id));
const nested = (): MixDocument => mixOf(light('a'), light('b', 'g'), light('c', 'h'), bundle('h', 'g'), bundle('g'), light('d'));

describe('bundles', () => {
  test('a bundle moves with all that it holds, and undoing puts it back', () => {
    const { document, inverse } = applyCommand(nested(), { kind: 'movePass', id: 'g', index: 0 });
    expect(ids(document)).toEqual(['g/b', 'h/c', 'g/h', 'g', 'a', 'd']);
    expect(applyCommand(document, inverse).document).toEqual(nested());
    expect(blockStart(nested().passes, 4)).toBe(1);
  });
  test('passes go into bundles and out of them; what would lie apart from its bundle is refused', () => {
    const { document, inverse } = applyCommand(nested(), { kind: 'movePass', id: 'd', index: 1, within: 'g' });
    expect(ids(document)).toEqual(['a', 'g/d', 'g/b', 'h/c', 'g/h', 'g']);
    expect(applyCommand(document, inverse).document).toEqual(nested());
    expect(() => applyCommand(nested(), { kind: 'movePass', id: 'b', index: 0 })).toThrow(InvalidMix);
    expect(() => applyCommand(nested(), { kind: 'movePass', id: 'b', index: 5 })).toThrow(/right under/);
    expect(() => applyCommand(nested(), { kind: 'removePass', id: 'g' })).toThrow(/bundle which is not there/);
    expect(() => applyCommand(nested(), { kind: 'movePass', id: 'd', index: 0, within: 'a' })).toThrow(InvalidMix);
    expect(() => applyCommand(nested(), { kind: 'movePass', id: 'g', index: 1, within: 'h' })).toThrow(InvalidMix);
    expect(() => applyCommand(nested(), { kind: 'changePass', id: 'b', changes: { within: null } as never })).toThrow(InvalidMix);
  });
  test('a bundle is made of passes, and dissolved, as one step', () => {
    const made: Command = { kind: 'several', commands: [{ kind: 'addPass', pass: bundle('new'), index: 2 }, { kind: 'movePass', id: 'b', index: 1, within: 'new' }, { kind: 'movePass', id: 'a', index: 0, within: 'new' }] };
    const flat = mixOf(light('a'), light('b'), light('c'));
    const { document, inverse } = applyCommand(flat, made);
    expect(ids(document)).toEqual(['new/a', 'new/b', 'new', 'c']);
    expect(applyCommand(document, inverse).document).toEqual(flat);
    expect(commandSchema.validate(made).error).toBeUndefined();
    expect(commandSchema.validate({ kind: 'movePass', id: 'a', index: 0, within: 7 }).error).toBeDefined();
  });
  test('three deep and no deeper; none within itself', () => {
    const deep = (count: number): MixDocument => mixOf(light('x', 'b0'), ...Array.from({ length: count }, (_, k) => bundle(`b${k}`, k + 1 < count ? `b${k + 1}` : null)));
    expect(() => checkWhole(deep(3))).not.toThrow();
    expect(() => checkWhole(deep(4))).toThrow(/3 deep/);
    expect(() => checkWhole(mixOf(light('a'), bundle('g', 'g')))).toThrow(InvalidMix);
    expect(() => checkWhole(mixOf(light('a', 'h'), bundle('g', 'h'), bundle('h', 'g')))).toThrow(InvalidMix);
    expect(holders(nested().passes, nested().passes[2]).map(({ id }) => id)).toEqual(['h', 'g']);
  });
  test('whatever is moved where, what is accepted is in order, and every step can be undone', () => {
    const targets = fc.constantFrom<string | null | undefined>('g', 'h', null, undefined);
    fc.assert(fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd', 'g', 'h'), fc.nat(6), targets), { minLength: 1, maxLength: 8 }), (moves) => {
      let mix = nested();
      for (const [id, index, within] of moves) {
        try {
          const { document, inverse } = applyCommand(mix, { kind: 'movePass', id, index, ...(within === undefined ? {} : { within }) });
          expect(() => checkWhole(document)).not.toThrow();
          expect(applyCommand(document, inverse).document).toEqual(mix);
          expect(document.passes.map((p) => p.id).sort()).toEqual(['a', 'b', 'c', 'd', 'g', 'h']);
          mix = document;
        } catch (error) {
          expect(error).toBeInstanceOf(InvalidMix);
        }
      }
    }), { numRuns: 300 });
  });
});

test('a tied pass belongs to what lies under it in its bundle, over other tied ones and whole bundles', () => {
  const { passes } = mixOf(tone('t0'), light('a'), tone('t1'), tone('t2'), light('b', 'g'), bundle('g'), tone('t3'), tone('free', null, false), tone('t4'));
  const host = (id: string): string | null => hostOf(passes, passes.findIndex((p) => p.id === id))?.id ?? null;
  expect(['t0', 't1', 't2', 't3', 't4'].map(host)).toEqual([null, 'a', 'a', 'g', null]);
});

describe('linked masks', () => {
  const link = (pass: string): Pass['mask'] => [{ id: 'l', kind: 'same', join: 'add', inverted: false, pass }];
  test('must be there, must not come round, and hold what they link to', () => {
    expect(() => checkWhole(mixOf(light('a'), light('b', null, link('a'))))).not.toThrow();
    expect(() => checkWhole(mixOf(light('a', null, link('nobody'))))).toThrow(/not there/);
    expect(() => checkWhole(mixOf(light('a', null, link('a'))))).toThrow(/circle/);
    expect(() => checkWhole(mixOf(light('a', null, link('b')), light('b', null, link('a'))))).toThrow(/circle/);
    expect(() => applyCommand(mixOf(light('a'), light('b', null, link('a'))), { kind: 'removePass', id: 'a' })).toThrow(/Copy the mask/);
    expect(() => applyCommand(mixOf(light('a'), light('b')), { kind: 'addArea', pass: 'b', index: 0, area: link('c')[0] })).toThrow(InvalidMix);
  });
});

test('a document of version 2 is read: its passes lie in no bundle and have no curve', () => {
  const now = mixOf(light('a'), tone('t', null, false));
  const passes = now.passes.map(({ within: _, ...pass }) => Object.fromEntries(Object.entries(pass).filter(([key]) => key !== 'curve' && key !== 'tied')));
  expect(openMix({ ...now, version: 2, passes })).toEqual(now);
});

test('a document of version 3 is read, and a step of that time: what filled did so with tones', () => {
  const { source: _, alignment: __, ...rest } = light('f') as SourcePass;
  const pass = { ...rest, kind: 'fill', tone: [0.1, 0.2, 0.3], ramp: null } as unknown as Pass;
  const read = openMix({ ...mixOf(light('a')), version: 3, passes: [light('a'), pass] });
  expect(read.passes[1]).toEqual({ ...pass, around: false });
  expect(readStep({ kind: 'addPass', index: 0, pass })).toEqual({ kind: 'addPass', index: 0, pass: { ...pass, around: false } });
});
