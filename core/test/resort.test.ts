import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { keepShots } from '../src/intake/keepShots';
import { resort } from '../src/intake/resort';
import type { SortedShot } from '../src/intake/groupShots';

/*
 * Shots keep their identity when frames come later.
 */

let made = 0;
const newId = (): string => `new-${++made}`;
const shot = (...frames: string[]): SortedShot => ({ frames, confidence: 1, why: '' }) as SortedShot;
/** A way to cut frames into shots. */
const partition = (frames: readonly string[]) => fc.array(fc.integer({ min: 0, max: 3 }), { minLength: frames.length, maxLength: frames.length }).map((homes) => [0, 1, 2, 3].map((h) => frames.filter((_, k) => homes[k] === h)).filter((f) => f.length > 0));
const FRAMES = Array.from({ length: 9 }, (_, k) => `f${k}`);

describe('shots keep their identity', () => {
  test('the one that shares most frames has the name; each name is given once', () => {
    expect(keepShots([{ id: 'A', frames: ['a', 'b'] }, { id: 'B', frames: ['c'] }], [shot('a', 'b', 'late'), shot('c', 'd')], newId).map((s) => s.id)).toEqual(['A', 'B']);
    // A shot is cut in two: the larger part is still it.
    const [small, large] = keepShots([{ id: 'A', frames: ['a', 'b', 'c', 'd', 'e'] }], [shot('a', 'b'), shot('c', 'd', 'e')], newId);
    expect(large.id).toBe('A');
    expect(small.id).not.toBe('A');
    // Two become one: one of both names lives on.
    expect(['A', 'B']).toContain(keepShots([{ id: 'A', frames: ['a'] }, { id: 'B', frames: ['b', 'c'] }], [shot('a', 'b', 'c')], newId)[0].id);
  });
  test('whatever sorting makes of frames: no name twice, and what stayed the same keeps its name', () => {
    fc.assert(fc.property(partition(FRAMES.slice(0, 7)), partition(FRAMES), (before, after) => {
      const known = before.map((frames, k) => ({ id: `s${k}`, frames }));
      const kept = keepShots(known, after.map((frames) => shot(...frames)), newId);
      expect(new Set(kept.map((s) => s.id)).size).toBe(kept.length);
      for (const { id, frames } of known) {
        const same = kept.find((s) => s.frames.join() === frames.join());
        if (same) expect(same.id).toBe(id);
      }
      for (const { id, frames } of kept) {
        const old = known.find((s) => s.id === id);
        if (old) expect(old.frames.some((f) => frames.includes(f))).toBe(true);
      }
    }));
  });
  test('a shot that is held loses no frame, every frame lies in one shot, and shots come in the order of taking', () => {
    fc.assert(fc.property(partition(FRAMES.slice(0, 7)), partition(FRAMES), fc.integer({ min: 0, max: 15 }), (before, after, mask) => {
      const known = before.map((frames, k) => ({ id: `s${k}`, frames }));
      const held = (id: string): boolean => ((mask >> Number(id.slice(1))) & 1) === 1;
      const { shots } = resort({ shots: known, dropped: [] }, after.map((frames) => shot(...frames)), held, FRAMES, newId);
      expect(shots.flatMap((s) => s.frames).sort()).toEqual([...FRAMES].sort());
      for (const { id, frames } of known) if (held(id)) expect(shots.find((s) => s.id === id)!.frames).toEqual(expect.arrayContaining([...frames]));
      const firsts = shots.map((s) => FRAMES.indexOf(s.frames[0]));
      expect(firsts).toEqual([...firsts].sort((a, b) => a - b));
    }));
  });
  test('what was dropped stays dropped', () => {
    const { shots, dropped } = resort({ shots: [{ id: 'A', frames: ['f0'] }], dropped: ['f1'] }, [shot('f0', 'f1', 'f2')], () => true, FRAMES, newId);
    expect([shots.map((s) => [s.id, s.frames]), dropped]).toEqual([[['A', ['f0', 'f2']]], ['f1']]);
  });
});
