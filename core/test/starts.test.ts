import { expect, test } from 'vitest';
import { applyCommand, openMix, CURRENT_VERSION, type MixDocument, type Pass } from '@zaddle/document';
import { choosesStart, startCommand, startOf, STARTS, withStart } from '../src/propose/starts';

const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } as const;
const base = (id: string) => ({ id, name: id, within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0.4, balance: [1, 1, 1] }) as const;
const light = (id: string): Pass => ({ ...base(id), kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 0.3, colour: 0.3 });
const tone: Pass = { ...base('finish'), kind: 'adjust', contrast: 1, highlights: 0, shadows: 0, curve: [[-1, 0.2]], tied: false, saturation: 1 };
const mixOf = (...passes: Pass[]): MixDocument => openMix({
  version: CURRENT_VERSION, reference: 'f', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [],
  geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000, frames: { f: use }, merge: ['f'], passes,
});

const withoutNull = (mix: MixDocument): unknown => JSON.parse(JSON.stringify(mix, (key, value: unknown) => (value === null && (key === 'localContrast' || key === 'glow') ? undefined : value)));

test('each start is told from the others, is taken as one step, and leaves everything else of a mix alone', () => {
  const mix = mixOf(light('ambient'), light('fall'), tone, light('own'));
  expect(startOf(mix.passes)).toBeNull();
  for (const start of STARTS) {
    const passes = withStart(mix.passes, start);
    expect(startOf(passes)).toBe(start);
    const command = startCommand(mix.passes, start)!;
    expect(choosesStart(command)).toBe(true);
    const { document, inverse } = applyCommand(mix, command);
    expect(document.passes).toEqual(passes);
    // A setting that was left out before is null after: the same.
    expect(withoutNull(applyCommand(document, inverse).document)).toEqual(mix);
    expect([passes[0], passes[3]]).toEqual([mix.passes[0], mix.passes[3]]);
    expect(passes[2]).toMatchObject({ curve: [[-1, 0.2]], on: true });
  }
});

test('what a person removed is not missed; where nothing is left to set, nothing is set; other work is no choice of a start', () => {
  expect(startOf(withStart([light('ambient'), tone], 'airy'))).toBe('airy');
  expect(startCommand([light('ambient')], 'airy')).toBeNull();
  expect(startOf([light('ambient')])).toBeNull();
  expect(choosesStart({ kind: 'changePass', id: 'finish', changes: { contrast: 2 } })).toBe(false);
  expect(choosesStart({ kind: 'several', commands: [{ kind: 'removePass', id: 'fall' }] })).toBe(false);
});
