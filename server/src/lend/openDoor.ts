import type { IncomingMessage } from 'node:http';
import { networkInterfaces } from 'node:os';
import type { TLSSocket } from 'node:tls';
import type { Request, RequestHandler, Response } from 'express';
import { Problem } from '../api/problem';
import { keyPage } from './keyPage';
import type { NetworkKeys } from './networkKeys';

/** Where a server listens beside loopback, as whoever started it chose. */
export interface Listening {
  readonly host: string;
  readonly port: number;
  /** A certificate and its key, PEM; null: what goes over the line can be read on the way. */
  readonly certificate: { readonly cert: Buffer; readonly key: Buffer } | null;
}

/** Connections that came from the network. */
const fromNetwork = new WeakSet<object>();
/** Marks a connection as one that came from the network. */
export const cameIn = (socket: object): void => void fromNetwork.add(socket);
/** Whether a request came from the network; otherwise by loopback. */
export const isFromNetwork = ({ socket }: Pick<IncomingMessage, 'socket'>): boolean => fromNetwork.has(socket);

const COOKIE = /(?:^|;\s*)zaddle_key=([0-9a-f-]{1,60})/;
/** Milliseconds that a browser keeps a key: half a year. */
const KEPT = 183 * 86_400_000;

/** The key that a program sent along, or an empty text. */
export const bearerOf = ({ headers }: Pick<IncomingMessage, 'headers'>): string => /^Bearer (\S{1,60})$/.exec(headers.authorization ?? '')?.[1] ?? '';
/** The computer that it runs on, as it calls itself. */
export function computerOf({ headers }: Pick<IncomingMessage, 'headers'>): string {
  try {
    return decodeURIComponent(String(headers['x-computer'] ?? '')).replace(/[^\p{L}\p{N} ._-]/gu, '').slice(0, 80);
  } catch {
    return '';
  }
}

/** Addresses by which others reach this server. */
export function addressesOf({ host, port, certificate }: Listening): string[] {
  const every = host === '0.0.0.0' || host === '::';
  const hosts = every ? Object.values(networkInterfaces()).flat().flatMap((found) => (found && !found.internal && found.family === 'IPv4' ? [found.address] : [])) : [host.includes(':') ? `[${host}]` : host];
  return hosts.map((each) => `http${certificate ? 's' : ''}://${each}:${port}/`);
}

/** Shows the page that asks for a key. Its form tells where it comes from, or it would pass for foreign. */
function askForKey(response: Response, wrong: string | null): void {
  response.status(401).set({ 'Cache-Control': 'no-store', 'Referrer-Policy': 'same-origin' }).type('html').send(keyPage(wrong));
}

/**
 * Lets requests from the network in by a key: browsers have theirs in a cookie that no other site's page can send, after typing it once on a page of its
 * own; programs that work for this server show theirs where they ask. Pages of other addresses are foreign, as on loopback.
 */
export function openDoor(keys: NetworkKeys): RequestHandler {
  const guard = async (request: Request, response: Response): Promise<boolean> => {
    const { origin, host = '', cookie = '' } = request.headers;
    const scheme = (request.socket as Partial<TLSSocket>).encrypted ? 'https' : 'http';
    const site = request.headers['sec-fetch-site'];
    const visit = request.method === 'GET' && !request.path.startsWith('/api') && request.headers['sec-fetch-mode'] === 'navigate';
    if ((origin && origin !== `${scheme}://${host}`) || (site && site !== 'same-origin' && site !== 'none' && !visit)) throw new Problem(403, 'Foreign request', 'This server answers only its own pages.');
    if (request.path.startsWith('/api/lend/')) return true;
    if (request.method === 'POST' && request.path === '/key') {
      const given = String((request.body as { key?: unknown } | undefined)?.key ?? '');
      if (!(await keys.held(given, 'pages'))) {
        askForKey(response, 'That is no key of this server, or it was revoked.');
        return false;
      }
      response.cookie('zaddle_key', given.trim().toLowerCase(), { httpOnly: true, sameSite: 'strict', secure: scheme === 'https', maxAge: KEPT, path: '/' }).redirect(303, '/');
      return false;
    }
    const key = await keys.held(COOKIE.exec(cookie)?.[1] ?? '', 'pages');
    if (key) {
      keys.letIn(key, request.socket);
      return true;
    }
    if (request.path.startsWith('/api/')) throw new Problem(401, 'Key missing', 'This server asks whoever comes over the network for a key. Open its first page and type the key.');
    askForKey(response, null);
    return false;
  };
  return (request, response, next) => void guard(request, response).then((goesOn) => goesOn && next(), next);
}
