import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { addLater, regroup, RegroupError, type Grouping, type GroupingCommand } from '../src/intake/regroup';

const order = Array.from({ length: 12 }, (_, k) => `f${k}`);
const start: Grouping = { shots: [{ id: 'A', frames: order.slice(0, 4) }, { id: 'B', frames: order.slice(4, 9) }, { id: 'C', frames: order.slice(9, 12) }], dropped: [] };
const ids = (): (() => string) => { let n = 0; return () => `new${++n}`; };
const after = (command: GroupingCommand, from = start): Grouping => regroup(from, command, order, ids());
const shape = (g: Grouping): Record<string, string> => Object.fromEntries(g.shots.map((s) => [s.id, s.frames.map((f) => f.slice(1)).join()]));

describe('correcting shots by hand', () => {
  test('each command does what it says and leaves other shots as they are', () => {
    expect(shape(after({ kind: 'move', frames: ['f4', 'f5'], to: 'A' }))).toEqual({ A: '0,1,2,3,4,5', B: '6,7,8', C: '9,10,11' });
    expect(shape(after({ kind: 'gather', frames: ['f8', 'f6'] }))).toEqual({ A: '0,1,2,3', B: '4,5,7', new1: '6,8', C: '9,10,11' });
    expect(shape(after({ kind: 'split', before: 'f6' }))).toEqual({ A: '0,1,2,3', B: '4,5', new1: '6,7,8', C: '9,10,11' });
    expect(shape(after({ kind: 'join', shots: ['C', 'A'] }))).toEqual({ A: '0,1,2,3,9,10,11', B: '4,5,6,7,8' });
    expect(shape(after({ kind: 'singles', shot: 'C' }))).toEqual({ A: '0,1,2,3', B: '4,5,6,7,8', C: '9', new1: '10', new2: '11' });
    expect(shape(after({ kind: 'every', frames: order.slice(4), count: 3 }))).toEqual({ A: '0,1,2,3', new1: '4,5,6', new2: '7,8,9', new3: '10,11' });
    const dropped = after({ kind: 'drop', frames: ['f9', 'f10', 'f11'] });
    expect(shape(dropped)).toEqual({ A: '0,1,2,3', B: '4,5,6,7,8' });
    expect(dropped.dropped).toEqual(['f9', 'f10', 'f11']);
    expect(shape(after({ kind: 'move', frames: ['f10'], to: 'B' }, dropped))).toEqual({ A: '0,1,2,3', B: '4,5,6,7,8,10' });
  });
  test('what does not fit is refused with a reason', () => {
    for (const command of [{ kind: 'move', frames: ['f1'], to: 'Z' }, { kind: 'gather', frames: [] }, { kind: 'split', before: 'f4' }, { kind: 'join', shots: ['A', 'A'] }, { kind: 'drop', frames: ['x'] }, { kind: 'every', frames: ['f1'], count: 0.5 }, { kind: 'singles', shot: 'Z' }] as GroupingCommand[]) {
      expect(() => after(command)).toThrow(RegroupError);
    }
  });
  test('no run of commands loses or doubles a frame, and order holds', () => {
    const frames = fc.subarray(order, { minLength: 1 });
    const command = (g: Grouping): fc.Arbitrary<GroupingCommand> => {
      const shot = fc.constantFrom(...g.shots.map((s) => s.id));
      return fc.oneof(
        fc.record({ kind: fc.constant('move' as const), frames, to: shot }), fc.record({ kind: fc.constant('gather' as const), frames }), fc.record({ kind: fc.constant('split' as const), before: fc.constantFrom(...order) }),
        fc.record({ kind: fc.constant('join' as const), shots: fc.array(shot, { minLength: 2, maxLength: 3 }) }), fc.record({ kind: fc.constant('singles' as const), shot }),
        fc.record({ kind: fc.constant('every' as const), frames, count: fc.integer({ min: 1, max: 5 }) }), fc.record({ kind: fc.constant('drop' as const), frames }),
      );
    };
    fc.assert(fc.property(fc.gen(), fc.integer({ min: 1, max: 12 }), (draw, steps) => {
      let g = start;
      const id = ids();
      for (let k = 0; k < steps && g.shots.length > 0; k++) {
        try {
          g = regroup(g, draw(() => command(g)), order, id);
        } catch (error) {
          expect(error).toBeInstanceOf(RegroupError);
        }
        expect([...g.shots.flatMap((s) => s.frames), ...g.dropped].sort()).toEqual([...order].sort());
        for (const s of g.shots) expect(s.frames).toEqual([...s.frames].sort((a, b) => order.indexOf(a) - order.indexOf(b)));
        expect(new Set(g.shots.map((s) => s.id)).size).toBe(g.shots.length);
      }
    }), { numRuns: 150 });
  });
});

describe('frames that come later', () => {
  test('join the shot that sorting puts them beside, or one of their own; what was dropped stays dropped', () => {
    const touched: Grouping = { shots: [{ id: 'A', frames: ['f0', 'f1'] }, { id: 'B', frames: ['f4'] }], dropped: ['f2'] };
    const sorted = [{ frames: ['f0', 'f1', 'f2', 'f3'] }, { frames: ['f4', 'f5'] }, { frames: ['f6', 'f7'] }];
    expect(shape(addLater(touched, sorted, ids()))).toEqual({ A: '0,1,3', B: '4,5', new1: '6,7' });
  });
});
