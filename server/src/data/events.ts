import type { DataSource, EntityManager } from 'typeorm';
import { Client } from 'pg';

const CHANNEL = 'zaddle_events';

/** Something changed that a screen may show. */
export type ServerEvent =
  | { readonly kind: 'shoot'; readonly shoot: string }
  | { readonly kind: 'shot'; readonly shoot: string; readonly shot: string }
  | { readonly kind: 'mix'; readonly shot: string; readonly revision: number }
  | { readonly kind: 'wall'; readonly shoot: string }
  | { readonly kind: 'methods' }
  | { readonly kind: 'orders' }
  | { readonly kind: 'tables' }
  | { readonly kind: 'keys' }
  | { readonly kind: 'delivery'; readonly delivery: string };

/** Tells all server processes, by way of the database. */
export const announce = (database: DataSource, event: ServerEvent): Promise<void> => announceIn(database.manager, event);

/** The same within a transaction: it is told when that is committed, and not at all when it is not. */
export async function announceIn(manager: EntityManager, event: ServerEvent): Promise<void> {
  await manager.query('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)]);
}

/** Calls back for every event that any process announces; returns what ends it. Reconnects after the database was away. */
export async function listen(url: string, onEvent: (event: ServerEvent) => void): Promise<() => Promise<void>> {
  let ended = false;
  let client: Client;
  const connect = async (): Promise<void> => {
    const own = new Client({ connectionString: url });
    client = own;
    own.on('notification', (message) => onEvent(JSON.parse(message.payload!) as ServerEvent));
    own.on('error', () => own === client && again());
    await own.connect();
    await own.query(`LISTEN ${CHANNEL}`);
  };
  let waiting = false;
  const again = (): void => {
    if (ended || waiting) return;
    waiting = true;
    setTimeout(() => {
      waiting = false;
      connect().catch(again);
    }, 1000);
  };
  await connect();
  return async () => {
    ended = true;
    await client.end().catch(() => undefined);
  };
}
