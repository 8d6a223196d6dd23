import { execFile } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { serve } from '../src/api/serve';
import { restoreBackup } from '../src/backup/restoreBackup';
import { writeBackup, type BackupNote } from '../src/backup/writeBackup';
import { startPostgres } from '../src/data/postgres';
import { fakeFrame, startRig, until, type Rig } from './harness';

interface Shoot { id: string; frames: { id: string; name: string; sha256: string; state: string }[]; shots: { id: string; state: string }[] }
interface View { mix: { document: { passes: { id: string; opacity: number }[] }; canUndo: boolean } }

let rig: Rig;
let shoot = '';
let shot = '';
const folder = mkdtempSync(join(tmpdir(), 'zaddle-backup-'));
chmodSync(folder, 0o755);
const kept = join(folder, 'kept');
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Tar house' })).body.id;
  for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `T${k}.jpg`, await fakeFrame(91, stops, k));
  shot = (await until(() => rig.get<Shoot>(`/api/shoots/${shoot}`), (s) => s.shots.length === 1 && s.shots[0].state === 'mixed')).shots[0].id;
});
afterAll(async () => {
  await rig.stop();
  rmSync(folder, { recursive: true, force: true });
});

const opacity = (id: string, value: number) => rig.post(`/api/shots/${shot}/mix/commands`, { kind: 'changePass', id, changes: { opacity: value } });
/** Serves a restored folder for as long as something is asked of it. */
async function asked<T>(data: string, ask: (url: string) => Promise<T>): Promise<T> {
  const postgres = await startPostgres(join(data, 'postgres'));
  const served = await serve({ databaseUrl: postgres.url, store: join(data, 'store'), pages: join(data, 'none'), port: 0 });
  try {
    return await ask(`http://127.0.0.1:${served.port}`);
  } finally {
    await served.stop();
    await postgres.stop();
  }
}
const originals = (store: string): string[] => readdirSync(join(store, 'originals'), { recursive: true }).map(String).filter((path) => path.length > 60);

describe('a copy of all that is kept', () => {
  test('is taken while frames come in and somebody paints; what was acknowledged before is in it, and every frame that it knows has its file', async () => {
    const { mix } = await rig.get<View>(`/api/shots/${shot}`);
    const pass = mix.document.passes[0].id;
    await opacity(pass, 0.61);
    let going = true;
    const before: string[] = [];
    const uploads = (async () => {
      for (let k = 0; going && k < 200; k++) {
        await rig.upload(shoot, `U${k}.jpg`, await fakeFrame(200 + k, 0, k % 60));
        before.push(`U${k}.jpg`);
        await opacity(pass, 0.3 + (k % 60) / 100);
      }
    })();
    await until(async () => before.length, (n) => n > 5);
    const sure = [...before];
    await rig.post('/api/keys', { name: 'Tablet', opens: 'pages' });
    await rig.post('/api/keys', { name: 'Office', opens: 'work' });
    const note = await writeBackup(rig.postgres.url, rig.store, kept);
    going = false;
    await uploads;
    expect(note.without).toEqual([]);
    expect(existsSync(`${kept}.part`)).toBe(false);
    const data = join(folder, 'restored');
    expect(await restoreBackup(kept, data)).toEqual(note);
    await asked(data, async (url) => {
      const there = (await (await fetch(`${url}/api/shoots/${shoot}`)).json()) as Shoot;
      for (const name of ['T0.jpg', 'T1.jpg', ...sure]) expect(there.frames.map((frame) => frame.name)).toContain(name);
      const files = new Set(originals(join(data, 'store')).map((path) => path.slice(3)));
      for (const { sha256 } of there.frames) expect(files.has(sha256)).toBe(true);
      // Some may have come in between the look and the copy: they are in it, too.
      expect(there.frames.length).toBeGreaterThanOrEqual(note.originals);
      expect(note.originals).toBeGreaterThanOrEqual(sure.length + 2);
      // Keys open the server that they were made on.
      expect(await (await fetch(`${url}/api/keys`)).json()).toMatchObject({ keys: [] });
      const view = (await (await fetch(`${url}/api/shots/${shot}`)).json()) as View;
      expect(view.mix.canUndo).toBe(true);
      expect(view.mix.document.passes[0].opacity).toBeGreaterThanOrEqual(0.3);
      for (const path of ['proxy', 'thumbnail']) expect((await fetch(`${url}/api/frames/${there.frames.find(({ name }) => name === 'T0.jpg')!.id}/${path}`)).status).toBe(200);
      expect((await fetch(`${url}/api/shots/${shot}/found`)).status).toBe(200);
    });
  });

  test('is never laid over another, nor restored over something', async () => {
    await expect(writeBackup(rig.postgres.url, rig.store, kept)).rejects.toThrow(/is there already/);
    const full = join(folder, 'full');
    mkdirSync(full);
    writeFileSync(join(full, 'own.txt'), 'mine');
    await expect(restoreBackup(kept, full)).rejects.toThrow(/is not empty/);
    expect(readdirSync(full)).toEqual(['own.txt']);
    await expect(restoreBackup(full, join(folder, 'none'))).rejects.toThrow(/is no backup/);
    expect(existsSync(join(folder, 'none'))).toBe(false);
  });

  test('that is damaged is refused, and leaves nothing', async () => {
    const target = join(folder, 'from-damaged');
    const [path] = originals(join(kept, 'store'));
    const file = join(kept, 'store', 'originals', path);
    const good = readFileSync(file);
    writeFileSync(file, Buffer.concat([good.subarray(0, 900), Buffer.from('x'), good.subarray(901)]));
    await expect(restoreBackup(kept, target)).rejects.toThrow(/1 of its files is not what it was/);
    writeFileSync(file, good);
    const dump = readFileSync(join(kept, 'database.dump'));
    writeFileSync(join(kept, 'database.dump'), dump.subarray(0, dump.length / 2));
    await expect(restoreBackup(kept, target)).rejects.toThrow(/its database cannot be read/);
    writeFileSync(join(kept, 'database.dump'), dump);
    const note = JSON.parse(readFileSync(join(kept, 'backup.json'), 'utf8')) as BackupNote;
    writeFileSync(join(kept, 'backup.json'), JSON.stringify({ ...note, version: 2 }));
    await expect(restoreBackup(kept, target)).rejects.toThrow(/newer Zaddle/);
    expect([existsSync(target), existsSync(`${target}.part`)]).toEqual([false, false]);
  });

  test('is written and restored at the command line, with no server running; what is wrong is said in a line', async () => {
    const cli = ['--import', import.meta.resolve('tsx'), fileURLToPath(new URL('../src/cli.ts', import.meta.url))];
    const run = promisify(execFile);
    const said = async (...args: string[]): Promise<string> => run(process.execPath, [...cli, ...args]).then(({ stdout }) => stdout, ({ stderr }: { stderr: string }) => stderr);
    const data = join(folder, 'restored');
    expect(await said('backup', join(folder, 'again'), '--data', data)).toMatch(/Kept in .*again: \d+ frames’ files/);
    expect(await said('restore', join(folder, 'again'), '--data', join(folder, 'third'))).toMatch(/third is as it was at/);
    expect(originals(join(folder, 'third', 'store')).sort()).toEqual(originals(join(data, 'store')).sort());
    expect(await said('backup', join(folder, 'other'), '--data', join(folder, 'nowhere'))).toMatch(/^zaddle: .*nowhere is no data folder/m);
    expect(await said('restore', join(folder, 'again'), '--data', join(folder, 'third'))).toMatch(/^zaddle: .*is not empty/m);
  });
});
