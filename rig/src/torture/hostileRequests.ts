import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { pause, type Dice } from '../dice';
import { everyRequest, oneOfEverything, pathOf, type Ids, type PlainRequest } from './everyRequest';
import { smallFrames } from './frames';
import type { Instance } from './instance';
import { ask, told, type Answer } from './ask';
import { mutated, mutatedBytes, mutatedPath } from './mutate';

/** Longest that an answer may take, milliseconds, and most memory that the server may come to hold, bytes. */
const SLOW = 5000;
const MOST_MEMORY = 2e9;
/** Requests at once, and how many until everything is looked at. */
const LANES = 4;
const LOOK = 1000;
/** What is streamed or made anew on purpose takes its time, or never ends. */
const LONG = /\/events|\/archive|\/mix\/anew/;
/** What no answer may tell: paths of this machine, stacks, statements. */
const LEAK = /node_modules|\/home\/|\/work\/|\bat [\w.<>]+ \(|\bSELECT \b.*\bFROM\b|QueryFailedError|ECONNREFUSED/;

/** What came of many mutated requests: each finding by its kind, with how often and an example. */
export interface RequestsReport {
  readonly requests: number;
  readonly byStatus: Readonly<Record<string, number>>;
  readonly findings: Readonly<Record<string, { times: number; readonly example: string }>>;
  readonly memory: number;
}

/** A request, sent with whatever headers; its answer, what type that has, and how long it took. */
function send(port: number, { method, path, headers, body }: { method: string; path: string; headers: Record<string, string>; body: Buffer | null }): Promise<Answer & { readonly type: string; readonly took: number }> {
  return new Promise((resolve) => {
    const began = performance.now();
    const end = (status: number, bytes: Buffer, type: string): void => resolve({ status, body: bytes, type, took: performance.now() - began });
    let sent;
    try {
      sent = request({ host: '127.0.0.1', port, method, path, agent: false, timeout: 4 * SLOW, headers: { Host: `127.0.0.1:${port}`, ...headers, ...(body ? { 'Content-Length': String(body.length) } : {}) } }, (response) => {
        const parts: Buffer[] = [];
        const type = String(response.headers['content-type'] ?? '');
        // Events never end: that they begin is enough.
        if (type.startsWith('text/event-stream')) { end(response.statusCode ?? 0, Buffer.alloc(0), type); return void sent!.destroy(); }
        response.on('data', (part: Buffer) => parts.push(part)).on('error', () => end(0, Buffer.alloc(0), '')).on('end', () => end(response.statusCode ?? 0, Buffer.concat(parts), type));
      });
    } catch {
      // No program can send this path at all.
      return end(400, Buffer.from('{"title":"not sent"}'), 'application/problem+json');
    }
    sent.on('error', () => end(0, Buffer.alloc(0), '')).on('timeout', () => sent.destroy());
    sent.end(body ?? undefined);
  });
}

/** What is wrong with an answer; null: nothing. */
function faultOf({ status, body, type, took }: Awaited<ReturnType<typeof send>>, method: string, path: string): string | null {
  if (took > SLOW && !LONG.test(path)) return 'slow';
  if (status === 0) return 'no answer';
  if (status >= 500) return `answers ${status}`;
  // To HEAD nothing is told.
  if (status < 400 || method === 'HEAD') return null;
  const text = body.toString('utf8');
  if (LEAK.test(text)) return 'tells too much';
  return type.startsWith('application/problem+json') && told<{ title?: string }>({ status: 200, body })?.title ? null : 'no problem document';
}

/** A request with something about it that is not as it should be. */
function hostile(dice: Dice, { method, path, body }: PlainRequest, ids: Ids): Parameters<typeof send>[1] {
  const headers: Record<string, string> = { 'X-Requested-With': 'page', 'Content-Type': typeof body === 'string' ? 'application/octet-stream' : 'application/json' };
  const way = dice.between(0, 1);
  let where = `/api${pathOf(path, ids)}`;
  let bytes: Buffer | null = body === undefined ? null : Buffer.from(typeof body === 'string' ? body : JSON.stringify(way < 0.6 ? mutated(dice, body, 1 + Math.floor(dice.between(0, 3))) : body) ?? '');
  if (way < 0.6) { if (body === undefined) where = mutatedPath(dice, where); }
  else if (way < 0.75) where = mutatedPath(dice, where);
  else if (way < 0.88) bytes = bytes && mutatedBytes(dice, bytes);
  else Object.assign(headers, dice.pick([{ 'Content-Type': 'text/plain' }, { 'Content-Type': 'application/x-www-form-urlencoded' }, { 'Content-Encoding': 'gzip' }, { 'Content-Type': 'application/json; charset=utf-7' }, { 'X-Revision': '-1' }, { 'X-Revision': 'NaN' }, { 'If-None-Match': '"x"'.repeat(200) }, { Range: 'bytes=-1-,5-2' }, { Origin: 'http://evil.example' }, { Host: 'evil.example' }, { 'X-Requested-With': '' }, { 'Accept-Encoding': 'x'.repeat(3000) }]));
  return { method: dice.between(0, 1) < 0.03 ? dice.pick(['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'HEAD']) : method, path: where, headers, body: method === 'GET' ? null : bytes };
}

/** Bytes of memory that a process holds; 0 for one that is gone. */
export function memoryOf(pid: number | null): number {
  try {
    return 1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
  } catch {
    return 0;
  }
}

/** Fresh things to be asked about: a shoot that shows its picture, and one of everything else. What hostile requests did to earlier ones does not matter. */
async function freshIds(instance: Instance, salt: number): Promise<Ids> {
  const say = (method: string, path: string, body: Buffer | object | null = null): Promise<Answer> => ask(instance.port, instance.port, method, path, body);
  // So many are kept at most, and names of orders are there once. A method is left, to be kept once more.
  for (const kept of ['orders', 'methods', 'tables']) {
    const listed = told<{ id?: string; digest?: string }[]>(await say('GET', `/api/${kept}`)) ?? [];
    for (const { id, digest } of kept === 'methods' ? listed.slice(1) : listed) await say('DELETE', `/api/${kept}/${id ?? digest}`);
  }
  const { id } = told<{ id: string }>(await say('POST', '/api/shoots', { name: `Visit ${salt}` }))!;
  for (const { name, bytes } of await smallFrames(0, 4, 500 + salt)) await say('POST', `/api/shoots/${id}/frames?name=${name}`, bytes);
  for (let k = 0; k < 600; k++) {
    const shoot = told<{ frames: { shotId: string | null }[]; shots: { state: string }[] }>(await say('GET', `/api/shoots/${id}`));
    if (shoot && shoot.frames.every(({ shotId }) => shotId !== null) && shoot.shots.length > 0 && shoot.shots.every(({ state }) => state === 'mixed')) return oneOfEverything(say, id);
    await pause(200);
  }
  throw new Error('Four frames were not mixed within two minutes.');
}

/**
 * Mutated requests to everything that a server answers. Each must be answered within seconds, by no 5xx, refusals by a problem document
 * (RFC 9457) that tells nothing of the machine; and after every thousand a new card must still become a picture.
 */
export async function hostileRequests(instance: Instance, dice: Dice, count: number, tell: (words: string) => void): Promise<RequestsReport> {
  const [byStatus, findings]: [Record<string, number>, Record<string, { times: number; example: string }>] = [{}, {}];
  let [done, memory] = [0, 0];
  const note = (what: string, example: string): void => { (findings[what] ??= { times: 0, example: example.slice(0, 400) }).times++; };
  for (let round = 0; done < count; round++) {
    const ids = await freshIds(instance, round);
    const requests = everyRequest(ids);
    const until = Math.min(count, done + LOOK);
    await Promise.all(Array.from({ length: LANES }, async () => {
      while (done < until) {
        done++;
        const asked = hostile(dice, dice.pick(requests), ids);
        const answer = await send(instance.port, asked);
        byStatus[answer.status] = (byStatus[answer.status] ?? 0) + 1;
        const fault = faultOf(answer, asked.method, asked.path);
        if (fault) note(`${fault}: ${asked.method} ${asked.path.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, ':id').split('?')[0].slice(0, 80)}`, `${asked.path} ${JSON.stringify(asked.headers)} ${asked.body?.toString().slice(0, 300) ?? ''} -> ${answer.body.toString().slice(0, 200)}`);
      }
    }));
    memory = Math.max(memory, memoryOf(instance.server));
    if (instance.server === null) { note('the server ended', ''); break; }
    tell(`${done} of ${count} requests; ${Object.keys(findings).length} findings; ${Math.round(memory / 1e6)} MB`);
  }
  if (memory > MOST_MEMORY) note('memory', `${Math.round(memory / 1e6)} MB`);
  return { requests: done, byStatus, findings, memory };
}
