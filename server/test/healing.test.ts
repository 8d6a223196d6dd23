import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { findRunning, holdFolder, isServed, writeNote } from '../src/commands/runningServer';
import { openDatabase } from '../src/data/database';
import { isAway } from '../src/data/patientDatabase';
import { LostJobs } from '../src/jobs/claims';
import { startRig, until, type Rig } from './harness';

/*
 * What dies is started again; who is silent loses its job, and nobody else.
 */

describe('a data folder and its server', () => {
  const data = mkdtempSync(join(tmpdir(), 'zaddle-hold-'));
  afterAll(() => rmSync(data, { recursive: true, force: true }));

  test('is held by one that lives, whatever notes say; a note that is cut off or left behind holds nobody up', async () => {
    expect([await isServed(data), await findRunning(data)]).toEqual([false, null]);
    // Left behind by a server that is gone, its number now another program's: this one's.
    writeNote(data, { pid: process.pid, url: 'http://127.0.0.1:1/', database: 'postgres://x' });
    expect(await findRunning(data)).toBeNull();
    const hold = await holdFolder(data);
    expect(hold).not.toBeNull();
    expect(await holdFolder(data)).toBeNull();
    expect((await findRunning(data))?.url).toBe('http://127.0.0.1:1/');
    writeFileSync(join(data, 'running.json'), '{"pid":12');
    // It is being started: its note comes a moment later.
    setTimeout(() => writeNote(data, { pid: 1, url: 'http://127.0.0.1:2/', database: 'postgres://x' }), 500);
    expect((await findRunning(data))?.url).toBe('http://127.0.0.1:2/');
    await new Promise<void>((done) => hold!.close(() => done()));
    expect(await isServed(data)).toBe(false);
    const again = await holdFolder(data);
    expect(again).not.toBeNull();
    again!.close();
  });
  test('works in folders of any depth: names of sockets are short', async () => {
    const deep = join(data, ...Array.from({ length: 12 }, (_, k) => `a-rather-long-name-${k}`));
    (await import('node:fs')).mkdirSync(deep, { recursive: true });
    const hold = await holdFolder(deep);
    expect([hold !== null, await isServed(deep)]).toEqual([true, true]);
    hold!.close();
  });
});

describe('with a server and its database', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await startRig();
    chmodSync(join(rig.store, '..'), 0o755);
  });
  afterAll(() => rig.stop());

  test('a database that is killed comes back by itself; meanwhile answers say so, and nothing is lost', async () => {
    const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Lighthouse' })).body.id;
    const postmaster = Number(readFileSync(join(rig.store, '..', 'postgres', 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(postmaster, 'SIGKILL');
    const answers = new Set<number>();
    await until(async () => {
      const { status } = await fetch(`${rig.url}/api/health`);
      answers.add(status);
      return status;
    }, (status) => status === 200 && answers.size > 1, 60);
    for (const status of answers) expect([200, 503]).toContain(status);
    expect((await fetch(`${rig.url}/api/shoots/${shoot}`)).status).toBe(200);
  });

  test('a job is given back when its claim stays the same while somebody looks; not after a pause of looking, and once only', async () => {
    const { database, boss } = rig.served.workshop;
    const shoot = randomUUID();
    // Nobody takes it: there is no worker here.
    const id = (await boss.send('sort', { shoot }, { singletonKey: shoot }))!;
    await database.query(`UPDATE pgboss.job SET state = 'active', started_on = now() WHERE id = $1`, [id]);
    await database.query(`INSERT INTO claims (job_id, queue, worker, seen_at) VALUES ($1, 'sort', 'w', now() - interval '1 hour')`, [id]);
    const state = async (): Promise<string> => ((await database.query('SELECT state FROM pgboss.job WHERE id = $1', [id])) as { state: string }[])[0].state;
    let now = 0;
    const lost = new LostJobs(database, boss, () => now);
    const look = (at: number): Promise<number> => ((now = at), lost.release());
    // The server of this rig looks, too, with its own eyes: its claims are kept fresh from here.
    const beat = (): Promise<unknown> => database.query('UPDATE claims SET seen_at = clock_timestamp() WHERE job_id = $1', [id]);
    await beat();
    expect(await look(0)).toBe(0);
    await beat();
    // Long by the clock, but it was heard in between; and a jump of time with nobody looking proves nothing.
    expect(await look(4000)).toBe(0);
    expect(await look(60_000)).toBe(0);
    expect(await state()).toBe('active');
    expect(await look(63_000)).toBe(0);
    const two = new LostJobs(database, boss, () => now);
    now = 63_000;
    await two.release();
    const counts = [await look(65_000), await look(67_000)];
    now = 70_000;
    counts.push(await two.release());
    expect(counts.reduce((sum, n) => sum + n, 0)).toBeLessThanOrEqual(1);
    await until(state, (s) => s === 'retry' || s === 'created', 30);
  });

  test('what ended its worker time and again is begun again later, and ever later; the first times at once', async () => {
    const { database, boss } = rig.served.workshop;
    const shoot = ((await rig.post<{ id: string }>('/api/shoots', { name: 'Weigh house', address: '', dueAt: null })).body).id;
    const waits = await Promise.all([1, 2, 3, 5, 9].map(async (attempts) => {
      const shot = randomUUID();
      await database.query(`INSERT INTO shots (id, shoot_id, position, label, confidence, why, state, readings, attempts) VALUES ($1, $2, $3, 'Shot', 1, '', 'mixed', '[]', $3)`, [shot, shoot, attempts]);
      const id = (await boss.send('propose', { shot }, { singletonKey: shot }))!;
      await database.query(`UPDATE pgboss.job SET state = 'active', started_on = now() WHERE id = $1`, [id]);
      await database.query(`INSERT INTO claims (job_id, queue, worker, seen_at) VALUES ($1, 'propose', 'w', now())`, [id]);
      const told = async () => ((await database.query('SELECT state, EXTRACT(EPOCH FROM start_after - now()) AS after FROM pgboss.job WHERE id = $1', [id])) as { state: string; after: string }[])[0];
      // The server of this rig looks by itself.
      return Number((await until(told, ({ state }) => state === 'retry', 60)).after);
    }));
    expect(waits.slice(0, 2).every((seconds) => seconds <= 0)).toBe(true);
    expect(waits[2]).toBeGreaterThan(3);
    expect(waits[3]).toBeGreaterThan(waits[2] + 10);
    expect(waits[4]).toBeGreaterThan(200);
    expect(waits[4]).toBeLessThanOrEqual(300);
  });

  test('a claim within an open transaction holds nobody up who looks; a worker that falls silent in one holds it no longer than a moment', async () => {
    const { database, boss } = rig.served.workshop;
    const shoot = randomUUID();
    const id = (await boss.send('sort', { shoot }, { singletonKey: shoot }))!;
    await database.query(`UPDATE pgboss.job SET state = 'active', started_on = now() WHERE id = $1`, [id]);
    await database.query(`INSERT INTO claims (job_id, queue, worker, seen_at) VALUES ($1, 'sort', 'w', now())`, [id]);
    const held = async (): Promise<number> => ((await database.query('SELECT 1 FROM claims WHERE job_id = $1', [id])) as unknown[]).length;
    // A worker whose cable is pulled while it writes down what came of its job.
    const worker = await openDatabase(rig.postgres.url, 'worker');
    const pulled = worker.createQueryRunner();
    await pulled.startTransaction();
    await pulled.query('SELECT FROM claims WHERE job_id = $1 FOR UPDATE', [id]);
    let now = 0;
    const lost = new LostJobs(database, boss, () => now);
    for (const at of [0, 3000, 6000]) {
      now = at;
      expect(await lost.release()).toBe(0);
    }
    now = 9000;
    // Told it is: the claim is old. It is not waited for.
    expect(await lost.release()).toBe(0);
    expect(await held()).toBe(1);
    await until(held, (n) => n === 0, 60);
    // Had it only been slow, it finds that it is out, by an error that lets it try again.
    expect(isAway(await pulled.query('SELECT 1').then(() => null, (error: unknown) => error))).toBe(true);
    await pulled.release().catch(() => undefined);
    await worker.destroy();
  });
});
