import { expect, test } from 'vitest';
import { applyCommand, CURRENT_VERSION, type AdjustPass, type MixDocument, type Pass, type SourcePass } from '@zaddle/document';
import { addInsetCommand, CLEAN_UP, cleanUpInsets, underCleanUp, withInset, withoutCleanUp } from '../src/clean/cleanUpBundle';

const base = (id: string) => ({ id, name: id, within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }) as const;
const light = (id: string, kind: SourcePass['kind'] = 'light'): SourcePass => ({ ...base(id), kind, source: { kind: 'frame', frame: 'f' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const adjust = (id: string, tied = false): AdjustPass => ({ ...base(id), kind: 'adjust', contrast: 1, highlights: 0, shadows: 0, curve: [], tied, saturation: 1 });
const inset = (id: string): SourcePass => ({ ...light(id, 'inset'), matched: true, mask: [{ id: `${id}-seam`, kind: 'outline', join: 'add', inverted: false, softness: 0, rings: [[[0.1, 0.1], [0.2, 0.1], [0.2, 0.2]].map(([x, y]) => ({ at: [x, y] as const, before: null, after: null }))] }] });
const mixOf = (passes: readonly Pass[]): MixDocument => ({
  version: CURRENT_VERSION, reference: 'f', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 900, height: 600,
  frames: { f: { width: 900, height: 600, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } }, merge: ['f'], passes: [...passes],
});
const ids = (passes: readonly Pass[]): string[] => passes.map(({ id }) => id);

test('insets go into one bundle, the latest on top, under the adjustments for all; one step each, which can be undone', () => {
  const start = mixOf([light('u'), adjust('t'), light('v', 'view'), adjust('tied', true), adjust('all')]);
  const one = applyCommand(start, addInsetCommand(start.passes, inset('a')));
  expect(ids(one.document.passes)).toEqual(['u', 't', 'v', 'tied', 'a', CLEAN_UP, 'all']);
  expect(one.document.passes.find(({ id }) => id === 'a')!.within).toBe(CLEAN_UP);
  const two = applyCommand(one.document, addInsetCommand(one.document.passes, inset('b')));
  expect(ids(two.document.passes)).toEqual(['u', 't', 'v', 'tied', 'a', 'b', CLEAN_UP, 'all']);
  expect(ids(cleanUpInsets(two.document.passes))).toEqual(['a', 'b']);
  expect(withInset(withInset(start.passes, inset('a')), inset('b'))).toEqual(two.document.passes);
  expect(applyCommand(applyCommand(two.document, two.inverse).document, one.inverse).document).toEqual(start);
});

test('what a further inset is laid over, and the passes without the bundle', () => {
  const passes = withInset([light('u'), adjust('all')], inset('a'));
  expect(ids(underCleanUp([light('u'), adjust('all')]))).toEqual(['u']);
  expect(ids(underCleanUp(passes))).toEqual(['u', 'a', CLEAN_UP]);
  expect(ids(withoutCleanUp(passes))).toEqual(['u', 'all']);
  expect(ids(withoutCleanUp([light('u')]))).toEqual(['u']);
});
