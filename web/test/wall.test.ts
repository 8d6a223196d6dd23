import { describe, expect, test } from 'vitest';
import type { WallShot } from '../src/store/api';
import { arranged, isGivenUp, movedTo, reviewWords, stepped, tally } from '../src/wall/arrange';

const shot = (id: string, more: Partial<WallShot> = {}): WallShot => ({ id, label: id, room: null, state: 'mixed', why: '', reference: null, revision: 1, preview: 1, drawing: false, touched: false, review: null, readings: [], set: [], gain: 0, places: {}, ratio: 1.5, ...more });
const ids = (groups: ReturnType<typeof arranged>): string[][] => groups.map(({ shots }) => shots.map(({ id }) => id));
const approved = { state: 'approved', note: '', changedSince: false } as const;

describe('the wall', () => {
  const shots = [shot('Hall', { room: { name: 'hall', seen: false } }), shot('Kitchen 1', { room: { name: 'kitchen', seen: false }, gain: 3 }), shot('x'), shot('Kitchen 2', { room: { name: 'kitchen', seen: false }, gain: 5, review: approved }), shot('y', { gain: 1 })];
  test('lies by tour, by room in the order in which the tour comes to it, or where most is to gain, approved ones last', () => {
    expect(ids(arranged(shots, 'tour'))).toEqual([['Hall', 'Kitchen 1', 'x', 'Kitchen 2', 'y']]);
    expect(ids(arranged(shots, 'room'))).toEqual([['Hall'], ['Kitchen 1', 'Kitchen 2'], ['x', 'y']]);
    expect(arranged(shots, 'room').map(({ title }) => title)).toEqual(['Hall', 'Kitchen', 'Each by itself']);
    expect(ids(arranged(shots, 'gain'))).toEqual([['Kitchen 1', 'y', 'Hall', 'x', 'Kitchen 2']]);
  });
  test('is walked by rows: groups begin one, ends are stayed at', () => {
    const groups = arranged(shots, 'room');
    expect(stepped(groups, null, 2, [1, 0])).toBe('Hall');
    expect(stepped(groups, 'Hall', 2, [1, 0])).toBe('Kitchen 1');
    expect(stepped(groups, 'Kitchen 2', 2, [0, 1])).toBe('y');
    expect(stepped(groups, 'Kitchen 2', 2, [0, -1])).toBe('Hall');
    expect(stepped(groups, 'y', 2, [1, 0])).toBe('y');
    expect(stepped(groups, 'Kitchen 2', 1, [0, 1])).toBe('x');
    expect(stepped([], null, 3, [1, 0])).toBeNull();
  });
  test('pictures move to the place of another, either way', () => {
    expect(movedTo(['a', 'b', 'c', 'd'], 'd', 'b')).toEqual(['a', 'd', 'b', 'c']);
    expect(movedTo(['a', 'b', 'c', 'd'], 'a', 'c')).toEqual(['b', 'c', 'a', 'd']);
    expect(movedTo(['a', 'b'], 'a', 'x')).toEqual(['a', 'b']);
  });
  test('says what is thought of a picture; one that was changed since does not count as approved', () => {
    expect(reviewWords(shot('a'))).toBeNull();
    expect(reviewWords(shot('a', { review: { ...approved, changedSince: true } }))).toBe('Approved, changed since');
    expect(tally([shot('a', { review: approved }), shot('b', { review: { ...approved, changedSince: true } }), shot('c', { review: { state: 'later', note: '', changedSince: true } }), shot('d')])).toEqual({ approved: 1, back: 0, later: 1, open: 2 });
  });
  test('a picture that was given up is told from one that is being drawn, and from one that has no mix', () => {
    expect([shot('a'), shot('b', { preview: null, drawing: true }), shot('c', { preview: null }), shot('d', { revision: 3 }), shot('e', { revision: null, preview: null })].map(isGivenUp)).toEqual([false, false, true, true, false]);
  });
});
