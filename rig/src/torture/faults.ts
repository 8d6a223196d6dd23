import { execFileSync } from 'node:child_process';
import { rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pause, type Dice } from '../dice';
import type { Instance } from './instance';
import type { Wire } from './wire';

/** What may be hurt. */
export interface Victims {
  readonly instance: Instance;
  /** Between whoever works and the server, and between the server and its receiver. */
  readonly wires: readonly Wire[];
  /** Ends the receiver and starts it again. */
  readonly restartReceiver: (downFor: number) => Promise<void>;
  /** Folder of a small disk of its own that the store lies on; null where this user may mount none. */
  readonly smallDisk: string | null;
}

/** One way to hurt a server. Does it, and takes back what does not go away by itself; what was killed is for others to start again. */
export interface Fault {
  readonly name: string;
  /** How often it comes, against the others: after some everything has to be started again, and work is to get on between. */
  readonly weight: number;
  /** Whether it can be done on this machine. */
  possible(victims: Victims): boolean;
  inflict(victims: Victims, dice: Dice): Promise<void>;
}

const signal = (pid: number | null, what: NodeJS.Signals): void => {
  try {
    if (pid !== null) process.kill(pid, what);
  } catch {
    // It ended meanwhile.
  }
};
const always = (): boolean => true;
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
/** Stops a process for a while, as a machine that swaps does. */
async function halt(pid: number | null, ms: number): Promise<void> {
  signal(pid, 'SIGSTOP');
  await pause(ms);
  signal(pid, 'SIGCONT');
}
const someWorker = ({ instance }: Victims, dice: Dice): number | null => (instance.workers.length > 0 ? dice.pick(instance.workers) : null);

/** Takes all room on a disk until it is given back. @returns what gives it back */
export function fillDisk(folder: string): () => void {
  const ballast = join(folder, 'ballast');
  const { bavail, bsize } = statfsSync(folder);
  try {
    execFileSync('fallocate', ['-l', String(Math.max(bsize, bavail * bsize)), ballast]);
  } catch {
    // Others wrote meanwhile: as good as full.
    writeFileSync(ballast, '');
  }
  return () => rmSync(ballast, { force: true });
}

const FAULTS: readonly Fault[] = [
  { name: 'server killed', weight: 1, possible: always, inflict: async ({ instance }) => signal(instance.server, 'SIGKILL') },
  { name: 'worker killed', weight: 2, possible: always, inflict: async (victims, dice) => signal(someWorker(victims, dice), 'SIGKILL') },
  { name: 'all workers killed', weight: 1, possible: always, inflict: async ({ instance }) => instance.workers.forEach((pid) => signal(pid, 'SIGKILL')) },
  { name: 'database killed', weight: 2, possible: always, inflict: async ({ instance }) => signal(instance.database, 'SIGKILL') },
  { name: 'database restarted', weight: 2, possible: always, inflict: async ({ instance }) => signal(instance.database, 'SIGINT') },
  { name: 'server stopped for a while', weight: 3, possible: always, inflict: async ({ instance }, dice) => halt(instance.server, dice.between(500, 4000)) },
  { name: 'worker stopped for a while', weight: 3, possible: always, inflict: async (victims, dice) => halt(someWorker(victims, dice), dice.between(500, 6000)) },
  { name: 'worker stopped for good', weight: 1, possible: always, inflict: async (victims, dice) => signal(someWorker(victims, dice), 'SIGSTOP') },
  { name: 'database stopped for a while', weight: 3, possible: always, inflict: async ({ instance }, dice) => halt(instance.database, dice.between(500, 3000)) },
  {
    name: 'worker by fits and starts', weight: 3, possible: always,
    inflict: async (victims, dice) => {
      const pid = someWorker(victims, dice);
      for (let k = 0; k < 12; k++) { await halt(pid, 150); await pause(50); }
    },
  },
  {
    name: 'network cut', weight: 3, possible: always,
    inflict: async ({ wires }, dice) => {
      const wire = dice.pick(wires);
      wire.cut();
      await pause(dice.between(0, 2500));
      wire.mend();
    },
  },
  { name: 'receiver restarted', weight: 3, possible: always, inflict: async ({ restartReceiver }, dice) => restartReceiver(dice.between(0, 2500)) },
  {
    name: 'disk full', weight: 3, possible: ({ smallDisk }) => smallDisk !== null,
    inflict: async ({ smallDisk }, dice) => {
      const giveBack = fillDisk(smallDisk!);
      await pause(dice.between(500, 4000));
      giveBack();
    },
  },
  {
    // It stays wrong until it is put right, as often by another jump.
    name: 'clock jumps', weight: 3, possible: always,
    inflict: async ({ instance }, dice) => Promise.resolve(instance.afflict({ clock: dice.pick([-DAY, -HOUR, -MINUTE, 0, 0, MINUTE, HOUR, DAY]) * dice.between(1, 3) })),
  },
  {
    name: 'disk slow', weight: 3, possible: always,
    inflict: async ({ instance }, dice) => {
      instance.afflict({ disk: dice.between(5, 300) });
      await pause(dice.between(1000, 6000));
      instance.afflict({ disk: 0 });
    },
  },
  {
    name: 'server and database killed', weight: 1, possible: always,
    inflict: async ({ instance }) => {
      const { database } = instance;
      signal(instance.server, 'SIGKILL');
      signal(database, 'SIGKILL');
    },
  },
];

/** Names of all faults. */
export const FAULT_NAMES = FAULTS.map(({ name }) => name);

/** The faults that a machine allows, of those that have one of some words in their names (all: none said), each as often as it is to come; and the names of those that it does not. */
export function faultsFor(victims: Victims, words: readonly string[]): { readonly bag: readonly Fault[]; readonly leftOut: readonly string[] } {
  const wanted = FAULTS.filter(({ name }) => words.length === 0 || words.some((word) => name.includes(word)));
  return { bag: wanted.flatMap((fault) => (fault.possible(victims) ? Array.from({ length: fault.weight }, () => fault) : [])), leftOut: wanted.filter((fault) => !fault.possible(victims)).map(({ name }) => name) };
}
