import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { foresee, type Left, type ShootWork } from '../src/forecast/foresee';

const left = (seconds: number, spread = 0): Left => ({ seconds, spread });
const NOTHING: ShootWork = { id: 'a', due: null, reading: left(0), mixing: left(0), unmixed: 0, byHand: 0, hand: left(60), toCome: [], waits: 0, ordered: left(0), paused: 0 };
const amount = fc.double({ min: 0, max: 5000, noNaN: true });
const leftover = fc.record({ seconds: amount, spread: fc.double({ min: 0, max: 0.5, noNaN: true }) });
const work = fc.record({ due: fc.option(fc.double({ min: -1e4, max: 1e5, noNaN: true })), reading: leftover, mixing: leftover, unmixed: fc.nat(30), more: fc.nat(30), hand: leftover, first: leftover, second: leftover, ordered: leftover }).map(
  ({ unmixed, more, first, second, ...rest }): Omit<ShootWork, 'id'> => ({ ...rest, unmixed: rest.mixing.seconds > 0 ? unmixed + 1 : 0, byHand: (rest.mixing.seconds > 0 ? unmixed + 1 : 0) + more, toCome: [{ order: 'listing', left: first }, { order: 'print', left: second }], waits: 0, paused: 0 }),
);

describe('when a shoot will be done', () => {
  test('machine alone: reading, then mixing, then what is delivered without a hand', () => {
    const [one] = foresee([{ ...NOTHING, reading: left(100), mixing: left(200), unmixed: 4, toCome: [{ order: 'full', left: left(50) }] }]);
    expect(one).toMatchObject({ read: 100, mixed: 300, delivered: 350, machineSeconds: 350, handSeconds: 0, within: 0, inHand: null, helps: [] });
    // What was ordered ahead waits a little for frames that may still come.
    expect(foresee([{ ...NOTHING, mixing: left(200), unmixed: 4, toCome: [{ order: 'full', left: left(50) }], waits: 20 }])[0]).toMatchObject({ mixed: 200, delivered: 270 });
  });
  test('a hand begins with the first shot that is there, and pictures go out as they leave it', () => {
    const [one] = foresee([{ ...NOTHING, mixing: left(40), unmixed: 4, byHand: 4, hand: left(60), toCome: [{ order: 'full', left: left(20) }] }]);
    // First shot at 10, then four times 60; the last picture takes 5.
    expect(one).toMatchObject({ mixed: 40, byHand: 250, delivered: 255 });
  });
  test('what is due first is done first; who comes later waits for machine and hand', () => {
    const each = { ...NOTHING, mixing: left(100), unmixed: 2, byHand: 2, toCome: [] };
    const [soon, late] = foresee([{ ...each, id: 'late', due: 9000 }, { ...each, id: 'soon', due: 500 }]);
    expect([soon.id, late.id]).toEqual(['soon', 'late']);
    expect(soon).toMatchObject({ mixed: 100, byHand: 170, delivered: 170, inHand: 330 });
    expect(late).toMatchObject({ mixed: 200, byHand: 290, delivered: 290 });
  });
  test('what is in the queue already waits for nobody’s hand', () => {
    const [soon, later] = foresee([{ ...NOTHING, id: 'later', due: 9000, ordered: left(70) }, { ...NOTHING, id: 'soon', due: 500, byHand: 3, hand: left(600), toCome: [{ order: 'full', left: left(30) }] }]);
    expect(later.delivered).toBe(70);
    expect(soon.delivered).toBe(1810);
  });
  test('more work is never done sooner, and its error is never none', () => {
    fc.assert(fc.property(fc.array(work, { minLength: 1, maxLength: 4 }), fc.nat(3), fc.constantFrom('reading', 'mixing', 'hand', 'ordered'), (works, at, more) => {
      const shoots = works.map((each, k): ShootWork => ({ ...each, id: String(k) }));
      const which = shoots[at % shoots.length];
      const before = foresee(shoots);
      const after = foresee(shoots.map((each) => (each === which ? { ...each, [more]: left(each[more].seconds + 500, each[more].spread) } : each)));
      before.forEach(({ delivered, read, mixed }, k) => {
        expect(after[k].delivered).toBeGreaterThanOrEqual(delivered - 1e-6);
        expect(mixed).toBeGreaterThanOrEqual(read - 1e-6);
        expect(before[k].within).toBeGreaterThanOrEqual(0);
      });
    }));
  });
  test('a late one is told what would help, what saves most first, and each saves what it says', () => {
    fc.assert(fc.property(work, (each) => {
      const shoot: ShootWork = { ...each, id: 'a', due: 1 };
      const [{ delivered, helps, inHand }] = foresee([shoot]);
      expect(inHand! >= 0 && helps.length > 0).toBe(false);
      expect(helps.map(({ seconds }) => seconds)).toEqual(helps.map(({ seconds }) => seconds).sort((a, b) => b - a));
      for (const help of helps) {
        expect(help.seconds).toBeGreaterThanOrEqual(60);
        if (help.kind === 'as they stand') expect(foresee([{ ...shoot, hand: left(0) }])[0].delivered).toBeCloseTo(delivered - help.seconds, 6);
        if (help.kind === 'leave out') expect(foresee([{ ...shoot, toCome: shoot.toCome.filter(({ order }) => order !== help.order) }])[0].delivered).toBeCloseTo(delivered - help.seconds, 6);
      }
    }));
  });
  test('errors of stages that the end does not wait for do not count', () => {
    const shoot: ShootWork = { ...NOTHING, mixing: left(10, 0.5), unmixed: 10, byHand: 10, hand: left(600, 0.1), toCome: [{ order: 'full', left: left(10, 0) }] };
    const [{ within }] = foresee([shoot]);
    expect(within / (6000 * 0.1 * 1.645)).toBeCloseTo(1, 2);
  });
});
