import { fork, type ChildProcess } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { fileURLToPath } from 'node:url';
import type { QueueName } from '../jobs/queues';

const CLI = fileURLToPath(new URL('../cli.ts', import.meta.url));
/** Descriptor in a worker process that its beats go to. */
const PULSE = 4;
/** Seconds without a beat after which a process counts as stopped for good: it beats every 1.5. */
const SILENCE = 12;
/** Seconds to the first beat, when a process starts; twice as many each time that one did not come so far, for machines that need longer: several processes that begin together on a busy one take half a minute. */
const STARTING = 60;

/** Watches the beats of a process. Seconds are counted, not told from a clock: a machine that slept accuses nobody. */
function watchPulse(child: ChildProcess, starting: number, onBeat: () => void): () => void {
  let silent = 0;
  let limit = starting;
  child.stdio[PULSE]?.on('error', () => undefined).on('data', () => {
    silent = 0;
    limit = SILENCE;
    onBeat();
  });
  const timer = setInterval(() => {
    silent += 1;
    if (silent <= limit) return;
    process.stderr.write('zaddle: a worker hangs; starting another\n');
    child.kill('SIGKILL');
  }, 1000);
  return () => clearInterval(timer);
}

/** What is made in the background gives way to whoever works at the desk. Told at once, so that all threads of the process begin with it. */
function giveWay({ pid }: ChildProcess): void {
  try {
    if (pid !== undefined) setPriority(pid, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // It ended at once, which is seen elsewhere, or this system does not let us.
  }
}

/**
 * Keeps one worker process alive: a dead or a stopped one is replaced, its job given back to the queue by its silence.
 * @param args of the command @param secrets told by its environment, which is private, as command lines are not @returns what ends it
 */
export function keepWorker(args: readonly string[], secrets: Readonly<Record<string, string>>, queues: readonly QueueName[]): () => Promise<void> {
  let stopping = false;
  let starting = STARTING;
  let child: ChildProcess;
  const launch = (): void => {
    child = fork(CLI, ['worker', ...args, '--only', queues.join(), '--pulse', String(PULSE)], { execArgv: ['--import', import.meta.resolve('tsx')], env: { ...process.env, ...secrets }, stdio: ['ignore', 'inherit', 'inherit', 'ipc', 'pipe'] });
    giveWay(child);
    let beaten = false;
    const stopWatching = watchPulse(child, starting, () => (beaten = true));
    child.on('exit', () => {
      stopWatching();
      starting = beaten ? STARTING : starting * 2;
      if (!stopping) setTimeout(() => !stopping && launch(), 500);
    });
  };
  launch();
  return () =>
    new Promise((done) => {
      stopping = true;
      if (child.exitCode !== null || child.signalCode !== null) return done();
      child.on('exit', () => done());
      child.kill('SIGTERM');
      setTimeout(() => child.kill('SIGKILL'), 6000).unref();
    });
}
