import { request } from 'node:http';

/** An answer; status 0 where none came. */
export interface Answer {
  readonly status: number;
  readonly body: Buffer;
}
/** Longest wait for an answer, milliseconds. */
const PATIENCE = 20_000;

/** Asks a server over a wire, as the page does. Never throws: what is not answered has status 0. */
export function ask(wire: number, server: number, method: string, path: string, body: Buffer | object | null = null): Promise<Answer> {
  return new Promise((resolve) => {
    const bytes = body === null || Buffer.isBuffer(body) ? body : Buffer.from(JSON.stringify(body));
    const type = Buffer.isBuffer(body) ? 'application/octet-stream' : 'application/json';
    const none = (): void => resolve({ status: 0, body: Buffer.alloc(0) });
    const sent = request({ host: '127.0.0.1', port: wire, method, path, agent: false, timeout: PATIENCE, headers: { Host: `127.0.0.1:${server}`, 'X-Requested-With': 'page', ...(bytes ? { 'Content-Type': type, 'Content-Length': bytes.length } : {}) } }, (response) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part)).on('error', none).on('close', none).on('end', () => resolve({ status: response.statusCode ?? 0, body: Buffer.concat(parts) }));
    });
    sent.on('error', none).on('close', none).on('timeout', () => sent.destroy());
    sent.end(bytes ?? undefined);
  });
}

/** What an answer says; null where it is not the JSON that was asked for. */
export function told<T>({ status, body }: Answer): T | null {
  if (status < 200 || status > 299) return null;
  try {
    return JSON.parse(body.toString('utf8')) as T;
  } catch {
    return null;
  }
}
