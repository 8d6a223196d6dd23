import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import * as http from 'node:http';
import * as https from 'node:https';
import { hostname } from 'node:os';
import { pipeline } from 'node:stream/promises';
import { PlainError } from '../picture/limits';

/** Milliseconds without a byte after which a request counts as failed. */
const SILENT = 45_000;
/** How long a server that does not answer is asked again, and how often, milliseconds. */
const PATIENCE = 60_000;
const AGAIN = 1000;

/** The key is not, or no longer, one of the server's. */
export class KeyRefused extends Error {
  constructor() {
    super('The server does not know this key. It may have been revoked; make another on its page.');
  }
}

export interface Asked {
  readonly method: 'GET' | 'HEAD' | 'PUT' | 'POST' | 'DELETE';
  readonly path: string;
  /** What is sent along: bytes, or the file that has them. */
  readonly body?: Uint8Array | { readonly file: string };
  /** A file that the answer is written to, where it is one of success. */
  readonly into?: string;
}
export interface Answer {
  readonly status: number;
  readonly etag: string;
  readonly body: Buffer;
}

/** Why a server refuses something, in its own words. */
function detailOf({ status, body }: Answer): string {
  try {
    return String((JSON.parse(body.toString()) as { detail?: unknown }).detail ?? `The server refused it (${status}).`);
  } catch {
    return `The server refused it (${status}).`;
  }
}

const failed = (message: string, code: string): Error => Object.assign(new Error(message), { code });

/** What every request of this computer carries. */
export const greeting = (key: string): Record<string, string> => ({ Authorization: `Bearer ${key}`, 'X-Requested-With': 'zaddle worker', 'X-Computer': encodeURIComponent(hostname()) });

/** The way to a server that this computer works for. */
export class ServerLine {
  private readonly agent: http.Agent;

  constructor(readonly server: URL, private readonly key: string, private readonly patience = PATIENCE) {
    this.agent = server.protocol === 'https:' ? new https.Agent({ keepAlive: true }) : new http.Agent({ keepAlive: true });
  }

  /**
   * Asks until there is an answer.
   * @throws KeyRefused; PlainError in the server's words where it refuses something; Error with code 08006 where the server does not answer for long, as a database has that is away; with ENOSPC where it has no room, and ENOENT where it has no such file
   */
  async ask(asked: Asked): Promise<Answer> {
    const until = performance.now() + this.patience;
    for (;;) {
      const answer = await this.once(asked).catch((error: NodeJS.ErrnoException) => {
        // What is wrong on this computer is not the line's fault.
        if (['ENOSPC', 'EDQUOT', 'ENOENT', 'EACCES'].includes(error.code ?? '')) throw error;
        return null;
      });
      if (answer?.status === 401) throw new KeyRefused();
      if (answer?.status === 404) throw failed('The server has no such file.', 'ENOENT');
      if (answer?.status === 507) throw failed('The disk of the server is full.', 'ENOSPC');
      if (answer && answer.status < 400) return answer;
      if (answer && answer.status < 500) throw new PlainError(detailOf(answer));
      if (performance.now() > until) throw failed('The server does not answer.', '08006');
      await new Promise((resolve) => setTimeout(resolve, AGAIN));
    }
  }

  private async once({ method, path, body, into }: Asked): Promise<Answer> {
    const length = body === undefined ? 0 : body instanceof Uint8Array ? body.length : (await stat(body.file)).size;
    const headers = { ...greeting(this.key), ...(body === undefined ? {} : { 'Content-Type': 'application/octet-stream', 'Content-Length': String(length) }) };
    const ask = this.server.protocol === 'https:' ? https.request : http.request;
    const request = ask(new URL(path, this.server), { method, headers, agent: this.agent });
    request.setTimeout(SILENT, () => request.destroy(new Error('The server fell silent.')));
    const answered = new Promise<http.IncomingMessage>((resolve, reject) => request.once('response', resolve).once('error', reject));
    // An answer may come before all is sent: of a server that will not have it.
    const sent = body === undefined || body instanceof Uint8Array ? Promise.resolve(void request.end(body)) : pipeline(createReadStream(body.file), request);
    const response = await Promise.race([answered, sent.then(() => answered)]);
    sent.catch(() => undefined);
    response.setTimeout(SILENT, () => response.destroy(new Error('The server fell silent.')));
    const { statusCode = 0 } = response;
    const etag = response.headers.etag ?? '';
    if (into !== undefined && statusCode === 200) {
      await pipeline(response, createWriteStream(into));
      return { status: statusCode, etag, body: Buffer.alloc(0) };
    }
    const parts: Buffer[] = [];
    for await (const part of response) parts.push(part as Buffer);
    return { status: statusCode, etag, body: Buffer.concat(parts) };
  }

  close(): void {
    this.agent.destroy();
  }
}
