import { fork, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { serve, type Served } from '../src/api/serve';
import type { Listening } from '../src/lend/openDoor';
import { startPostgres, type LocalPostgres } from '../src/data/postgres';

/** A server on a database and store of its own, with worker processes that a test may kill. */
export interface Rig {
  readonly url: string;
  readonly served: Served;
  readonly postgres: LocalPostgres;
  readonly store: string;
  startWorker(): ChildProcess;
  get<T>(path: string): Promise<T>;
  post<T>(path: string, body?: unknown): Promise<{ status: number; body: T }>;
  upload(shoot: string, name: string, file: Buffer): Promise<{ status: number; body: { id: string; detail?: string } }>;
  stop(): Promise<void>;
}

/** What every request carries that changes something and has no body. */
export const ASKED = { 'X-Requested-With': 'test' };
const CLI = fileURLToPath(new URL('../src/cli.ts', import.meta.url));

export async function startRig(listening: Listening | null = null): Promise<Rig> {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-test-'));
  // PostgreSQL runs as another user, who must be able to enter.
  const { chmodSync } = await import('node:fs');
  chmodSync(folder, 0o755);
  const postgres = await startPostgres(join(folder, 'postgres'));
  const store = join(folder, 'store');
  const served = await serve({ databaseUrl: postgres.url, store, pages: join(folder, 'none'), port: 0, listening });
  const url = `http://127.0.0.1:${served.port}`;
  const workers: ChildProcess[] = [];
  return {
    url, served, postgres, store,
    startWorker() {
      const worker = fork(CLI, ['worker', '--database', postgres.url, '--store', store], { execArgv: ['--import', import.meta.resolve('tsx')], stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      workers.push(worker);
      return worker;
    },
    get: async <T>(path: string) => (await (await fetch(url + path)).json()) as T,
    async post<T>(path: string, body?: unknown) {
      const response = await fetch(url + path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: body === undefined ? null : JSON.stringify(body) });
      return { status: response.status, body: (await response.json()) as T };
    },
    async upload(shoot, name, file) {
      const response = await fetch(`${url}/api/shoots/${shoot}/frames?name=${encodeURIComponent(name)}`, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: new Uint8Array(file) });
      return { status: response.status, body: (await response.json()) as { id: string } };
    },
    async stop() {
      await Promise.all(workers.filter((w) => w.exitCode === null && w.signalCode === null).map((w) => new Promise<void>((done) => { w.on('exit', () => done()); w.kill('SIGKILL'); })));
      await served.stop();
      await postgres.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** A textured room-like picture under a given exposure, as a JPEG with EXIF; the same seed is the same view. */
export async function fakeFrame(seed: number, stops: number, second: number): Promise<Buffer> {
  const [w, h] = [600, 400];
  let state = seed * 7919 + 3;
  const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
  const light = new Float32Array(w * h).fill(0.08);
  for (let k = 0; k < 220; k++) {
    const [x0, y0, bw, bh, v] = [Math.floor(next() * w), Math.floor(next() * h), 8 + Math.floor(next() * 70), 8 + Math.floor(next() * 60), 0.02 + next() * 0.4];
    for (let y = y0; y < Math.min(h, y0 + bh); y++) for (let x = x0; x < Math.min(w, x0 + bw); x++) light[y * w + x] = v;
  }
  const data = Buffer.alloc(w * h * 3);
  for (let i = 0; i < w * h; i++) {
    const v = Math.min(1, light[i] * 2 ** stops + (next() - 0.5) * 0.004);
    data[i * 3] = data[i * 3 + 1] = data[i * 3 + 2] = Math.round(255 * Math.max(0, v) ** (1 / 2.2));
  }
  return sharp(data, { raw: { width: w, height: h, channels: 3 } })
    .withExif({ IFD2: { ExposureTime: `${Math.round(2 ** stops * 1000)}/4000`, FNumber: '8/1', ISOSpeedRatings: '200', DateTimeOriginal: `2026:06:11 10:00:${String(second).padStart(2, '0')}`, ExposureMode: '2' } })
    .jpeg({ quality: 95 }).toBuffer();
}

/** Waits until something holds. @throws Error with what it saw last. */
export async function until<T>(look: () => Promise<T>, holds: (value: T) => boolean, seconds = 200): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const value = await look();
    if (holds(value)) return value;
    if (Date.now() > end) throw new Error(`Waited ${seconds} s in vain; last seen: ${JSON.stringify(value).slice(0, 500)}`);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
