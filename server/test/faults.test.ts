import { execFileSync, fork, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { chmodSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { FrameEntity } from '../src/data/entities';
import { FileStore, type Derived } from '../src/data/fileStore';
import { PatientDatabase } from '../src/data/patientDatabase';
import { freshTries, handleFailure } from '../src/jobs/failures';
import { gatherTask } from '../src/jobs/gatherTask';
import { send } from '../src/jobs/queues';
import { proposeTask } from '../src/jobs/proposeTask';
import { fakeFrame, startRig, until, type Rig } from './harness';

interface Frame { id: string; name: string; state: string; why: string; shotId: string | null }
interface Shoot { frames: Frame[]; shots: { id: string; state: string }[] }

/** Frames of a card: enough for something to end in the middle of it. */
const FRAMES = 25;
/** Seconds that a card may take on a machine that has other things to do. */
const LONG = 720;
/** A card of small frames: views of five frames, a minute apart. */
const card = async (): Promise<{ name: string; file: Buffer }[]> =>
  Promise.all(Array.from({ length: FRAMES }, async (_, k) => ({ name: `F${String(k).padStart(3, '0')}.jpg`, file: await fakeFrame(1 + Math.floor(k / 5), [0, -2, 2, -1, 1][k % 5], Math.floor(k / 5) * 3 + (k % 5) / 3) })));
const whole = (shoot: Shoot, frames: number): boolean => shoot.frames.length === frames && shoot.frames.every((f) => f.state === 'gathered') && shoot.shots.length > 0 && shoot.shots.every((s) => s.state === 'mixed') && shoot.frames.every((f) => f.shotId !== null);
/** Each frame lies in one shot, and no shot is empty. */
function expectNothingTwice(shoot: Shoot, frames: number): void {
  expect(new Set(shoot.frames.map((f) => f.name)).size).toBe(frames);
  for (const shot of shoot.shots) expect(shoot.frames.some((f) => f.shotId === shot.id)).toBe(true);
}

describe('PostgreSQL dies in the middle of gathering', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await startRig();
  });
  afterAll(() => rig.stop());
  /** Ends the database at once, as a crash does; whoever started it starts it again by itself, so nobody else may. */
  const crash = async (): Promise<void> => {
    const server = Number(readFileSync(join(dirname(rig.store), 'postgres', 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(server, 'SIGQUIT');
    await until(() => Promise.resolve(existsSync(`/proc/${server}`)), (lives) => !lives);
  };

  test('a whole card: it goes on by itself, nothing twice, nothing lost', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Lock keeper' })).body.id;
    const look = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
    for (const { name, file } of await card()) await rig.upload(shoot, name, file);
    rig.startWorker();
    await until(look, (s) => s.frames.filter((f) => f.state === 'gathered').length >= 6);
    await crash();
    // While the database is away, answers are problem documents.
    const done = await until(look, (s) => Array.isArray(s.frames) && whole(s, FRAMES), LONG);
    expectNothingTwice(done, FRAMES);
  }, 1000 * (LONG + 120));
  test('statements of the job queue wait for a database that is away; wrong ones fail at once', async () => {
    const database = new PatientDatabase(rig.postgres.url);
    expect((await database.executeSql('SELECT $1::int AS n', [1])).rows).toEqual([{ n: 1 }]);
    await crash();
    const waiting = database.executeSql('SELECT $1::int AS n', [2]);
    expect((await waiting).rows).toEqual([{ n: 2 }]);
    await expect(database.executeSql('SELECT nonsense', [])).rejects.toThrow(/nonsense/);
    await database.close();
    // The queue does not look at what becomes of its notes: one that failed while it ends would end the process.
    const answered = await Promise.race([database.executeSql('SELECT 1', []).then(() => 'done', () => 'failed'), new Promise((resolve) => setTimeout(() => resolve('never'), 800))]);
    expect(answered).toBe('never');
  });
});

describe('a worker is killed in the middle of gathering', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await startRig();
  });
  afterAll(() => rig.stop());

  test('a whole card: another one goes on, nothing twice, nothing lost', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Rope walk' })).body.id;
    const look = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
    for (const { name, file } of await card()) await rig.upload(shoot, name, file);
    const first = rig.startWorker();
    await until(look, (s) => s.frames.filter((f) => f.state === 'gathered').length >= 12);
    first.kill('SIGKILL');
    expect((await look()).frames.every((f) => f.state === 'gathered')).toBe(false);
    rig.startWorker();
    expectNothingTwice(await until(look, (s) => whole(s, FRAMES), LONG), FRAMES);
  }, 1000 * (LONG + 120));
});

describe('the server is killed in the middle of gathering', () => {
  const data = mkdtempSync(join(tmpdir(), 'zaddle-killed-'));
  chmodSync(data, 0o755);
  let server: ChildProcess | null = null;
  const cli = fileURLToPath(new URL('../src/cli.ts', import.meta.url));
  /** Starts the real thing and waits for its address. */
  const start = (): Promise<string> =>
    new Promise((resolve, reject) => {
      server = fork(cli, ['start', '--data', data, '--port', '0', '--empty'], { execArgv: ['--import', import.meta.resolve('tsx')], stdio: ['ignore', 'pipe', 'inherit', 'ipc'] });
      server.stdout!.on('data', (text: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
        if (found) resolve(found[0]);
      });
      server.on('exit', () => reject(new Error('The server ended.')));
    });
  afterAll(async () => {
    if (server && server.exitCode === null) await new Promise<void>((done) => { server!.removeAllListeners('exit').on('exit', () => done()); server!.kill('SIGTERM'); });
    // Neither workers nor the database outlive it, though the one before was killed.
    expect(() => execFileSync('pgrep', ['-f', data], { stdio: 'ignore' })).toThrow();
    rmSync(data, { recursive: true, force: true });
  });

  test('after the restart it goes on by itself, nothing twice, nothing lost', async () => {
    let url = await start();
    const json = async <T>(path: string, init: RequestInit = {}): Promise<T> => (await fetch(url + path, init)).json() as Promise<T>;
    const { id } = await json<{ id: string }>('/api/shoots', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ name: 'Boat lift' }) });
    for (const { name, file } of await card()) await fetch(`${url}/api/shoots/${id}/frames?name=${name}`, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: new Uint8Array(file) });
    await until(() => json<Shoot>(`/api/shoots/${id}`), (s) => s.frames.filter((f) => f.state === 'gathered').length >= 12);
    server!.removeAllListeners('exit');
    server!.kill('SIGKILL');
    url = await start();
    const done = await until(() => json<Shoot>(`/api/shoots/${id}`), (s) => whole(s, FRAMES), LONG);
    expectNothingTwice(done, FRAMES);
  }, 1000 * (LONG + 120));
});

describe('a full disk', () => {
  let rig: Rig;
  /** A store whose disk is full for derived files, or for originals, until there is room. */
  class FullStore extends FileStore {
    room = false;
    protected override async settle(temporary: string, path: string): Promise<void> {
      if (!this.room) throw Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' });
      return super.settle(temporary, path);
    }
  }
  beforeAll(async () => {
    rig = await startRig();
  });
  afterAll(() => rig.stop());

  test('reading waits, says why, and goes on once there is room', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Weir' })).body.id;
    const { id } = (await rig.upload(shoot, 'A.jpg', await fakeFrame(4, 0, 1))).body;
    const store = new FullStore(rig.store);
    const workshop = { ...rig.served.workshop, store };
    const error = await gatherTask(workshop, id).then(() => null, (e: Error) => e);
    expect(error).toMatchObject({ code: 'ENOSPC' });
    expect(await handleFailure(workshop, 'gather', { frame: id }, error!)).toBe('later');
    const waiting = (await rig.get<Shoot>(`/api/shoots/${shoot}`)).frames[0];
    expect(waiting.state).toBe('waiting');
    expect(waiting.why).toMatch(/disk of this server is full.*goes on by itself/);
    expect(readdirSync(join(rig.store, 'incoming'))).toEqual([]);
    store.room = true;
    await gatherTask(workshop, id);
    expect((await rig.get<Shoot>(`/api/shoots/${shoot}`)).frames[0]).toMatchObject({ state: 'gathered', why: '' });
    // Any other failure is for the queue to try again.
    expect(await handleFailure(workshop, 'gather', { frame: id }, new Error('odd'))).toBe('failed');
  });

  test('an upload is refused in words, and leaves nothing behind', async () => {
    const store = rig.served.workshop.store as unknown as { settle: unknown };
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Sluice' })).body.id;
    store.settle = () => Promise.reject(Object.assign(new Error('ENOSPC'), { code: 'ENOSPC' }));
    const answer = await rig.upload(shoot, 'B.jpg', await fakeFrame(5, 0, 1));
    delete store.settle;
    expect(answer.status).toBe(507);
    expect(answer.body.detail).toMatch(/Make room and drop the files again/);
    expect((await rig.get<Shoot>(`/api/shoots/${shoot}`)).frames).toEqual([]);
    expect(readdirSync(join(rig.store, 'incoming'))).toEqual([]);
    expect((await rig.upload(shoot, 'B.jpg', await fakeFrame(5, 0, 1))).status).toBe(201);
  });

  test('a database that went away counts no attempt, and what was begun before a start is begun anew', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Lock' })).body.id;
    const { id } = (await rig.upload(shoot, 'D.jpg', await fakeFrame(8, 0, 1))).body;
    const { workshop } = rig.served;
    const frames = workshop.database.getRepository(FrameEntity);
    const attempts = async (): Promise<unknown> => (await frames.findOneByOrFail({ id })).attempts;
    for (const away of [Object.assign(new Error('terminating connection due to administrator command'), { code: '57P01' }), new Error('Query runner already released. Cannot run queries anymore.')]) {
      await frames.update({ id }, { attempts: 4 });
      expect(await handleFailure(workshop, 'gather', { frame: id }, away)).toBe('failed');
      expect(await attempts()).toBe(0);
    }
    expect((await rig.get<Shoot>(`/api/shoots/${shoot}`)).frames[0].state).toBe('waiting');
    await frames.update({ id }, { attempts: 4 });
    await freshTries(workshop.database);
    expect(await attempts()).toBe(0);
    // A pipe that a decoder broke comes again each time: that one counts.
    await frames.update({ id }, { attempts: 4 });
    expect(await handleFailure(workshop, 'gather', { frame: id }, Object.assign(new Error('write EPIPE'), { code: 'EPIPE' }))).toBe('given up');
    // What was given up stays so.
    await frames.update({ id }, { attempts: 5, state: 'rejected' });
    await freshTries(workshop.database);
    expect(await attempts()).toBe(5);
  });

  test('of jobs for the same thing, one waits at a time', async () => {
    const { boss, database } = rig.served.workshop;
    const [one, two] = ['00000000-0000-4000-8000-000000000001', '00000000-0000-4000-8000-000000000002'];
    for (const shoot of [one, one, two, one]) await send(boss, 'sort', { shoot }, { after: 3600 });
    expect(await database.query(`SELECT count(*)::int AS n FROM pgboss.job WHERE name = 'sort' AND state = 'created' AND singleton_key = ANY($1)`, [[one, two]])).toEqual([{ n: 2 }]);
  });

  test('a proposal for frames that were regrouped meanwhile is thrown away', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Ferry' })).body.id;
    const { workshop } = rig.served;
    const ids: string[] = [];
    for (const [k, stops] of [0, -2, 2].entries()) ids.push((await rig.upload(shoot, `C${k}.jpg`, await fakeFrame(6, stops, k))).body.id);
    const worker = rig.startWorker();
    const ready = await until(() => rig.get<Shoot>(`/api/shoots/${shoot}`), (s) => whole(s, 3));
    // It would sort the frame in again, and propose for the shot itself.
    await new Promise((ended) => worker.on('exit', ended).kill('SIGKILL'));
    const shot = ready.shots[0].id;
    await workshop.database.query('DELETE FROM mixes WHERE shot_id = $1', [shot]);
    // While it is worked out, when its frames are known and their proxies are read, one is taken out of the shot.
    class MeanwhileStore extends FileStore {
      override async readDerived(kind: Derived, id: string): Promise<Buffer> {
        await workshop.database.getRepository(FrameEntity).update({ id: ids[2] }, { shotId: null });
        return super.readDerived(kind, id);
      }
    }
    await proposeTask({ ...workshop, store: new MeanwhileStore(rig.store) }, shot);
    expect(await workshop.database.query('SELECT count(*)::int AS n FROM mixes WHERE shot_id = $1', [shot])).toEqual([{ n: 0 }]);
    await proposeTask(workshop, shot);
    expect(await workshop.database.query('SELECT count(*)::int AS n FROM mixes WHERE shot_id = $1', [shot])).toEqual([{ n: 1 }]);
  });
});
