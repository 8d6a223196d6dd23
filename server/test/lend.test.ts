import { execFileSync, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { request as ask } from 'node:http';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { serve } from '../src/api/serve';
import { KeptFiles } from '../src/lend/keptFiles';
import { loginOf } from '../src/lend/keySecret';
import { farComputer, type FarComputer } from './farComputer';
import { ASKED, fakeFrame, startRig, until, type Rig } from './harness';

interface Key { id: string; secret: string; name: string; opens: string; usedBy: string }
interface Shoot { frames: { id: string; name: string; state: string; shotId: string | null }[]; shots: { id: string; state: string }[] }

const freePort = (): Promise<number> => new Promise((resolve) => {
  const server = createServer().listen(0, '127.0.0.1', () => { const { port } = server.address() as { port: number }; server.close(() => resolve(port)); });
});

let rig: Rig;
let far: FarComputer;
let address: string;
let port: number;
const folder = mkdtempSync(join(tmpdir(), 'zaddle-lend-'));
const delivered = mkdtempSync(join(tmpdir(), 'zaddle-lent-to-'));
const lenders: ChildProcess[] = [];
const makeKey = async (name: string, opens: string): Promise<Key> => (await rig.post<Key>('/api/keys', { name, opens })).body;

/** Lends another computer's cores. */
function lend(key: string, args: readonly string[] = []): ChildProcess {
  const child = far.run(['worker', '--server', address, '--key', key, '--cache', join(folder, 'cache'), '--cores', '1', ...args]);
  lenders.push(child);
  return child;
}
const kill = (child: ChildProcess, signal: NodeJS.Signals): void => {
  // With all that it keeps.
  try { process.kill(-child.pid!, signal); } catch { /* it ended */ }
};
const ended = (child: ChildProcess): Promise<number | null> => new Promise((resolve) => (child.exitCode !== null ? resolve(child.exitCode) : child.on('exit', resolve)));

beforeAll(async () => {
  port = await freePort();
  far = farComputer(port);
  process.env.ZADDLE_DELIVER_TO = delivered;
  rig = await startRig({ host: far.host, port, certificate: null });
  address = `http://${far.host}:${port}/`;
});
afterAll(async () => {
  lenders.forEach((child) => kill(child, 'SIGKILL'));
  await rig.stop();
  await far.close();
  delete process.env.ZADDLE_DELIVER_TO;
  for (const each of [folder, delivered]) rmSync(each, { recursive: true, force: true });
});

/** A request as a browser elsewhere makes it. */
function visit(path: string, { method = 'GET', headers = {}, body = '' }: { method?: string; headers?: Record<string, string>; body?: string } = {}): Promise<{ status: number; headers: NodeJS.Dict<string | string[]>; text: string }> {
  return new Promise((resolve, reject) => {
    const request = ask(new URL(path, address), { method, headers }, (response) => {
      let text = '';
      response.on('data', (part: Buffer) => (text += part.toString())).on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }));
    });
    request.on('error', reject).end(body);
  });
}

describe('a door to the network', () => {
  test('that cannot be had leaves nothing open, and is told by its option', async () => {
    const other = await startRig();
    const options = { databaseUrl: other.postgres.url, store: other.store, pages: folder, port: await freePort() };
    await expect(serve({ ...options, listening: { host: far.host, port, certificate: null } })).rejects.toThrow(/--listen/);
    await expect(serve({ ...options, listening: { host: '203.0.113.9', port, certificate: null } })).rejects.toThrow(/no address of this computer.*--listen/);
    await expect(fetch(`http://127.0.0.1:${options.port}/api/health`)).rejects.toThrow();
    await other.stop();
  });

  const typeKey = (key: string, headers: Record<string, string> = {}) => visit('/key', { method: 'POST', headers: { 'Content-Type': 'application/x-www-form-urlencoded', ...headers }, body: `key=${encodeURIComponent(key)}` });

  test('nobody comes in without a key; one that is typed opens the pages until it is revoked', async () => {
    expect((await visit('/api/shoots')).status).toBe(401);
    const first = await visit('/');
    expect(first.status).toBe(401);
    expect(first.text).toMatch(/asks for a key/);
    expect(first.headers['content-security-policy']).toMatch(/default-src 'self'/);
    const key = await makeKey('Tablet', 'pages');
    expect(key.secret).toMatch(/^[0-9a-f]{5}(-[0-9a-f]{5}){5}$/);
    const wrong = await typeKey(`${key.secret.slice(0, -1)}${key.secret.endsWith('0') ? '1' : '0'}`);
    expect([wrong.status, wrong.headers['set-cookie']]).toEqual([401, undefined]);
    const right = await typeKey(` ${key.secret.toUpperCase()} `);
    expect(right.status).toBe(303);
    const [cookie] = right.headers['set-cookie'] as string[];
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const Cookie = cookie.split(';')[0];
    expect((await visit('/api/shoots', { headers: { Cookie } })).status).toBe(200);
    // Another site's page is foreign though it had the key, and keys are made at home only.
    expect((await visit('/api/shoots', { headers: { Cookie, Origin: 'http://elsewhere.test' } })).status).toBe(403);
    const json = { Cookie, 'Content-Type': 'application/json' };
    expect((await visit('/api/keys', { method: 'POST', headers: json, body: '{"name":"More","opens":"pages"}' })).status).toBe(403);
    expect((await visit(`/api/keys/${key.id}`, { method: 'DELETE', headers: { Cookie, ...ASKED } })).status).toBe(403);
    // A key for pages does no work, and of keys nothing is told but what they are called.
    expect((await visit('/api/lend/hello', { headers: { Authorization: `Bearer ${key.secret}` } })).status).toBe(401);
    expect(JSON.stringify(await rig.get('/api/keys'))).not.toMatch(/hash|secret/);
    // What it holds open ends with it.
    const listening = new Promise<void>((resolve, reject) => {
      const request = ask(new URL('/api/events', address), { headers: { Cookie } }, (response) => response.resume().on('close', resolve));
      request.on('error', reject).end();
    });
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect((await fetch(`${rig.url}/api/keys/${key.id}`, { method: 'DELETE', headers: ASKED })).status).toBe(204);
    await listening;
    expect((await visit('/api/shoots', { headers: { Cookie } })).status).toBe(401);
  });

  test('a key for work opens neither pages, nor files by their paths, nor more of the database than work needs', async () => {
    const key = await makeKey('Office', 'work');
    expect((await typeKey(key.secret)).status).toBe(401);
    const headers = { Authorization: `Bearer ${key.secret}`, ...ASKED };
    expect((await visit('/api/shoots', { headers })).status).toBe(401);
    expect((await visit('/api/lend/hello', { headers })).status).toBe(200);
    for (const path of ['originals/..%2f..%2fpostgres.key', `originals/${'0'.repeat(64)}`, 'derived/proxy/..%2f..%2fpostgres.key', 'derived/level/00000000-0000-4000-8000-000000000000', 'derived/incoming/00000000-0000-4000-8000-000000000000']) expect((await visit(`/api/lend/${path}`, { headers })).status).toBe(404);
    const { role, password } = loginOf(key.secret);
    const database = new pg.Client({ connectionString: rig.postgres.url.replace(/\/\/[^@]*@/, `//${role}:${password}@`) });
    database.on('error', () => undefined);
    await database.connect();
    expect((await database.query('SELECT count(*)::int AS n FROM shoots')).rows).toEqual([{ n: 0 }]);
    for (const sql of ['SELECT * FROM network_keys', 'CREATE TABLE mine (a int)', 'DROP TABLE shoots', "COPY shoots TO PROGRAM 'true'", "SELECT pg_read_file('postgresql.conf')", 'CREATE ROLE other']) await expect(database.query(sql)).rejects.toThrow(/permission denied|must be (owner|superuser)|owner of/);
    await fetch(`${rig.url}/api/keys/${key.id}`, { method: 'DELETE', headers: ASKED });
    await expect(database.query('SELECT 1')).rejects.toThrow();
    expect((await visit('/api/lend/hello', { headers })).status).toBe(401);
  });
});

describe('another computer lends its cores', () => {
  const FRAMES = 10;
  let shoot: string;
  const look = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
  const whole = (s: Shoot): boolean => s.frames.length === FRAMES && s.frames.every((f) => f.state === 'gathered' && f.shotId) && s.shots.length === 2 && s.shots.every((x) => x.state === 'mixed');
  const bring = async (name: string): Promise<void> => {
    shoot = (await rig.post<{ id: string }>('/api/shoots', { name })).body.id;
    for (let k = 0; k < FRAMES; k++) await rig.upload(shoot, `F${String(k).padStart(3, '0')}.jpg`, await fakeFrame(1 + Math.floor(k / 5), [0, -2, 2, -1, 1][k % 5], Math.floor(k / 5) * 3 + (k % 5) / 3));
  };
  const deliver = async (folderName: string): Promise<void> => {
    const { shots } = await look();
    await rig.post('/api/deliveries', { shots: shots.map((s) => s.id), orders: ['full'], folder: folderName });
    await until(() => rig.get<{ state: string; why: string }[]>('/api/deliveries'), (all) => all.length > 0 && all.every((d) => d.state === 'done'), 240);
  };
  const filesIn = (name: string): Record<string, string> => Object.fromEntries(readdirSync(join(delivered, name)).sort().map((file) => [file, createHash('sha256').update(readFileSync(join(delivered, name, file))).digest('hex')]));
  /** Jobs that no worker of this computer took, as none runs. */
  const workers = async (): Promise<string[]> => (await rig.served.workshop.database.query('SELECT DISTINCT worker FROM claims') as { worker: string }[]).map(({ worker }) => worker);

  test('a card is read, sorted, mixed and delivered there, killed and pulled off in the middle; the files are what this computer makes', async () => {
    const key = await makeKey('Attic', 'work');
    await bring('Net loft');
    const first = lend(key.secret);
    await until(look, (s) => s.frames.filter((f) => f.state === 'gathered').length >= 4, 120);
    kill(first, 'SIGKILL');
    const second = lend(key.secret);
    await until(look, (s) => s.frames.filter((f) => f.state === 'gathered').length >= 7, 120);
    far.pull();
    // What it had in hand is given back, also what it was just writing down: others could go on.
    await until(workers, (left) => left.length === 0, 60);
    far.plug();
    await until(look, whole, 240);
    const shots = await look();
    expect(new Set(shots.frames.map((f) => f.name)).size).toBe(FRAMES);
    expect(((await rig.get<{ keys: Key[] }>('/api/keys')).keys.find((k) => k.id === key.id))!.usedBy).not.toBe('');
    await deliver('there');
    kill(second, 'SIGTERM');
    await ended(second);
    const here = rig.startWorker();
    await deliver('here');
    here.kill('SIGTERM');
    expect(filesIn('there')).toEqual(filesIn('here'));
    expect(Object.keys(filesIn('there'))).toHaveLength(2);
    // Nothing is left in hand, here or there.
    expect(readdirSync(join(rig.store, 'incoming'))).toEqual([]);
    expect(readdirSync(join(folder, 'cache', 'incoming'))).toEqual([]);
    // What the server refuses is told of the picture, not passed over.
    await rig.post('/api/deliveries', { shots: shots.shots.slice(0, 1).map((s) => s.id), orders: ['web'], folder: 'nowhere' });
    delete process.env.ZADDLE_DELIVER_TO;
    await ended(here);
    const third = lend(key.secret, ['--only', 'deliver']);
    await until(() => rig.get<{ state: string; why: string }[]>('/api/deliveries'), (all) => all.some(({ state, why }) => state === 'failed' && /without a folder/.test(why)), 60);
    process.env.ZADDLE_DELIVER_TO = delivered;
    kill(third, 'SIGTERM');
  });

  test('a key that is revoked ends the work at once, and says so; a wrong one never begins', async () => {
    const key = await makeKey('Shed', 'work');
    const lender = lend(key.secret);
    let words = '';
    lender.stderr!.on('data', (data: Buffer) => (words += data.toString()));
    await new Promise<void>((resolve) => lender.stdout!.on('data', (data: Buffer) => /works for/.test(data.toString()) && resolve()));
    await fetch(`${rig.url}/api/keys/${key.id}`, { method: 'DELETE', headers: ASKED });
    expect(await ended(lender)).toBe(1);
    expect(words).toMatch(/does not know this key/);
    const wrong = lend('00000-00000-00000-00000-00000-00000');
    expect(await ended(wrong)).toBe(1);
    const lost = far.run(['worker', '--server', address.replace(/:\d+/, ':9'), '--key', key.secret, '--cache', join(folder, 'cache')]);
    let told = '';
    lost.stderr!.on('data', (data: Buffer) => (told += data.toString()));
    expect(await ended(lost)).toBe(1);
    expect(told).toMatch(/does not answer.*--listen/);
  });
});

describe('files that are kept', () => {
  test('stay below the limit, least recently used first, and what a job has in hand stays until it ends', async () => {
    const files = await KeptFiles.open(join(folder, 'kept-files'), 2500);
    const { writeFile } = await import('node:fs/promises');
    const fetches: string[] = [];
    const bring = (job: ReturnType<KeptFiles['forJob']>, name: string) => job.bring(name, async (into) => { fetches.push(name); await writeFile(into, Buffer.alloc(1000, name)); return true; });
    const [one, two] = [files.forJob(), files.forJob()];
    const a = await bring(one, 'a');
    await bring(two, 'b');
    // Used again, it is not what goes first.
    await new Promise((resolve) => setTimeout(resolve, 20));
    await bring(two, 'a');
    await bring(two, 'c');
    expect(readdirSync(join(folder, 'kept-files', 'kept')).sort()).toEqual(['a', 'c']);
    await bring(two, 'd');
    await bring(two, 'e');
    expect(readdirSync(join(folder, 'kept-files', 'kept')).sort()).toEqual(['d', 'e']);
    // Gone from what is kept, the first job has it still.
    expect(statSync(a!).size).toBe(1000);
    await one.close();
    expect(() => statSync(a!)).toThrow();
    expect(fetches).toEqual(['a', 'b', 'c', 'd', 'e']);
    expect(await two.bring('none', async () => false)).toBeNull();
    await two.close();
    expect(execFileSync('du', ['-sb', join(folder, 'kept-files', 'jobs')]).toString()).toMatch(/^\d{1,5}\s/);
  });
});
