/** A moment in which somebody had a hand on a shot, in seconds of any clock. */
export interface HandMoment {
  readonly shot: string;
  readonly at: number;
}

/** What a shot takes by hand. */
export interface HandTime {
  readonly secondsPerShot: number;
  /** Standard error of that, as a share of it. */
  readonly spread: number;
  /** Shots that it was measured on. */
  readonly shots: number;
}

/** Longer without a hand on anything is a pause, seconds. */
const PAUSE = 240;
/** What a moment after a pause took, seconds: looking, and the first grip. */
const FIRST_GRIP = 30;
/** Shots that count: what somebody took lately. */
const LATEST = 30;
/** Until something was measured, seconds a shot, and by what share that may be off. */
export const USUAL_HAND = { secondsPerShot: 180, spread: 0.5, shots: 0 } as const;

/**
 * What shots took by hand lately: the time from one moment to the next belongs to the shot that the next is about, unless it was a pause.
 * @param finished shots that somebody was done with; what is still in hand does not count
 */
export function handTime(moments: readonly HandMoment[], finished: ReadonlySet<string>): HandTime {
  const seconds = new Map<string, { took: number; last: number }>();
  let before = -Infinity;
  for (const { shot, at } of [...moments].sort((a, b) => a.at - b.at)) {
    const took = at - before <= PAUSE ? at - before : FIRST_GRIP;
    seconds.set(shot, { took: (seconds.get(shot)?.took ?? 0) + took, last: at });
    before = at;
  }
  const latest = [...seconds].filter(([shot]) => finished.has(shot)).sort(([, a], [, b]) => a.last - b.last).slice(-LATEST).map(([, { took }]) => took);
  if (latest.length < 2) return USUAL_HAND;
  const mean = latest.reduce((a, b) => a + b) / latest.length;
  const deviation = Math.sqrt(latest.reduce((sum, took) => sum + (took - mean) ** 2, 0) / (latest.length - 1));
  return { secondsPerShot: mean, spread: Math.max(0.05, deviation / mean / Math.sqrt(latest.length)), shots: latest.length };
}
