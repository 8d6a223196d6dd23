import type { Area, Pass } from '@zaddle/document';
import { describe, expect, test } from 'vitest';
import type { Glare } from '../src/found/findGlare';
import { createPlane } from '../src/image/plane';
import { newPass } from '../src/propose/newPass';
import type { Proposal } from '../src/propose/proposeMix';
import { shownGlare, shownPlaces } from '../src/read/shownPlaces';

const [W, H] = [40, 20];
/** Half-guide pixels: one place at the left, one at the right. */
const [LEFT, RIGHT] = [[21, 22, 41, 42], [37, 38]];
/** A flash that lights the left half, another that lights the right one. */
const halves = (left: number, right: number) => createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => (i % W < W / 2 ? left : right)));
const lit = (frame: string): Area => ({ id: 'lit', kind: 'found', what: 'lit', join: 'add', inverted: false, frame, among: [] });
const pass = (kind: 'light' | 'view' | 'inset', mask: readonly Area[], on = true): Pass => ({ ...newPass('p'), kind, name: 'p', why: '', on, mask, source: { kind: 'frame', frame: 'a' } }) as unknown as Pass;
const glare: Glare = { frame: 'a', count: 2, share: 0.5, where: [0, 0], places: [LEFT, RIGHT] };
const proposal = (passes: readonly Pass[]): Proposal => ({ guides: { width: W, height: H }, mix: { passes }, findings: { pane: () => halves(0, 1), share: () => halves(0.6, 0.01), glareAmong: () => [glare] } }) as unknown as Proposal;

describe('what the picture shows of a frame', () => {
  test('is where it takes something of it: by its share as a light, behind glass as a view, everywhere where nothing tells', () => {
    const shown = (...passes: Pass[]) => shownPlaces(proposal(passes), 'a', [LEFT, RIGHT]);
    expect(shown(pass('light', [lit('a')]))).toEqual([LEFT]);
    expect(shown(pass('view', []))).toEqual([RIGHT]);
    expect(shown(pass('light', [lit('a')]), pass('view', []))).toEqual([LEFT, RIGHT]);
    expect(shown(pass('light', []))).toEqual([LEFT, RIGHT]);
    expect(shown(pass('light', [lit('a')], false), pass('inset', []))).toEqual([]);
    expect(shownPlaces(proposal([pass('light', [])]), 'b', [LEFT])).toEqual([]);
  });
  test('glare that it does not show is not told, and what is left is told by itself', () => {
    expect(shownGlare(proposal([]), ['a'])).toEqual([]);
    expect(shownGlare(proposal([pass('light', [lit('a')])]), ['a'])).toEqual([{ frame: 'a', count: 1, share: 4 / 200, where: [3, 3], places: [LEFT] }]);
  });
});
