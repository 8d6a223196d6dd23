import { randomUUID } from 'node:crypto';
import { createServer, type RequestListener, type Server } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { openDatabase } from '../data/database';
import { listen } from '../data/events';
import { FileStore } from '../data/fileStore';
import { closeFinding } from '../found/foundStore';
import { LostJobs } from '../jobs/claims';
import { openQueue } from '../jobs/queues';
import { intoFolder } from '../jobs/workPlace';
import { tunnelAt } from '../lend/databaseTunnel';
import { grantLenders } from '../lend/lendersRole';
import { NetworkKeys } from '../lend/networkKeys';
import { cameIn, type Listening } from '../lend/openDoor';
import { forgetOldTimes } from '../forecast/workTimes';
import { freshTries } from '../jobs/failures';
import { queueForgotten } from '../jobs/unqueuedWork';
import type { ServerWorkshop } from '../jobs/workshop';
import { LevelStore } from '../levels/levelStore';
import { createApp } from './createApp';
import { EventStream } from './eventRoutes';
import { StandingOrders } from './standingOrders';

export interface Served {
  readonly port: number;
  /** Name of this one run, told by /api/health. */
  readonly instance: string;
  readonly workshop: ServerWorkshop;
  readonly stop: () => Promise<void>;
}

export interface ServeOptions {
  readonly databaseUrl: string;
  readonly store: string;
  readonly pages: string;
  /** 0 takes any free one. */
  readonly port: number;
  /** Where it listens beside loopback; there whoever comes needs a key. */
  readonly listening?: Listening | null;
}

/** Milliseconds between looks for jobs of workers that are gone, and for work that was never queued. */
const LOOK = 2000;
const SWEEP = 5_000;
const TIDY = 60_000;

/** Something that was opened and has to be closed in turn. */
type Close = () => Promise<unknown>;

/** Connections from the network at once. */
const MOST_CONNECTIONS = 400;

/** Lets a server listen. @param option that chooses its port. @throws Error saying so where that cannot be had */
async function open(server: Server, host: string, port: number, option: string): Promise<void> {
  await new Promise<void>((resolve, reject) => server.once('error', reject).listen(port, host, resolve)).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE') throw new Error(`Port ${port} is taken. Choose another with ${option}.`);
    throw error.code === 'EADDRNOTAVAIL' ? new Error(`${host} is no address of this computer. Choose one of its own with ${option}.`) : error;
  });
  // Pages come back after a while; a connection that is ended just as they do would cost a request.
  server.keepAliveTimeout = 60_000;
  server.headersTimeout = 65_000;
  // Node answers this one by itself, with nothing in it.
  server.on('checkExpectation', (_request, response) => response.writeHead(417, { 'Content-Type': 'application/problem+json' }).end(JSON.stringify({ type: 'about:blank', title: 'Expectation failed', status: 417, detail: 'Send the request without an Expect header.' })));
}

/** Serves the application on loopback, migrating the database first. @throws Error saying so when the port is taken; nothing stays open then. */
export async function serve({ databaseUrl, store, pages, port, listening = null }: ServeOptions): Promise<Served> {
  const opened: Close[] = [];
  const stop = async (): Promise<void> => {
    for (const close of opened.splice(0).reverse()) await close();
  };
  try {
    const database = await openDatabase(databaseUrl, 'server');
    opened.push(() => database.destroy());
    const boss = await openQueue(databaseUrl, true);
    opened.push(() => boss.stop({ graceful: false }));
    const files = new FileStore(store);
    const workshop: ServerWorkshop = { database, boss, store: files, putIntoFolder: intoFolder(database, files) };
    const events = new EventStream();
    opened.push(await listen(databaseUrl, (event) => events.publish(event)));
    const levels = new LevelStore(workshop.store);
    opened.push(() => levels.close());
    opened.push(closeFinding);
    const instance = randomUUID();
    const keys = new NetworkKeys(database);
    await grantLenders(database.manager);
    const app = createApp({ workshop, events, levels, pages, instance, keys, listening });
    const openDoorAt = async (server: Server, host: string, at: number, option: string): Promise<number> => {
      await open(server, host, at, option);
      const endTunnels = tunnelAt(server, keys, databaseUrl);
      opened.push(() => {
        events.close();
        endTunnels();
        server.closeAllConnections();
        return new Promise<void>((resolve) => server.close(() => resolve()));
      });
      return (server.address() as AddressInfo).port;
    };
    const own = await openDoorAt(createServer(app), '127.0.0.1', port, '--port');
    if (listening) {
      const server = listening.certificate ? createSecureServer(listening.certificate, app as RequestListener) : createServer(app);
      server.on(listening.certificate ? 'secureConnection' : 'connection', cameIn);
      server.maxConnections = MOST_CONNECTIONS;
      await openDoorAt(server, listening.host, listening.port, '--listen');
    }
    const lost = new LostJobs(database, boss);
    const standing = new StandingOrders(workshop);
    const sweep = (): Promise<unknown> => queueForgotten(database, boss).then(() => standing.look()).catch(() => undefined);
    await freshTries(database);
    await sweep();
    await workshop.store.sweepIncoming();
    const timers = [setInterval(() => lost.release().catch(() => undefined), LOOK), setInterval(() => void sweep(), SWEEP), setInterval(() => void Promise.all([workshop.store.sweepIncoming(), forgetOldTimes(database)]).catch(() => undefined), TIDY)];
    opened.push(async () => timers.forEach((timer) => clearInterval(timer)));
    return { port: own, instance, workshop, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}
