import fc from 'fast-check';
import { expect, test } from 'vitest';
import { applyCommand, openMix, CURRENT_VERSION, type AdjustPass, type MixDocument, type Pass } from '@zaddle/document';
import { renderedBy, renderingCommand, renderingNow, RENDERINGS } from '../src/mix/renderings';

const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } as const;
const base = (id: string) => ({ id, name: id, within: null, why: '', on: true, opacity: 0.9, mask: [], exposure: 0.4, balance: [1.1, 1, 0.9] }) as const;
const light = (id: string, more: object = {}): Pass => ({ ...base(id), kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, ...more }) as Pass;
const tone = (id: string, more: Partial<AdjustPass> = {}): Pass => ({ ...base(id), kind: 'adjust', contrast: 1.02, highlights: 0, shadows: 0, curve: [], tied: false, saturation: 1, ...more });
const mixOf = (...passes: Pass[]): MixDocument => openMix({
  version: CURRENT_VERSION, reference: 'f', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [],
  geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000, frames: { f: use }, merge: ['f'], passes,
});
const group: Pass = { ...base('g'), kind: 'bundle', mode: 'normal', brightness: 1, colour: 1 };

test('the tone pass is that which is selected, or tied to what is, or the topmost of the whole picture', () => {
  const mix = mixOf(light('a'), tone('at', { tied: true }), light('b'), tone('paint', { evenness: 0.8 }), tone('all'), tone('part', { mask: [{ id: 'm', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.3], rim: [0.6, 0.3], ratio: 1, softness: 0.5 }] }));
  for (const [selected, found] of [['at', 'at'], ['part', 'part'], ['a', 'at'], ['b', null], [null, 'all'], ['gone', 'all']] as const) expect(renderedBy(mix, selected)?.id ?? null, `${selected}`).toBe(found);
  expect(renderedBy(mixOf(light('a')), null)).toBeNull();
});

test('each rendering is told from the others, is one step that may be taken back, and keeps exposure, balance, mask and everything else', () => {
  const mixes = [mixOf(light('a'), tone('all')), mixOf(light('a'), light('b', { within: 'g' }), group), mixOf(light('a'), tone('at', { tied: true }))];
  fc.assert(fc.property(fc.constantFrom(...mixes), fc.constantFrom(null, 'a', 'b', 'all'), fc.constantFrom(...RENDERINGS), fc.constantFrom(...RENDERINGS), (mix, selected, first, second) => {
    const at = mix.passes.some(({ id }) => id === selected) ? selected : null;
    const one = applyCommand(mix, renderingCommand(mix, at, first, 'new'));
    const made = renderedBy(one.document, at)!;
    expect(renderingNow(made)).toBe(first);
    expect(made.mask).toEqual([]);
    const two = applyCommand(one.document, renderingCommand(one.document, at, second, 'newer'));
    expect(renderingNow(renderedBy(two.document, at))).toBe(second);
    expect(two.document.passes.length).toBe(one.document.passes.length);
    // A tone pass that was there keeps its light; one that is made has none, and lies right above what it is for.
    const before = renderedBy(mix, at);
    expect([made.exposure, made.balance]).toEqual(before ? [before.exposure, before.balance] : [0, [1, 1, 1]]);
    const host = mix.passes.find(({ id }) => id === at);
    if (host && 'source' in host) expect(one.document.passes[one.document.passes.findIndex(({ id }) => id === made.id) - 1].id).toBe(at);
    const others = (document: MixDocument): unknown => document.passes.filter(({ id }) => id !== made.id);
    expect(others(one.document)).toEqual(others(mix));
    const back = applyCommand(one.document, one.inverse).document;
    expect(JSON.parse(JSON.stringify(back, (key, value: unknown) => (value === null && (key === 'localContrast' || key === 'glow') ? undefined : value)))).toEqual(JSON.parse(JSON.stringify(mix)));
  }));
});
