import { randomUUID } from 'node:crypto';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { openDatabase } from '../data/database';
import { listen } from '../data/events';
import { FileStore } from '../data/fileStore';
import { closeFinding } from '../found/foundStore';
import { LostJobs } from '../jobs/claims';
import { openQueue } from '../jobs/queues';
import { forgetOldTimes } from '../forecast/workTimes';
import { freshTries } from '../jobs/failures';
import { queueForgotten } from '../jobs/unqueuedWork';
import type { Workshop } from '../jobs/workshop';
import { LevelStore } from '../levels/levelStore';
import { createApp } from './createApp';
import { EventStream } from './eventRoutes';
import { StandingOrders } from './standingOrders';

export interface Served {
  readonly port: number;
  /** Name of this one run, told by /api/health. */
  readonly instance: string;
  readonly workshop: Workshop;
  readonly stop: () => Promise<void>;
}

export interface ServeOptions {
  readonly databaseUrl: string;
  readonly store: string;
  readonly pages: string;
  /** 0 takes any free one. */
  readonly port: number;
}

/** Milliseconds between looks for jobs of workers that are gone, and for work that was never queued. */
const LOOK = 2000;
const SWEEP = 5_000;
const TIDY = 60_000;

/** Something that was opened and has to be closed in turn. */
type Close = () => Promise<unknown>;

/** Serves the application on loopback, migrating the database first. @throws Error saying so when the port is taken; nothing stays open then. */
export async function serve({ databaseUrl, store, pages, port }: ServeOptions): Promise<Served> {
  const opened: Close[] = [];
  const stop = async (): Promise<void> => {
    for (const close of opened.splice(0).reverse()) await close();
  };
  try {
    const database = await openDatabase(databaseUrl, true);
    opened.push(() => database.destroy());
    const boss = await openQueue(databaseUrl, true);
    opened.push(() => boss.stop({ graceful: false }));
    const workshop: Workshop = { database, boss, store: new FileStore(store) };
    const events = new EventStream();
    opened.push(await listen(databaseUrl, (event) => events.publish(event)));
    const levels = new LevelStore(workshop.store);
    opened.push(() => levels.close());
    opened.push(closeFinding);
    const instance = randomUUID();
    const app = createApp(workshop, events, levels, pages, instance);
    const server = await new Promise<Server>((resolve, reject) => {
      const listening = app.listen(port, '127.0.0.1', (error?: Error) => (error ? reject(error) : resolve(listening)));
    }).catch((error: NodeJS.ErrnoException) => {
      throw error.code === 'EADDRINUSE' ? new Error(`Port ${port} is taken. Choose another with --port.`) : error;
    });
    // Pages come back after a while; a connection that is ended just as they do would cost a request.
    server.keepAliveTimeout = 60_000;
    server.headersTimeout = 65_000;
    // Node answers this one by itself, with nothing in it.
    server.on('checkExpectation', (_request, response) => response.writeHead(417, { 'Content-Type': 'application/problem+json' }).end(JSON.stringify({ type: 'about:blank', title: 'Expectation failed', status: 417, detail: 'Send the request without an Expect header.' })));
    opened.push(() => {
      events.close();
      server.closeAllConnections();
      return new Promise<void>((resolve) => server.close(() => resolve()));
    });
    const lost = new LostJobs(database, boss);
    const standing = new StandingOrders(workshop);
    const sweep = (): Promise<unknown> => queueForgotten(database, boss).then(() => standing.look()).catch(() => undefined);
    await freshTries(database);
    await sweep();
    await workshop.store.sweepIncoming();
    const timers = [setInterval(() => lost.release().catch(() => undefined), LOOK), setInterval(() => void sweep(), SWEEP), setInterval(() => void Promise.all([workshop.store.sweepIncoming(), forgetOldTimes(database)]).catch(() => undefined), TIDY)];
    opened.push(async () => timers.forEach((timer) => clearInterval(timer)));
    return { port: (server.address() as AddressInfo).port, instance, workshop, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}
