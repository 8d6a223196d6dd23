/** A job that was done: when, in seconds of any clock, and how much it was. */
export interface DoneWork {
  readonly from: number;
  readonly to: number;
  readonly units: number;
}

/** How fast a kind of work goes on a machine. */
export interface Pace {
  /** Seconds that pass for each unit, however many are worked on at once. */
  readonly secondsPerUnit: number;
  /** Standard error of that, as a share of it. */
  readonly spread: number;
  /** Jobs that it was measured on. */
  readonly measured: number;
}

/** Jobs that tell the pace of now. */
const LATEST = 60;
/** Stretches that are held against each other, to tell the spread. */
const STRETCHES = 6;
/** No forecast is better than this: what comes differs from what was. */
const LEAST_SPREAD = 0.04;
/** What one or two jobs tell is little. */
const ONE_JOB = 0.4;

/** Seconds in which at least one of the jobs was worked on. */
export function busySeconds(jobs: readonly DoneWork[]): number {
  let [busy, until] = [0, -Infinity];
  for (const { from, to } of [...jobs].sort((a, b) => a.from - b.from)) {
    busy += Math.max(0, to - Math.max(from, until));
    until = Math.max(until, to);
  }
  return busy;
}

const perUnit = (jobs: readonly DoneWork[]): number => busySeconds(jobs) / jobs.reduce((sum, { units }) => sum + units, 0);

/**
 * The pace of the latest jobs: time in which any was in hand over all that was done, so that jobs that go on beside each other count as they pass.
 * The spread is the standard error over stretches of jobs (batch means). @returns null where there are none
 */
export function paceOf(jobs: readonly DoneWork[]): Pace | null {
  const latest = [...jobs].sort((a, b) => a.to - b.to).slice(-LATEST);
  if (latest.length === 0) return null;
  const secondsPerUnit = perUnit(latest);
  const count = Math.min(STRETCHES, latest.length >> 1);
  if (count < 2) return { secondsPerUnit, spread: ONE_JOB / Math.sqrt(latest.length), measured: latest.length };
  const paces = Array.from({ length: count }, (_, k) => perUnit(latest.slice(Math.round((k * latest.length) / count), Math.round(((k + 1) * latest.length) / count))));
  const mean = paces.reduce((a, b) => a + b) / count;
  const deviation = Math.sqrt(paces.reduce((sum, pace) => sum + (pace - mean) ** 2, 0) / (count - 1));
  return { secondsPerUnit, spread: Math.max(LEAST_SPREAD, deviation / mean / Math.sqrt(count)), measured: latest.length };
}

/** Seconds a unit on a machine of two cores, for work that was not measured yet. */
const USUAL: Readonly<Record<string, number>> = { gather: 0.09, sort: 0.02, propose: 0.6, preview: 1, 'deliver jpeg': 0.028, 'deliver tiff8': 0.035, 'deliver png16': 0.25, 'deliver tiff16': 0.05, 'deliver tiff32': 0.05, 'deliver radiance': 0.08, 'deliver openexr': 0.2, 'deliver openraster': 0.35, 'deliver png': 0.08, 'deliver avif': 0.07, 'deliver webp': 0.05 };
/** A share by which a guess is off. */
const GUESSED = 0.5;

/** Paces of all kinds: measured ones, and for others the usual ones, by as much faster or slower as this machine is at what was measured. */
export function pacesOf(done: ReadonlyMap<string, readonly DoneWork[]>): (kind: string) => Pace {
  const measured = new Map([...done].flatMap(([kind, jobs]) => {
    const pace = paceOf(jobs);
    return pace ? [[kind, pace] as const] : [];
  }));
  const ratios = [...measured].flatMap(([kind, { secondsPerUnit }]) => (USUAL[kind] ? [Math.log(secondsPerUnit / USUAL[kind])] : []));
  const machine = ratios.length === 0 ? 1 : Math.exp(ratios.reduce((a, b) => a + b) / ratios.length);
  return (kind) => measured.get(kind) ?? { secondsPerUnit: (USUAL[kind] ?? USUAL['deliver jpeg']) * machine, spread: GUESSED, measured: 0 };
}
