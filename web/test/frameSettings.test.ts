import { describe, expect, test } from 'vitest';
import { applyCommand, CURRENT_VERSION, type MixDocument } from '@zaddle/document';
import { matchedTo, matchExposure, ownBalance, ownExposure, shareBalance, sharedBalance } from '../src/desk/FrameSettings';

const used = (balance: readonly [number, number, number]) => ({ width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance }) as const;
const mix: MixDocument = {
  version: CURRENT_VERSION, reference: 'r', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000,
  frames: { r: used([1, 1, 1]), a: used([1.1, 1, 0.9]) }, merge: ['r'],
  passes: [{ id: 'p', name: 'p', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 }],
};

describe('white balance of frames', () => {
  test('is shared: all move together, each keeps what brought it to the others; undone it is as it was', () => {
    const { document, inverse } = applyCommand(mix, shareBalance(mix, [1.2, 1, 0.8]));
    expect(document.frames.r.balance).toEqual([1.2, 1, 0.8]);
    expect(document.frames.a.balance.map((g) => Math.round(g * 100) / 100)).toEqual([1.32, 1, 0.72]);
    expect(applyCommand(document, JSON.parse(JSON.stringify(inverse)) as typeof inverse).document).toEqual(mix);
  });
  test('of one frame on its own stays on top when the shared one is revised, and can be given up', () => {
    const own = applyCommand(mix, ownBalance(mix, 'a', [1.5, 1, 1])).document;
    expect(own.frames.a).toMatchObject({ own: [1.5, 1, 1], balance: [1.65, 1, 0.9] });
    const revised = applyCommand(own, shareBalance(own, [0.5, 1, 1])).document;
    expect(revised.frames.a.balance).toEqual([0.825, 1, 0.9]);
    const shared = applyCommand(revised, ownBalance(revised, 'a', [1, 1, 1])).document;
    expect(shared.frames.a).toMatchObject({ own: null, balance: [0.55, 1, 0.9] });
  });
  test('of the reference on its own does not change what is shared', () => {
    const own = applyCommand(mix, ownBalance(mix, 'r', [2, 1, 1])).document;
    expect(own.frames.r.balance).toEqual([2, 1, 1]);
    expect(sharedBalance(own)).toEqual([1, 1, 1]);
    expect(shareBalance(own, [1, 1, 1])).toMatchObject({ commands: [{ id: 'r', changes: { balance: [2, 1, 1] } }, { id: 'a', changes: { balance: [1.1, 1, 0.9] } }] });
  });
});

describe('exposure of frames', () => {
  const exposed: MixDocument = { ...mix, frames: { r: mix.frames.r, a: { ...mix.frames.a, stops: 2 }, b: { ...mix.frames.a, stops: -1.5 } } };
  const stopsOf = ({ frames }: MixDocument): number[] => Object.values(frames).map(({ stops }) => stops);
  test('is matched to a chosen one: what they differ by stays; undone it is as it was', () => {
    expect(matchedTo(exposed)).toBe('r');
    const { document, inverse } = applyCommand(exposed, matchExposure(exposed, 'a'));
    expect(stopsOf(document)).toEqual([-2, 0, -3.5]);
    expect(matchedTo(document)).toBe('a');
    expect(applyCommand(document, inverse).document).toEqual(exposed);
  });
  test('of one on its own stays on top when all are matched to another, and can be given up', () => {
    const own = applyCommand(exposed, ownExposure(exposed, 'a', 0.5)).document;
    expect(own.frames.a).toMatchObject({ stops: 1.5, ownStops: 0.5 });
    expect(matchedTo(own)).toBe('r');
    const matched = applyCommand(own, matchExposure(own, 'b')).document;
    expect(stopsOf(matched)).toEqual([1.5, 3, 0]);
    expect(applyCommand(matched, ownExposure(matched, 'a', 0)).document.frames.a).toMatchObject({ stops: 3.5, ownStops: null });
    // Matched to the one that has its own: the others go by its exposure, and its own stays.
    expect(stopsOf(applyCommand(own, matchExposure(own, 'a')).document)).toEqual([-2, -0.5, -3.5]);
  });
});
