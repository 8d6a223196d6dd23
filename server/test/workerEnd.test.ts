import { fork } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from 'vitest';

const store = mkdtempSync(join(tmpdir(), 'zaddle-end-'));
/** A database that takes calls and never says anything. */
const silent = createServer(() => undefined).listen(0, '127.0.0.1');
afterAll(() => {
  silent.close();
  rmSync(store, { recursive: true, force: true });
});
const CLI = fileURLToPath(new URL('../src/cli.ts', import.meta.url));

// With the server its database is gone, too: a worker that was just starting waited for it for ever.
test.each([['at once', 0], ['while it starts', 2500]])('a worker whose server ends %s ends as well, though its database never answers', async (_, after) => {
  const worker = fork(CLI, ['worker', '--database', `postgres://nobody:x@127.0.0.1:${(silent.address() as AddressInfo).port}/none`, '--store', store, '--pulse', '4'], { execArgv: ['--import', import.meta.resolve('tsx')], stdio: ['ignore', 'ignore', 'ignore', 'ipc', 'pipe'] });
  const ended = new Promise<number | null>((resolve) => worker.on('exit', resolve));
  await new Promise((resolve) => setTimeout(resolve, after));
  expect(worker.exitCode).toBe(null);
  worker.disconnect();
  const code = await Promise.race([ended, new Promise<string>((resolve) => setTimeout(() => resolve('still there'), 30_000))]);
  worker.kill('SIGKILL');
  expect(code).not.toBe('still there');
});
