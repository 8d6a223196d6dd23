import { execFile, execFileSync } from 'node:child_process';
import { chownSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** A PostgreSQL of our own, on loopback, in a data folder. */
export interface LocalPostgres {
  readonly url: string;
  readonly stop: () => Promise<void>;
}

function binaries(): string {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).filter((v) => existsSync(join(base, v, 'bin/initdb'))) : [];
  if (versions.length === 0) throw new Error('PostgreSQL is not installed: apt-get install postgresql');
  return join(base, versions.sort((a, b) => Number(b) - Number(a))[0], 'bin');
}

const isRoot = process.getuid?.() === 0;
const environment = { PATH: process.env.PATH ?? '', LC_ALL: 'C.UTF-8' };

/** PostgreSQL refuses root: its programs run as the user that Debian's package made. */
function asServer(command: string, args: readonly string[], cwd: string): Promise<unknown> {
  return isRoot ? run('runuser', ['-u', 'postgres', '--', command, ...args], { env: environment, cwd }) : run(command, [...args], { env: environment, cwd });
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}

/** Port of a server that runs in this folder, or null; a pid file that a killed server left behind is taken away. */
function runningPort(cluster: string): number | null {
  const file = join(cluster, 'postmaster.pid');
  if (!existsSync(file)) return null;
  const lines = readFileSync(file, 'utf8').split('\n');
  const stat = `/proc/${lines[0].trim()}/stat`;
  const alive = existsSync(stat) && !/\) Z /.test(readFileSync(stat, 'utf8')) && /postgres/.test(readFileSync(stat, 'utf8'));
  if (alive) return Number(lines[3]);
  rmSync(file);
  return null;
}

/**
 * Starts PostgreSQL in a folder, making the cluster and the database `zaddle` first where they are missing.
 * A server that already runs there is used, and then left running by `stop`.
 * @throws Error naming what to install or which log to read.
 */
export async function startPostgres(folder: string): Promise<LocalPostgres> {
  const bin = binaries();
  mkdirSync(folder, { recursive: true });
  if (isRoot) {
    const id = (flag: string): number => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }));
    chownSync(folder, id('-u'), id('-g'));
  }
  const cluster = join(folder, 'cluster');
  const log = join(folder, 'postgres.log');
  if (!existsSync(join(cluster, 'PG_VERSION'))) await asServer(join(bin, 'initdb'), ['-D', cluster, '-U', 'zaddle', '-A', 'trust', '-E', 'UTF8', '--locale=C.UTF-8'], folder);
  const before = runningPort(cluster);
  const port = before ?? (await freePort());
  if (before === null) {
    const options = `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories= -c shared_buffers=64MB`;
    await asServer(join(bin, 'pg_ctl'), ['-D', cluster, '-l', log, '-o', options, '-w', 'start'], folder).catch((error: Error) => {
      throw new Error(`PostgreSQL did not start; see ${log}.`, { cause: error });
    });
  }
  const exists = (await run(join(bin, 'psql'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'zaddle', '-tAc', "SELECT 1 FROM pg_database WHERE datname = 'zaddle'", 'postgres'], { env: environment })).stdout.trim();
  if (exists !== '1') await run(join(bin, 'createdb'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'zaddle', 'zaddle'], { env: environment });
  const stop = async (): Promise<void> => {
    if (before === null) await asServer(join(bin, 'pg_ctl'), ['-D', cluster, '-m', 'fast', '-w', 'stop'], folder).catch(() => undefined);
  };
  return { url: `postgres://zaddle@127.0.0.1:${port}/zaddle`, stop };
}
