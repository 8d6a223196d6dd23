import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { handTime, USUAL_HAND } from '../src/forecast/handTime';
import { paceOf, pacesOf, sharedOut, type DoneWork } from '../src/forecast/pace';

const job = fc.record({ from: fc.double({ min: 0, max: 1e5, noNaN: true }), took: fc.double({ min: 0.1, max: 300, noNaN: true }), units: fc.double({ min: 0.1, max: 50, noNaN: true }) }).map(({ from, took, units }): DoneWork => ({ from, to: from + took, units }));

describe('the pace of a machine', () => {
  test('time counts once, shared out among all that work in it, and not where nobody does', () => {
    expect(sharedOut([{ from: 0, to: 10, units: 1 }, { from: 5, to: 12, units: 1 }, { from: 100, to: 103, units: 1 }]).map(({ share }) => share)).toEqual([7.5, 4.5, 3]);
    fc.assert(fc.property(fc.array(job, { minLength: 1, maxLength: 40 }), (jobs) => {
      const shares = sharedOut(jobs);
      let [busy, until] = [0, -Infinity];
      for (const { from, to } of [...jobs].sort((a, b) => a.from - b.from)) {
        busy += Math.max(0, to - Math.max(from, until));
        until = Math.max(until, to);
      }
      expect(shares.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(busy, 4);
      for (const { share, from, to } of shares) expect(share).toBeLessThanOrEqual(to - from + 1e-6);
    }));
  });
  test('is the same for work of one kind, whether another kind goes on beside it or after it', () => {
    const mix = (at: number, beside: boolean): Map<string, DoneWork[]> => new Map([['gather', Array.from({ length: 10 }, (_, k) => ({ from: at + (beside ? 2 : 1) * k, to: at + (beside ? 2 : 1) * (k + 1), units: 1 }))], ['propose', Array.from({ length: 10 }, (_, k) => (beside ? { from: at + 2 * k, to: at + 2 * k + 2, units: 1 } : { from: at + 20 + k, to: at + 21 + k, units: 1 }))]]);
    for (const kind of ['gather', 'propose']) expect(pacesOf(mix(50, true))(kind).secondsPerUnit).toBeCloseTo(pacesOf(mix(50, false))(kind).secondsPerUnit, 9);
  });
  test('is that of the work, whether one or two go on beside each other', () => {
    const one = Array.from({ length: 20 }, (_, k): DoneWork => ({ from: 4 * k, to: 4 * k + 4, units: 2 }));
    const two = Array.from({ length: 20 }, (_, k): DoneWork => ({ from: 4 * (k >> 1), to: 4 * (k >> 1) + 4, units: 2 }));
    expect(paceOf(sharedOut(one))!.secondsPerUnit).toBeCloseTo(2, 6);
    expect(paceOf(sharedOut(two))!.secondsPerUnit).toBeCloseTo(1, 6);
  });
  test('follows what was lately, and its spread holds the truth in nine of ten cases', () => {
    const slowThenQuick = Array.from({ length: 200 }, (_, k): DoneWork => ({ from: 10 * k, to: 10 * k + (k < 120 ? 9 : 3), units: 1 }));
    expect(paceOf(sharedOut(slowThenQuick))!.secondsPerUnit).toBeCloseTo(3, 6);
    let state = 12345;
    const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
    let held = 0;
    const runs = 400;
    for (let run = 0; run < runs; run++) {
      let now = 0;
      const jobs = Array.from({ length: 36 }, (): DoneWork => {
        const units = 1 + 4 * next();
        const took = units * 2 * (0.5 + next());
        now += took;
        return { from: now - took, to: now, units };
      });
      const { secondsPerUnit, spread } = paceOf(sharedOut(jobs))!;
      if (Math.abs(secondsPerUnit - 2) <= 1.645 * spread * secondsPerUnit) held++;
    }
    expect(held / runs).toBeGreaterThan(0.8);
  });
  test('of what was never measured is the usual one, by as much as this machine is quicker', () => {
    const none = pacesOf(new Map());
    const took = none('propose').secondsPerUnit * 5;
    const quick = pacesOf(new Map([['propose', Array.from({ length: 30 }, (_, k) => ({ from: k * took, to: (k + 1) * took, units: 10 }))]]));
    expect(quick('gather').secondsPerUnit / none('gather').secondsPerUnit).toBeCloseTo(0.5, 1);
    expect(quick('propose').secondsPerUnit / none('propose').secondsPerUnit).toBeCloseTo(0.5, 9);
    expect(quick('gather')).toMatchObject({ measured: 0, spread: 0.5 });
    expect(none('deliver something')).toMatchObject({ secondsPerUnit: none('deliver jpeg').secondsPerUnit });
  });
});

describe('the first jobs of a kind', () => {
  test('tell little when they are slow: a process that has just begun is no slow machine', () => {
    const usual = pacesOf(new Map())('deliver jpeg').secondsPerUnit;
    const jobs = (count: number): Map<string, DoneWork[]> => new Map([['deliver jpeg', Array.from({ length: count }, (_, k) => ({ from: 100 * k, to: 100 * k + 10 * usual * (k === 0 ? 8 : 1), units: 10 }))]]);
    expect(pacesOf(jobs(1))('deliver jpeg').secondsPerUnit / usual).toBeLessThan(4.5);
    expect(pacesOf(jobs(3))('deliver jpeg').secondsPerUnit / usual).toBeLessThan(1.6);
    expect(pacesOf(jobs(20))('deliver jpeg').secondsPerUnit / usual).toBeLessThan(1.1);
  });
});

describe('what a shot takes by hand', () => {
  test('is the time up to each moment, without pauses, of shots that somebody was done with', () => {
    const moments = [...Array.from({ length: 9 }, (_, k) => ({ shot: 'a', at: 15 * k })), ...Array.from({ length: 5 }, (_, k) => ({ shot: 'b', at: 180 + 15 * k })), { shot: 'c', at: 9000 }, { shot: 'open', at: 9060 }];
    // a: 30 to begin with and 120; b: 60 to come to it and 60; c after a pause: 30.
    expect(handTime(moments, new Set(['a', 'b', 'c']))).toMatchObject({ secondsPerShot: (150 + 120 + 30) / 3, shots: 3 });
    expect(handTime([...moments].reverse(), new Set(['a', 'b', 'c'])).secondsPerShot).toBe(100);
  });
  test('is a usual one until two shots tell', () => {
    expect(handTime([], new Set())).toEqual(USUAL_HAND);
    expect(handTime([{ shot: 'a', at: 5 }], new Set(['a']))).toEqual(USUAL_HAND);
  });
});
