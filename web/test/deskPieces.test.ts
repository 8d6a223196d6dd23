import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, type AdjustPass, type Area, checkWhole, CURRENT_VERSION, type Command, type MixDocument, type Pass, type TonePoint } from '@zaddle/document';
import { maskWithSnapped } from '../src/area/maskWithSnapped';
import { differencesOf } from '../src/desk/differences';
import { linesOf } from '../src/desk/History';
import { lookedAt } from '../src/desk/lookedAt';
import { bundlePass, copiesOf, fillPass, passFrom, tonePass, whyUnseen } from '../src/desk/newPass';
import { canBeTyped, kelvin, percent, readTyped, whole } from '../src/desk/showValues';
import { hexOf, toneOf } from '../src/desk/FillFields';
import { bordersOf, regionsOf } from '../src/desk/SharesMap';
import { withPointAt, withTone } from '../src/desk/ToneGraph';
import { neighbouring } from '../src/desk/usePassActions';

const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } as const;
const light = (id: string, within: string | null = null): Pass => ({ ...passFrom({ kind: 'merge' }, id, false), id, within });
const bundle = (id: string, within: string | null = null): Pass => ({ ...bundlePass(id, within), id });
const mixOf = (...passes: Pass[]): MixDocument => ({
  version: CURRENT_VERSION, reference: 'r', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000,
  frames: { r: use }, merge: ['r'], passes,
});
const order = ({ passes }: MixDocument): string => passes.map(({ id, within }) => (within ? `${within}/${id}` : id)).join(' ');
const moved = (mix: MixDocument, id: string, by: 1 | -1): MixDocument => {
  const to = neighbouring(mix.passes, id, by);
  if (!to) return mix;
  const pass = mix.passes.find((p) => p.id === id)!;
  return applyCommand(mix, { kind: 'movePass', id, index: to.index, ...(pass.within === to.within ? {} : { within: to.within }) }).document;
};

describe('passes moved by keys', () => {
  test('go into a bundle that lies there, through it, and out at its other end', () => {
    let mix = mixOf(light('a'), light('b', 'g'), bundle('g'), light('c'));
    const seen = [order(mix)];
    for (let k = 0; k < 4; k++) seen.push(order((mix = moved(mix, 'a', 1))));
    expect(seen).toEqual(['a g/b g c', 'g/a g/b g c', 'g/b g/a g c', 'g/b g a c', 'g/b g c a']);
    for (let k = 0; k < 4; k++) mix = moved(mix, 'a', -1);
    expect(order(mix)).toBe('a g/b g c');
  });
  test('a bundle goes with all that it holds, and into another as a whole', () => {
    const mix = mixOf(light('a', 'g'), bundle('g'), light('b', 'h'), bundle('h'));
    expect(order(moved(mix, 'g', 1))).toBe('g/a h/g h/b h');
    expect(order(moved(moved(mix, 'g', 1), 'g', 1))).toBe('h/b g/a h/g h');
  });
  test('whatever is moved however often, the document stays valid and no pass is lost', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd', 'g', 'h'), fc.constantFrom(1 as const, -1 as const)), { maxLength: 25 }), (moves) => {
      let mix = mixOf(light('a'), light('b', 'h'), light('c', 'g'), bundle('g', 'h'), bundle('h'), light('d'));
      for (const [id, by] of moves) {
        mix = moved(mix, id, by);
        expect(() => checkWhole(mix)).not.toThrow();
      }
      expect(mix.passes.map(({ id }) => id).sort().join('')).toBe('abcdgh');
    }), { numRuns: 200 });
  });
});

test('a copy of a bundle holds copies of what it holds', () => {
  const { passes } = mixOf(light('a', 'h'), bundle('h', 'g'), light('b', 'g'), bundle('g'));
  const copies = copiesOf(passes, 3);
  expect(new Set([...passes, ...copies].map(({ id }) => id)).size).toBe(8);
  const [a, h, b, g] = copies;
  expect([a.within, h.within, b.within, g.within]).toEqual([h.id, g.id, g.id, null]);
  const mix = mixOf(...passes);
  const { document } = applyCommand(mix, { kind: 'several', commands: copies.map((pass, k): Command => ({ kind: 'addPass', pass, index: 4 + k })) });
  expect(document.passes).toHaveLength(8);
});

test('one pass by itself brings along what it holds, or the host that it is tied to', () => {
  const tied: Pass = { ...tonePass(), id: 't', tied: true };
  const mix = mixOf(light('a', 'g'), bundle('g'), light('b'), tied);
  const shown = (id: string): string => order(lookedAt(mix, 'after', id, null));
  expect([shown('g'), shown('t'), shown('a')]).toEqual(['g/a g', 'b t', 'a']);
});

test('painting on what cannot be seen says why, bundles and ties included', () => {
  const muted = { ...bundle('g'), on: false };
  const mix = mixOf(light('a', 'g'), muted);
  expect(whyUnseen(mix, mix.passes[0], null)).toContain('bundle “g”');
  const lonely: Pass = { ...tonePass(), id: 't', tied: true };
  expect(whyUnseen(mixOf(lonely), lonely, null)).toContain('tied to a pass under it');
  expect(whyUnseen(mixOf({ ...fillPass(), id: 'f', brightness: 0, colour: 0 }), { ...fillPass(), id: 'f', brightness: 0, colour: 0 }, null)).toContain('neither');
});

describe('values', () => {
  test('are typed as they are shown', () => {
    expect(readTyped(percent, '35 %')).toBe(0.35);
    expect(readTyped(kelvin, '5000 K')).toBe(-200);
    expect(readTyped(whole, '−12')).toBe(-12);
    expect(kelvin(-200)).toBe('5000 K');
    expect(whole(-0.2)).toBe('0');
    expect(readTyped(percent, 'much')).toBeNaN();
    expect(canBeTyped((v) => String(v))).toBe(false);
  });
  test('a tone in hexadecimal is the tone that it was', () => {
    for (const hex of ['#000000', '#808080', '#c04020', '#f0f0f0']) expect(hexOf(toneOf(hex))).toBe(hex);
  });
});

describe('a curve in the graph', () => {
  test('takes the point that is near, or makes one; points keep their order however they are dragged', () => {
    const curve: TonePoint[] = [[-6, 0], [-1, 0.5], [2, 0]];
    expect(withTone(curve, -1.2)).toEqual({ curve, index: 1 });
    const more = withTone(curve, -4);
    expect(more.index).toBe(1);
    expect(more.curve).toHaveLength(4);
    fc.assert(fc.property(fc.nat(2), fc.double({ min: -20, max: 20, noNaN: true }), fc.double({ min: -9, max: 9, noNaN: true }), (index, at, by) => {
      const next = withPointAt(curve, index, [at, by]);
      for (let k = 1; k < next.length; k++) expect(next[k][0]).toBeGreaterThan(next[k - 1][0]);
      expect(Math.abs(next[index][1])).toBeLessThanOrEqual(3);
    }));
    expect(withTone([], 0).curve.map(([tone]) => tone)).toEqual([-9, 0, 5]);
  });
});

test('a history says strokes on one pass in one line', () => {
  const steps = ['Painted less of Fall of light', 'Painted less of Fall of light', 'Flash 2: +0.30 stops', 'Painted less of Fall of light'].map((words, k) => ({ step: k + 1, words, undone: k === 3 }));
  expect(linesOf(steps)).toEqual([{ words: steps[0].words, first: 1, last: 2, undone: false }, { words: steps[2].words, first: 3, last: 3, undone: false }, { words: steps[3].words, first: 4, last: 4, undone: true }]);
});

test('what a version differs in is told setting by setting, and each can be taken over by itself', () => {
  const now = mixOf(light('a'), light('b'));
  const then = mixOf({ ...light('a'), exposure: 0.5, mask: [] }, light('c'));
  const list = differencesOf(now, { ...then, passes: then.passes.map((p) => (p.id === 'a' ? { ...p, opacity: 0.4 } : p)) }, () => 'F');
  expect(list.map(({ words }) => words)).toEqual(['a: opacity 40 %', 'a: +0.50 stops', 'c: added', 'b: removed']);
  const taken = list.reduce((mix, { command }) => applyCommand(mix, command).document, now);
  expect(() => checkWhole(taken)).not.toThrow();
  expect(taken.passes.map(({ id, exposure, opacity }) => [id, exposure, opacity])).toEqual([['a', 0.5, 0.4], ['c', 0, 1]]);
  expect(differencesOf(now, now, () => 'F')).toEqual([]);
  // How it is framed and sharpened is taken over by itself, what earlier passes do not have likewise.
  const framed = { ...now, geometry: [1, 0, 50, 0, 1, 30, 0, 0, 1] as const, width: 1200, height: 800, sharpening: { amount: 1, radius: 1, edges: 0.01, halo: 0.02 } };
  const whole = differencesOf(now, framed, () => 'F');
  expect(whole.map(({ key }) => key)).toEqual(['framing', 'sharpening']);
  expect(whole.reduce((mix, { command }) => applyCommand(mix, command).document, now)).toMatchObject({ width: 1200, sharpening: { amount: 1 } });
  const tone: AdjustPass = { ...tonePass(), id: 't' };
  const [muted] = differencesOf(mixOf(light('a'), tone), mixOf(light('a'), { ...tone, muted: 0.3 }), () => 'F');
  expect(muted.words).toBe('Tone: muted colours 30 %');
  expect(applyCommand(mixOf(light('a'), tone), muted.command).document.passes[1]).toMatchObject({ muted: 0.3 });
});

test('a map names each region of a pass once, where it is, and draws what divides them', () => {
  const cells = Int16Array.from({ length: 10 * 6 }, (_, i) => (i % 10 < 5 ? 0 : i % 10 === 9 ? -1 : 1));
  const map = { columns: 10, rows: 6, passes: ['a', 'b'], cells };
  expect(regionsOf(map)).toEqual([{ pass: 'a', column: 2, row: expect.any(Number) as number }, { pass: 'b', column: expect.any(Number) as number, row: expect.any(Number) as number }]);
  for (const { pass, column, row } of regionsOf(map)) expect(['a', 'b'][cells[row * 10 + column]]).toBe(pass);
  expect(bordersOf(map).split('M')).toHaveLength(1 + 12);
});

test('an outline that was snapped takes the place of the one that it was made of, and of no later one', () => {
  const outline = (id: string, x: number): Area => ({ id, kind: 'outline', join: 'add', inverted: false, softness: 0, rings: [[[x, 0.1], [0.5, 0.1], [0.5, 0.4]].map(([u, v]) => ({ at: [u, v], before: null, after: null }))] });
  const [other, asked, snapped] = [outline('other', 0.3), outline('own', 0.1), outline('own', 0.104)];
  expect(maskWithSnapped([other, asked], asked, snapped)).toEqual([other, snapped]);
  expect(maskWithSnapped([other, asked], structuredClone(asked), structuredClone(asked))).toBe('same');
  // Its point was moved meanwhile, or it was thrown away.
  expect(maskWithSnapped([other, outline('own', 0.11)], asked, snapped)).toBe('changed');
  expect(maskWithSnapped([other], asked, snapped)).toBe('changed');
});
