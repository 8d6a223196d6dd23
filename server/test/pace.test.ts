import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { handTime, USUAL_HAND } from '../src/forecast/handTime';
import { busySeconds, paceOf, pacesOf, type DoneWork } from '../src/forecast/pace';

const job = fc.record({ from: fc.double({ min: 0, max: 1e5, noNaN: true }), took: fc.double({ min: 0.1, max: 300, noNaN: true }), units: fc.double({ min: 0.1, max: 50, noNaN: true }) }).map(({ from, took, units }): DoneWork => ({ from, to: from + took, units }));

describe('the pace of a machine', () => {
  test('time counts once, however many work in it, and not where nobody does', () => {
    expect(busySeconds([{ from: 0, to: 10, units: 1 }, { from: 5, to: 12, units: 1 }, { from: 100, to: 103, units: 1 }])).toBe(15);
    fc.assert(fc.property(fc.array(job, { minLength: 1, maxLength: 40 }), (jobs) => {
      const busy = busySeconds(jobs);
      expect(busy).toBeLessThanOrEqual(jobs.reduce((sum, { from, to }) => sum + to - from, 0) + 1e-6);
      expect(busy).toBeGreaterThanOrEqual(Math.max(...jobs.map(({ from, to }) => to - from)) - 1e-6);
      expect(busySeconds([...jobs].reverse())).toBe(busy);
    }));
  });
  test('is that of the work, whether one or two go on beside each other', () => {
    const one = Array.from({ length: 20 }, (_, k): DoneWork => ({ from: 4 * k, to: 4 * k + 4, units: 2 }));
    const two = Array.from({ length: 20 }, (_, k): DoneWork => ({ from: 4 * (k >> 1), to: 4 * (k >> 1) + 4, units: 2 }));
    expect(paceOf(one)!.secondsPerUnit).toBeCloseTo(2, 6);
    expect(paceOf(two)!.secondsPerUnit).toBeCloseTo(1, 6);
  });
  test('follows what was lately, and its spread holds the truth in nine of ten cases', () => {
    const slowThenQuick = Array.from({ length: 200 }, (_, k): DoneWork => ({ from: 10 * k, to: 10 * k + (k < 120 ? 9 : 3), units: 1 }));
    expect(paceOf(slowThenQuick)!.secondsPerUnit).toBeCloseTo(3, 6);
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
      const { secondsPerUnit, spread } = paceOf(jobs)!;
      if (Math.abs(secondsPerUnit - 2) <= 1.645 * spread * secondsPerUnit) held++;
    }
    expect(held / runs).toBeGreaterThan(0.8);
  });
  test('of what was never measured is the usual one, by as much as this machine is quicker', () => {
    const none = pacesOf(new Map());
    const quick = pacesOf(new Map([['propose', [{ from: 0, to: none('propose').secondsPerUnit * 5, units: 10 }]]]));
    expect(quick('gather').secondsPerUnit).toBeCloseTo(none('gather').secondsPerUnit / 2, 9);
    expect(quick('gather')).toMatchObject({ measured: 0, spread: 0.5 });
    expect(none('deliver something')).toMatchObject({ secondsPerUnit: none('deliver jpeg').secondsPerUnit });
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
