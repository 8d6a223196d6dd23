import type { QueueName } from '../jobs/queues';
import { runWorker } from '../jobs/runWorker';
import type { WorkPlace } from '../jobs/workPlace';
import { KeptFiles } from './keptFiles';
import { LentStore } from './lentStore';
import { openTunnel } from './openTunnel';
import { ServerLine } from './serverLine';

/** A server that this computer works for. */
export interface LendOptions {
  readonly server: string;
  readonly key: string;
  /** Folder that its files are kept in. */
  readonly cache: string;
  /** Bytes that may be kept. */
  readonly limit: number;
}

/** Files of a server elsewhere, brought here as they are needed. */
function placeAway(line: ServerLine, files: KeptFiles): WorkPlace {
  return {
    openJob: () => {
      const own = files.forJob();
      return { store: new LentStore(line, files, own), close: () => own.close() };
    },
    putIntoFolder: async ({ id }) => void (await line.ask({ method: 'POST', path: `/api/lend/deliveries/${id}/folder` })),
  };
}

/** Takes jobs of a server elsewhere until the returned function is called. @param onRefused called once it does not know the key any more */
export async function runLender({ server, key, cache, limit }: LendOptions, only: readonly QueueName[], pulse: number | null, onRefused: () => void): Promise<() => Promise<void>> {
  const tunnel = await openTunnel({ server, key }, onRefused);
  const line = new ServerLine(new URL(server), key);
  const files = await KeptFiles.open(cache, limit);
  const stop = await runWorker(tunnel.databaseUrl, () => placeAway(line, files), only, pulse);
  return async () => {
    await stop();
    line.close();
    await tunnel.close();
  };
}
