import { describe, expect, test } from 'vitest';
import { isPortable, methodSchema, stepWords, type AdjustPass, type Area, type Method, type Pass } from '../src/index';

const adjust: AdjustPass = { id: 'own-1', kind: 'adjust', name: 'Calm', why: '', within: null, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: 0, shadows: 0, saturation: 0.8, curve: [], tied: false };
const below = { kind: 'below' } as const;
const tones: Area = { id: 't', kind: 'tones', join: 'add', inverted: false, of: below, from: 0, to: 4, softness: 1 };
const method: Method = { format: 'zaddle-method', version: 1, name: 'Calm rooms', what: '', room: 'any room', light: 'any light', parts: { passes: [{ ...adjust, mask: [tones] }] } };
const refused = (parts: unknown): string | undefined => methodSchema.validate({ ...method, parts }, { convert: false }).error?.message;

describe('a method', () => {
  test('takes passes that mean the same on every shot, and no others', () => {
    expect(methodSchema.validate(method, { convert: false }).error).toBeUndefined();
    const local: readonly Pass[] = [
      { ...adjust, within: 'bundle' },
      { ...adjust, mask: [{ ...tones, of: { kind: 'frame', frame: 'a' } }] },
      { ...adjust, mask: [{ ...tones, border: { grow: 0, soften: 0, snap: 'a' } }] },
      { ...adjust, mask: [{ id: 'r', kind: 'ramp', join: 'add', inverted: false, from: [0, 0], to: [1, 1] }] },
      { ...adjust, mask: [{ id: 's', kind: 'same', join: 'add', inverted: false, pass: 'view' }] },
      { ...adjust, kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 } as unknown as Pass,
      { ...adjust, kind: 'fill', tone: [1, 1, 1], ramp: null, around: true, mode: 'normal', brightness: 1, colour: 1 } as unknown as Pass,
    ];
    for (const pass of local) expect(isPortable(pass)).toBe(false);
    expect(refused({ passes: [local[1]] })).toContain('place of one shot');
    expect(isPortable({ ...adjust, mask: [tones, { id: 'h', kind: 'hues', join: 'intersect', inverted: false, of: below, hue: 40, width: 30, softness: 10, chroma: 0.02 }] })).toBe(true);
  });
  test('refuses what is out of bounds, what it does not know, and nothing at all', () => {
    expect(refused({ tone: { curve: [[1, 0], [0, 0]] } })).toContain('dark to bright');
    expect(refused({ light: { evenness: 2 } })).toContain('evenness');
    expect(refused({ light: {} })).toContain('light');
    expect(refused({ framing: { straighten: 'wildly', strength: 1, ratio: null } })).toContain('straighten');
    expect(refused({})).toContain('parts');
  });
  test('is told in words of a history, given and taken off', () => {
    const names = { pass: () => 'A pass', frame: () => 'A frame' };
    const set = { passes: {}, mix: {} };
    const given = { kind: 'changeMix', changes: { method: { method, strength: 0.7, off: [], before: set, set, added: {} } } } as const;
    expect(stepWords({ kind: 'several', commands: [{ kind: 'changePass', id: 'a', changes: { contrast: 2 } }, given] }, names)).toBe('Method “Calm rooms”, 70 %');
    expect(stepWords({ kind: 'changeMix', changes: { method: null } }, names)).toBe('Method taken off');
  });
});
