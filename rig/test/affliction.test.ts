import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, expect, test } from 'vitest';
import { afflictedBy, readAffliction, SOUND, writeAffliction } from '../src/torture/affliction';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-affliction-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const path = join(folder, 'written');

/** What a process tells that suffers from what is written; the script prints JSON. */
async function toldBy<T>(script: string): Promise<T> {
  const { stdout } = await promisify(execFile)(process.execPath, ['--input-type=module', '-e', script], { env: { ...process.env, ...afflictedBy(path) } });
  return JSON.parse(stdout) as T;
}

test('a clock that is wrong is wrong whichever way it is asked, dates are dates, and what is measured is right', async () => {
  writeAffliction(path, { clock: -7_200_000, disk: 0 });
  const told = await toldBy<{ real: number; ways: number[]; parsed: string; date: boolean; passed: number }>(`
    const real = performance.timeOrigin + performance.now();
    const since = performance.now();
    console.log(JSON.stringify({ real, ways: [Date.now(), new Date().getTime(), Date.parse(Date())], parsed: new Date('2026-06-11T10:00:00Z').toISOString(), date: new Date() instanceof Date, passed: performance.now() - since }));
  `);
  for (const way of told.ways) expect(Math.abs(way - told.real + 7_200_000)).toBeLessThan(60_000);
  expect([told.parsed, told.date]).toEqual(['2026-06-11T10:00:00.000Z', true]);
  expect(told.passed).toBeLessThan(60_000);
});

test('threads that a process starts suffer as it does', async () => {
  writeAffliction(path, { clock: 3_600_000, disk: 0 });
  const told = await toldBy<{ real: number; thread: number }>(`
    import { Worker } from 'node:worker_threads';
    const body = 'import { parentPort } from "node:worker_threads"; parentPort.postMessage(Date.now());';
    const thread = await new Promise((resolve, reject) => new Worker(new URL('data:text/javascript,' + encodeURIComponent(body)), { execArgv: [] }).once('message', resolve).once('error', reject));
    console.log(JSON.stringify({ real: performance.timeOrigin + performance.now(), thread }));
  `);
  expect(Math.abs(told.thread - told.real - 3_600_000)).toBeLessThan(60_000);
});

test('a disk that is slow keeps whoever asks waiting, by promise, by callback and in streams, and does what it is asked', async () => {
  writeAffliction(path, { clock: 0, disk: 120 });
  const file = join(folder, 'file');
  const told = await toldBy<{ waits: number[]; read: string }>(`
    import { createWriteStream, close, openSync } from 'node:fs';
    import { open, readFile, writeFile } from 'node:fs/promises';
    import { finished } from 'node:stream/promises';
    const waits = [];
    const timed = async (work) => { const since = performance.now(); await work(); waits.push(performance.now() - since); };
    const file = ${JSON.stringify(file)};
    await timed(() => writeFile(file, 'first '));
    await timed(async () => { const held = await open(file, 'a'); await held.write('second '); await held.sync(); await held.close(); });
    await timed(() => finished(createWriteStream(file, { flags: 'a' }).end('third')));
    await timed(() => new Promise((done) => close(openSync(file), done)));
    console.log(JSON.stringify({ waits, read: await readFile(file, 'utf8') }));
  `);
  expect(told.read).toBe('first second third');
  // Each thing that is asked of it once: timers never come early by more than the clock's own step.
  for (const [k, asked] of [1, 3, 2, 1].entries()) expect(told.waits[k]).toBeGreaterThan(asked * 118);
});

test('what is written is read as it was, and nothing written is no affliction', () => {
  expect(readAffliction(join(folder, 'none'))).toEqual(SOUND);
  writeAffliction(path, { clock: 5, disk: 6 });
  expect(readAffliction(path)).toEqual({ clock: 5, disk: 6 });
});
