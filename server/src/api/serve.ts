import type { AddressInfo } from 'node:net';
import { openDatabase } from '../data/database';
import { listen } from '../data/events';
import { FileStore } from '../data/fileStore';
import { releaseLostJobs } from '../jobs/claims';
import { openQueue } from '../jobs/queues';
import type { Workshop } from '../jobs/workshop';
import { createApp } from './createApp';
import { EventStream } from './eventRoutes';

export interface Served {
  readonly port: number;
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

/** Serves the application on loopback, migrating the database first. @throws Error saying so when the port is taken. */
export async function serve({ databaseUrl, store, pages, port }: ServeOptions): Promise<Served> {
  const database = await openDatabase(databaseUrl, true);
  const boss = await openQueue(databaseUrl, true);
  const workshop: Workshop = { database, boss, store: new FileStore(store) };
  const events = new EventStream();
  const deaf = await listen(databaseUrl, (event) => events.publish(event));
  const app = createApp(workshop, events, pages);
  const server = await new Promise<ReturnType<typeof app.listen>>((resolve, reject) => {
    const listening = app.listen(port, '127.0.0.1', (error?: Error) => (error ? reject(error) : resolve(listening)));
  }).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'EADDRINUSE' ? new Error(`Port ${port} is taken. Choose another with --port.`) : error;
  });
  const sweep = setInterval(() => releaseLostJobs(database, boss).catch(() => undefined), 2000);
  return {
    port: (server.address() as AddressInfo).port,
    workshop,
    stop: async () => {
      clearInterval(sweep);
      events.close();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await deaf();
      await boss.stop({ graceful: false });
      await database.destroy();
    },
  };
}
