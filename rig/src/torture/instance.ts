import { spawn, type ChildProcess } from 'node:child_process';
import { createWriteStream, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { pause } from '../dice';
import { afflictedBy, readAffliction, writeAffliction, type Affliction } from './affliction';

const CLI = fileURLToPath(new URL('../../../server/src/cli.ts', import.meta.url));
/** Longest time that a start may take, milliseconds. */
const STARTING = 120_000;

/** What a server needs to be started as a person does. */
export interface StartsAs {
  readonly data: string;
  readonly deliverTo: string;
  /** Address that the receiver `portal` takes uploads at. */
  readonly receiver: string;
}

/** Parent and state of a process; null for one that is gone. */
function statOf(pid: number): { readonly parent: number; readonly dead: boolean } | null {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').replace(/^.*\) /s, '').split(' ');
    return { parent: Number(fields[1]), dead: fields[0] === 'Z' };
  } catch {
    return null;
  }
}
export const lives = (pid: number): boolean => statOf(pid)?.dead === false;

function childrenOf(parent: number): number[] {
  return readdirSync('/proc').map(Number).filter((pid) => pid > 0).filter((pid) => { const stat = statOf(pid); return stat?.parent === parent && !stat.dead; });
}
const isWorker = (pid: number): boolean => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').includes('worker');
  } catch {
    return false;
  }
};

/** A server of its own, with its workers and its database, that may be hurt. */
export class Instance {
  private child: ChildProcess | null = null;
  port = 0;

  /** Beside the data folder, in which nothing may lie that is not the server's. */
  private readonly affliction: string;

  constructor(private readonly as: StartsAs) {
    this.affliction = `${as.data}.affliction`;
  }

  /** Makes its clock wrong or its disk slow, until it is said otherwise; also for what it starts later. */
  afflict(changed: Partial<Affliction>): void {
    writeAffliction(this.affliction, { ...readAffliction(this.affliction), ...changed });
  }

  /** Starts it, or waits for it to come up; the port is another one each time. @throws Error with what it said last */
  async start(): Promise<void> {
    const { data, deliverTo, receiver } = this.as;
    const env = { ...process.env, ...afflictedBy(this.affliction) };
    const child = spawn(process.execPath, ['--import', import.meta.resolve('tsx'), CLI, 'start', '--data', data, '--port', '0', '--empty', '--deliver-to', deliverTo, '--receiver', `portal=${receiver}`], { env, stdio: ['ignore', 'pipe', 'pipe'] });
    this.child = child;
    const log = createWriteStream(`${data}.log`, { flags: 'a' });
    child.stderr.pipe(log);
    let said = '';
    this.port = await new Promise<number>((resolve, reject) => {
      const late = setTimeout(() => reject(new Error(`It did not start within ${STARTING / 1000} s. ${said}`)), STARTING);
      child.stdout.on('data', (text: Buffer) => {
        said += String(text);
        const address = /ready: http:\/\/127\.0\.0\.1:(\d+)/.exec(said);
        if (address) { clearTimeout(late); resolve(Number(address[1])); }
      });
      child.once('exit', () => { clearTimeout(late); reject(new Error(`It ended while it was started. ${said}`)); });
    });
  }

  get server(): number | null {
    const pid = this.child?.pid;
    return pid !== undefined && lives(pid) ? pid : null;
  }

  get workers(): number[] {
    const { server } = this;
    return server === null ? [] : childrenOf(server).filter(isWorker);
  }

  get database(): number | null {
    try {
      const pid = Number(readFileSync(join(this.as.data, 'postgres', 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
      return lives(pid) ? pid : null;
    } catch {
      return null;
    }
  }

  /** Ends it as Ctrl-C does. @throws Error if it does not end */
  async stop(): Promise<void> {
    const { server } = this;
    if (server === null) return;
    process.kill(server, 'SIGINT');
    for (let k = 0; k < 300 && lives(server); k++) await pause(100);
    if (lives(server)) throw new Error('It did not end within 30 s of Ctrl-C.');
  }
}
