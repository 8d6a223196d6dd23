import type { IncomingMessage, Server } from 'node:http';
import { connect, type Socket } from 'node:net';
import type { Duplex } from 'node:stream';
import type { NetworkKeys } from './networkKeys';
import { bearerOf, computerOf } from './openDoor';

/** What a connection for work is upgraded to. */
export const TUNNEL = 'zaddle-database';
/** Milliseconds after which a line on which nothing comes is asked whether it still is one. */
export const STILL_THERE = 5000;

/** Lets computers with a key for work through to the database by a server. @returns what ends all lines */
export function tunnelAt(server: Server, keys: NetworkKeys, databaseUrl: string): () => void {
  const lines = new Set<() => void>();
  const upgrade = async (request: IncomingMessage, line: Duplex, head: Buffer): Promise<void> => {
    line.on('error', () => line.destroy());
    const refuse = (status: string): void => void line.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
    if (request.url !== '/api/lend/database' || request.headers.upgrade !== TUNNEL) return refuse('404 Not Found');
    const key = await keys.held(bearerOf(request), 'work', computerOf(request));
    if (!key) return refuse('401 Unauthorized');
    keys.letIn(key, line as Socket);
    const end = leadToDatabase(line, head, databaseUrl);
    lines.add(end);
    line.on('close', () => lines.delete(end));
  };
  server.on('upgrade', (request, line, head) => void upgrade(request, line, head).catch(() => line.destroy()));
  return () => lines.forEach((end) => end());
}

/**
 * Leads a connection that was upgraded on to the database, whose own password it still has to know. A line that breaks ends on both sides, so that nothing waits for a computer that is gone.
 * @param databaseUrl of a database on this machine @returns what ends it
 */
function leadToDatabase(line: Duplex, head: Buffer, databaseUrl: string): () => void {
  const { hostname, port } = new URL(databaseUrl);
  const database = connect(Number(port), hostname);
  const end = (): void => {
    line.destroy();
    database.destroy();
  };
  (line as Socket).setKeepAlive?.(true, STILL_THERE);
  (line as Socket).setNoDelay?.(true);
  for (const side of [line, database]) side.on('error', end).on('close', end);
  database.once('connect', () => {
    line.write(`HTTP/1.1 101 Switching Protocols\r\nConnection: Upgrade\r\nUpgrade: ${TUNNEL}\r\n\r\n`);
    if (head.length > 0) database.write(head);
    line.pipe(database);
    database.pipe(line);
  });
  return end;
}
