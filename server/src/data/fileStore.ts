import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** What is made from originals and can be made again. */
export type Derived = 'proxy' | 'structure' | 'thumbnail' | 'delivery' | 'level' | 'found' | 'half' | 'preview' | 'wide';

const UUID_LENGTH = 36;

/** A file came in that is larger than allowed. */
export class TooLarge extends Error {}

/** Files as tasks need them, wherever they lie. */
export interface WorkStore {
  /** Where an original lies on this computer, brought here first where it is elsewhere; null: nobody has it. */
  bringOriginal(sha256: string): Promise<string | null>;
  /** Where a derived file lies on this computer. @throws an error with code ENOENT where there is none */
  bringDerived(kind: Derived, id: string): Promise<string>;
  readDerived(kind: Derived, id: string): Promise<Buffer>;
  /** @returns its bytes */
  putDerived(kind: Derived, id: string, data: Uint8Array): Promise<number>;
  /** Takes a file of `incoming` in as it is. @returns its bytes */
  takeDerived(kind: Derived, id: string, path: string): Promise<number>;
  removeDerived(kind: Derived, id: string): Promise<void>;
  /** Where something is written on this computer until all of it is there. */
  incoming(name: string): string;
}

/**
 * Originals by the SHA-256 of their content, never changed once written; derived files (thumbnails, proxies,
 * deliveries) by a name of ours, which can be made again. Everything is written to a temporary name, synced, then renamed.
 */
export class FileStore implements WorkStore {
  constructor(private readonly folder: string) {}

  original(sha256: string): string {
    return join(this.folder, 'originals', sha256.slice(0, 2), sha256);
  }

  derived(kind: Derived, id: string): string {
    return join(this.folder, kind, id);
  }

  /** Where something is written until all of it is there. */
  incoming(name: string): string {
    return join(this.folder, 'incoming', name);
  }

  async hasOriginal(sha256: string): Promise<boolean> {
    return stat(this.original(sha256)).then(() => true, () => false);
  }

  async bringOriginal(sha256: string): Promise<string | null> {
    return (await this.hasOriginal(sha256)) ? this.original(sha256) : null;
  }

  async bringDerived(kind: Derived, id: string): Promise<string> {
    await stat(this.derived(kind, id));
    return this.derived(kind, id);
  }

  /** Writes a stream to a place of its own. @throws TooLarge past `limit` bytes; nothing is kept then. @returns where it lies, its SHA-256 and its size */
  private async receive(stream: Readable, limit: number): Promise<{ path: string; sha256: string; bytes: number }> {
    const path = this.incoming(randomUUID());
    await mkdir(dirname(path), { recursive: true });
    const hash = createHash('sha256');
    let bytes = 0;
    const measure = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        bytes += chunk.length;
        hash.update(chunk);
        done(bytes > limit ? new TooLarge(`Files may have at most ${Math.round(limit / 1e6)} MB.`) : null, chunk);
      },
    });
    try {
      await pipeline(stream, measure, createWriteStream(path, { flags: 'wx' }));
      return { path, sha256: hash.digest('hex'), bytes };
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  /** Takes a stream in. @throws TooLarge past `limit` bytes; nothing is kept then. */
  async putOriginal(stream: Readable, limit: number): Promise<{ sha256: string; bytes: number }> {
    const { path, sha256, bytes } = await this.receive(stream, limit);
    try {
      await this.settle(path, this.original(sha256));
      return { sha256, bytes };
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  /** Takes a stream in that is known to be a certain file. @returns whether it is; nothing is kept otherwise. @throws TooLarge */
  async putKnownOriginal(stream: Readable, limit: number, sha256: string): Promise<boolean> {
    const received = await this.receive(stream, limit);
    if (received.sha256 === sha256) await this.settle(received.path, this.original(sha256));
    else await rm(received.path, { force: true });
    return received.sha256 === sha256;
  }

  /** Writes a stream to where things are until all of them is there. @returns where it lies. @throws TooLarge past `limit` bytes */
  async putIncoming(stream: Readable, limit: number): Promise<string> {
    return (await this.receive(stream, limit)).path;
  }

  /** Copies a file of this machine in. */
  importOriginal(path: string, limit: number): Promise<{ sha256: string; bytes: number }> {
    return this.putOriginal(createReadStream(path), limit);
  }

  /** @returns its bytes */
  async putDerived(kind: Derived, id: string, data: Uint8Array): Promise<number> {
    const temporary = this.incoming(randomUUID());
    await mkdir(dirname(temporary), { recursive: true });
    try {
      await writeFile(temporary, data);
      await this.settle(temporary, this.derived(kind, id));
      return data.length;
    } catch (error) {
      // What was written of it would only take the room that is missing.
      await rm(temporary, { force: true });
      throw error;
    }
  }

  async takeDerived(kind: Derived, id: string, path: string): Promise<number> {
    const { size } = await stat(path);
    await this.settle(path, this.derived(kind, id));
    return size;
  }

  async removeDerived(kind: Derived, id: string): Promise<void> {
    await rm(this.derived(kind, id), { force: true });
  }

  /** Removes all derived files of a kind whose names begin with one of some ids. */
  async removeDerivedOf(kind: Derived, ids: ReadonlySet<string>): Promise<void> {
    for (const name of await readdir(join(this.folder, kind)).catch(() => [])) if (ids.has(name.slice(0, UUID_LENGTH))) await this.removeDerived(kind, name);
  }

  async removeOriginal(sha256: string): Promise<void> {
    await rm(this.original(sha256), { force: true });
  }

  /** Removes what broken-off writes left behind: nothing is written for so long. Returns how many. */
  async sweepIncoming(olderThan = 3600_000): Promise<number> {
    const folder = join(this.folder, 'incoming');
    let count = 0;
    for (const name of await readdir(folder).catch(() => [])) {
      const path = join(folder, name);
      const written = await stat(path).then((s) => s.mtimeMs, () => Infinity);
      if (Date.now() - written < olderThan) continue;
      // Folders, too: rows of large frames, and layers, lie in one while they are made.
      await rm(path, { recursive: true, force: true });
      count++;
    }
    return count;
  }

  readDerived(kind: Derived, id: string): Promise<Buffer> {
    return readFile(this.derived(kind, id));
  }

  protected async settle(temporary: string, path: string): Promise<void> {
    const file = await open(temporary, 'r');
    await file.sync().finally(() => file.close());
    await mkdir(dirname(path), { recursive: true });
    await rename(temporary, path);
  }
}
