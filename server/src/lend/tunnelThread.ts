import * as http from 'node:http';
import * as https from 'node:https';
import { createServer, type Socket } from 'node:net';
import type { Duplex } from 'node:stream';
import { parentPort, workerData } from 'node:worker_threads';
import { STILL_THERE, TUNNEL } from './databaseTunnel';
import { greeting } from './serverLine';

/** What the thread is told, and what it tells. */
export interface TunnelSetup {
  readonly server: string;
  readonly key: string;
}
export type TunnelTold = { readonly kind: 'port'; readonly port: number } | { readonly kind: 'refused' };

/** Milliseconds between looks whether the server answers, and how long it may take. */
const LOOK = 3000;
const SLOW = 5000;
/** Looks in vain after which all lines count as broken, so that nothing waits for them. */
const IN_VAIN = 3;

const { server, key } = workerData as TunnelSetup;
const { request } = server.startsWith('https:') ? https : http;
const told = (message: TunnelTold): void => parentPort!.postMessage(message);
const lines = new Set<() => void>();

/** Leads one connection of this process to the server's database. */
function lead(near: Socket): void {
  let far: Duplex | null = null;
  const end = (): void => {
    lines.delete(end);
    near.destroy();
    far?.destroy();
    asked.destroy();
  };
  lines.add(end);
  const asked = request(new URL('/api/lend/database', server), { headers: { ...greeting(key), Connection: 'Upgrade', Upgrade: TUNNEL }, agent: false, timeout: SLOW });
  near.on('error', end).on('close', end).setNoDelay(true);
  asked.on('error', end).on('timeout', () => far ?? end()).on('response', (response) => {
    if (response.statusCode === 401) told({ kind: 'refused' });
    end();
  });
  asked.on('upgrade', (_response, line: Socket, head) => {
    far = line;
    line.on('error', end).on('close', end).setTimeout(0);
    line.setNoDelay(true);
    line.setKeepAlive(true, STILL_THERE);
    if (head.length > 0) near.write(head);
    line.pipe(near);
    near.pipe(line);
  });
  asked.end();
}

let inVain = 0;
/** Looks whether the server answers: a cable that was pulled tells nobody. */
function look(): void {
  const asked = request(new URL('/api/lend/hello', server), { headers: greeting(key), agent: false, timeout: SLOW });
  const answered = new Promise<number>((resolve) => {
    asked.on('response', (response) => resolve(response.resume().statusCode ?? 0)).on('error', () => resolve(0)).on('timeout', () => asked.destroy());
  });
  asked.end();
  void answered.then((status) => {
    if (status === 401) told({ kind: 'refused' });
    inVain = status === 200 ? 0 : inVain + 1;
    if (inVain === IN_VAIN) for (const end of [...lines]) end();
    setTimeout(look, LOOK);
  });
}

const near = createServer(lead);
near.listen(0, '127.0.0.1', () => {
  const address = near.address();
  told({ kind: 'port', port: typeof address === 'object' && address ? address.port : 0 });
  look();
});
