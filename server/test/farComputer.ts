import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { createServer, connect, type Socket } from 'node:net';
import { fileURLToPath } from 'node:url';

/** Another computer on a cable to this one. */
export interface FarComputer {
  /** Address of this computer as the other one reaches it. */
  readonly host: string;
  /** Runs our command line there. */
  run(args: readonly string[], environment?: Readonly<Record<string, string>>): ChildProcess;
  /** Pulls the cable, and plugs it in again. */
  pull(): void;
  plug(): void;
  close(): Promise<void>;
}

const CLI = fileURLToPath(new URL('../src/cli.ts', import.meta.url));
const LOADER = ['--import', import.meta.resolve('tsx')];
const ip = (...args: string[]): void => void execFileSync('/usr/sbin/ip', args, { stdio: 'pipe' });

/** A host of its own in a network namespace. @throws Error where this machine may not make any */
function inNamespace(): FarComputer {
  const name = `zaddle${process.pid}`;
  const [near, far] = [`zn${process.pid}`.slice(0, 15), `zf${process.pid}`.slice(0, 15)];
  const net = `10.${200 + (process.pid % 50)}.${(process.pid >> 6) % 250}`;
  ip('netns', 'add', name);
  try {
    ip('link', 'add', near, 'type', 'veth', 'peer', 'name', far);
    ip('link', 'set', far, 'netns', name);
    ip('addr', 'add', `${net}.1/24`, 'dev', near);
    ip('link', 'set', near, 'up');
    for (const args of [['addr', 'add', `${net}.2/24`, 'dev', far], ['link', 'set', far, 'up'], ['link', 'set', 'lo', 'up']]) ip('netns', 'exec', name, '/usr/sbin/ip', ...args);
  } catch (error) {
    ip('netns', 'del', name);
    throw error;
  }
  return {
    host: `${net}.1`,
    run: (args, environment = {}) => spawn('/usr/sbin/ip', ['netns', 'exec', name, process.execPath, ...LOADER, CLI, ...args], { env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'pipe'], detached: true }),
    pull: () => ip('link', 'set', near, 'down'),
    plug: () => ip('link', 'set', near, 'up'),
    close: async () => ip('netns', 'del', name),
  };
}

/** The same by another loopback address, with a relay for a cable, for machines that may make no namespaces. The relay listens one port above. */
function byRelay(port: number): FarComputer {
  const lines = new Set<Socket>();
  let pulled = false;
  const relay = createServer((from) => {
    const to = connect(port, '127.0.0.1');
    for (const side of [from, to]) {
      lines.add(side);
      side.on('error', () => undefined).on('close', () => { lines.delete(side); from.destroy(); to.destroy(); });
      if (pulled) side.pause();
    }
    from.on('data', (data) => to.write(data));
    to.on('data', (data) => from.write(data));
  }).listen(port + 1, '127.0.0.1');
  const hold = (on: boolean): void => {
    pulled = on;
    for (const line of lines) if (on) line.pause(); else line.resume();
  };
  return {
    host: '127.0.0.1',
    run: (args, environment = {}) => spawn(process.execPath, [...LOADER, CLI, ...args.map((arg) => arg.replace(`:${port}`, `:${port + 1}`))], { env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'pipe'], detached: true }),
    pull: () => hold(true),
    plug: () => hold(false),
    close: () => new Promise((resolve) => { lines.forEach((line) => line.destroy()); relay.close(() => resolve()); }),
  };
}

/** Another computer, in a network namespace where this machine may make one. @param port that this computer listens on for it */
export function farComputer(port: number): FarComputer {
  try {
    return inNamespace();
  } catch {
    return byRelay(port);
  }
}
