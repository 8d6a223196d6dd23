import { randomUUID } from 'node:crypto';
import type { Socket } from 'node:net';
import type { DataSource } from 'typeorm';
import { announce } from '../data/events';
import { NetworkKeyEntity, type NetworkKey, type Opens } from '../data/entities';
import { hashOf, isSecret, loginOf, newSecret, roleOf, typedSecret } from './keySecret';
import { admitLender, dismissLender } from './lendersRole';

/** Most keys that there may be: each is compared with what is given. */
export const MOST_KEYS = 50;
/** Milliseconds that keys are taken for unchanged by this process, which is told of what it changes itself. */
const FRESH = 1000;
/** Milliseconds between notes that a key is in use. */
const NOTED = 10_000;

/** Keys for use over a network: made, held against what is given, and revoked. Of each, only the hash is kept. */
export class NetworkKeys {
  private kept: { readonly keys: readonly NetworkKey[]; readonly at: number } | null = null;
  /** How often keys were changed here. */
  private changes = 0;
  private readonly noted = new Map<string, number>();
  /** Connections that a key let in. */
  private readonly open = new Map<string, Set<Socket>>();

  constructor(private readonly database: DataSource) {}

  list(): Promise<NetworkKey[]> {
    return this.database.getRepository(NetworkKeyEntity).find({ order: { madeAt: 'ASC' } });
  }

  /** Makes a key. @returns it together with its secret, which is told this once; null where there are too many */
  async make(name: string, opens: Opens): Promise<{ readonly key: NetworkKey; readonly secret: string } | null> {
    const secret = newSecret();
    const made = await this.database.transaction(async (manager) => {
      await manager.query('SELECT pg_advisory_xact_lock(hashtext($1))', ['network keys']);
      const keys = manager.getRepository(NetworkKeyEntity);
      if ((await keys.count()) >= MOST_KEYS) return null;
      const id = randomUUID();
      await keys.insert({ id, name, opens, hash: hashOf(secret), usedAt: null, usedBy: '' });
      if (opens === 'work') await admitLender(manager, loginOf(secret));
      return keys.findOneByOrFail({ id });
    });
    this.forget();
    await announce(this.database, { kind: 'keys' });
    return made && { key: made, secret };
  }

  /** Takes a key back: whoever has it is out at once. @returns whether there was one */
  async revoke(id: string): Promise<boolean> {
    const gone = await this.database.transaction(async (manager) => {
      const keys = manager.getRepository(NetworkKeyEntity);
      const key = await keys.findOne({ where: { id }, select: { id: true, opens: true, hash: true } });
      if (!key) return false;
      await keys.delete({ id });
      if (key.opens === 'work') await dismissLender(manager, roleOf(key.hash));
      return true;
    });
    if (gone) this.forget();
    for (const socket of this.open.get(id) ?? []) socket.destroy();
    this.open.delete(id);
    if (gone) await announce(this.database, { kind: 'keys' });
    return gone;
  }

  /** The key that was given, or null where it is none of ours, or opens something else. @param by the computer that uses it */
  async held(given: string, opens: Opens, by = ''): Promise<NetworkKey | null> {
    const secret = typedSecret(given);
    if (!secret) return null;
    // All are compared, whichever it is.
    const found = (await this.all()).filter((key) => isSecret(secret, key.hash) && key.opens === opens);
    if (found.length === 0) return null;
    await this.note(found[0], by);
    return found[0];
  }

  /** Notes a connection that a key let in: it ends with the key. */
  letIn({ id }: NetworkKey, socket: Socket): void {
    const sockets = this.open.get(id) ?? new Set();
    this.open.set(id, sockets);
    if (sockets.has(socket)) return;
    sockets.add(socket);
    socket.once('close', () => sockets.delete(socket));
  }

  private async all(): Promise<readonly NetworkKey[]> {
    const { changes } = this;
    if (!this.kept || performance.now() - this.kept.at > FRESH) {
      const keys = await this.database.getRepository(NetworkKeyEntity).find({ select: { id: true, name: true, opens: true, hash: true, madeAt: true, usedAt: true, usedBy: true } });
      // One that was revoked while this was asked must not come back.
      if (changes !== this.changes) return this.all();
      this.kept = { keys, at: performance.now() };
    }
    return this.kept.keys;
  }

  private async note({ id }: NetworkKey, by: string): Promise<void> {
    if (performance.now() - (this.noted.get(id) ?? -Infinity) < NOTED) return;
    this.noted.set(id, performance.now());
    await this.database.getRepository(NetworkKeyEntity).update({ id }, { usedAt: new Date(), ...(by ? { usedBy: by.slice(0, 80) } : {}) });
    await announce(this.database, { kind: 'keys' });
  }

  private forget(): void {
    this.kept = null;
    this.changes++;
  }
}
