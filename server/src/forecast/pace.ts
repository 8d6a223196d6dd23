/** A job that was done: when, in seconds of any clock, and how much it was. */
export interface DoneWork {
  readonly from: number;
  readonly to: number;
  readonly units: number;
}

/** How fast a kind of work goes on a machine. */
export interface Pace {
  /** Seconds of the machine's time for each unit, however many are worked on at once. */
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

/** A job with its part of the machine's time. */
export interface SharedWork extends DoneWork {
  /** Seconds: while several jobs were in hand, each has as much of the time as any other (processor sharing, Kleinrock 1967). */
  readonly share: number;
}

/** Shares the machine's time out among all jobs that were in hand, of whatever kind. */
export function sharedOut<K extends DoneWork>(jobs: readonly K[]): (K & SharedWork)[] {
  const times = jobs.flatMap(({ from, to }) => [{ at: from, step: 1 }, { at: to, step: -1 }]).sort((a, b) => a.at - b.at);
  // Time that one job has had since the first began, by when it changed how fast that grows.
  const had = new Map<number, number>();
  let [sum, running, last] = [0, 0, times[0]?.at ?? 0];
  for (const { at, step } of times) {
    if (running > 0) sum += (at - last) / running;
    had.set(at, sum);
    [running, last] = [running + step, at];
  }
  return jobs.map((job) => ({ ...job, share: had.get(job.to)! - had.get(job.from)! }));
}

/** A job that took more than this many times as long, for its amount, as most do was held up: by a process that had just begun, by a disk. */
const HELD_UP = 2.5;

/** Jobs with none beyond what it usually is by much. */
function evened(jobs: readonly SharedWork[]): SharedWork[] {
  const each = jobs.map(({ share, units }) => share / units).sort((a, b) => a - b);
  const most = HELD_UP * each[each.length >> 1];
  return jobs.map((job) => ({ ...job, share: Math.min(job.share, most * job.units) }));
}

const perUnit = (jobs: readonly SharedWork[]): number => jobs.reduce((sum, { share }) => sum + share, 0) / jobs.reduce((sum, { units }) => sum + units, 0);

/**
 * The pace of the latest jobs: their part of the machine's time over all that was done, so that jobs that go on beside each other, or beside
 * work of another kind, count as they pass. The spread is the standard error over stretches of jobs (batch means). @returns null where there are none
 */
export function paceOf(jobs: readonly SharedWork[]): Pace | null {
  const latest = evened([...jobs].sort((a, b) => a.to - b.to).slice(-LATEST));
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

/** What is usual counts as much as this many jobs at first, and nothing once there are so many: the first ones of a kind are slow. */
const DOUBT = 2;
const ENOUGH = 10;

/** How much slower this machine is than the usual one, by all kinds that were measured. */
function machineOf(measured: ReadonlyMap<string, Pace>): number {
  let [sum, jobs] = [0, 1];
  for (const [kind, { secondsPerUnit, measured: count }] of measured) {
    if (!USUAL[kind]) continue;
    sum += Math.min(count, ENOUGH) * Math.log(secondsPerUnit / USUAL[kind]);
    jobs += Math.min(count, ENOUGH);
  }
  return Math.exp(sum / jobs);
}

/** Paces of all kinds: measured ones, the less the fewer jobs tell held against the usual ones, by as much faster or slower as this machine is at what was measured. */
export function pacesOf(done: ReadonlyMap<string, readonly DoneWork[]>): (kind: string) => Pace {
  const all = sharedOut([...done].flatMap(([kind, jobs]) => jobs.map((job) => ({ ...job, kind }))));
  const measured = new Map([...done.keys()].flatMap((kind) => {
    const pace = paceOf(all.filter((job) => job.kind === kind));
    return pace ? [[kind, pace] as const] : [];
  }));
  const machine = machineOf(measured);
  return (kind) => {
    const usual = (USUAL[kind] ?? USUAL['deliver jpeg']) * machine;
    const pace = measured.get(kind);
    if (!pace) return { secondsPerUnit: usual, spread: GUESSED, measured: 0 };
    const doubt = DOUBT * Math.max(0, 1 - pace.measured / ENOUGH);
    return { ...pace, secondsPerUnit: Math.exp((pace.measured * Math.log(pace.secondsPerUnit) + doubt * Math.log(usual)) / (pace.measured + doubt)) };
  };
}
