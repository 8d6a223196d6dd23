import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile, rm, stat, writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { Derived, WorkStore } from '../data/fileStore';
import type { JobFiles, KeptFiles } from './keptFiles';
import type { ServerLine } from './serverLine';

async function digestOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

/** A server's store, as one job on another computer has it: files are fetched by content once and kept, and what is made is brought to the server. */
export class LentStore implements WorkStore {
  constructor(private readonly line: ServerLine, private readonly files: KeptFiles, private readonly own: JobFiles) {}

  incoming(name: string): string {
    return this.files.incoming(name);
  }

  bringOriginal(sha256: string): Promise<string | null> {
    return this.own.bring(`original-${sha256}`, async (into) => {
      try {
        await this.line.ask({ method: 'GET', path: `/api/lend/originals/${sha256}`, into });
      } catch (error) {
        if (isMissing(error)) return false;
        throw error;
      }
      // The line, or a disk, may have hurt it.
      if ((await digestOf(into)) === sha256) return true;
      await rm(into, { force: true });
      throw Object.assign(new Error('An original came damaged.'), { code: '08006' });
    });
  }

  async bringDerived(kind: Derived, id: string): Promise<string> {
    const path = `/api/lend/derived/${kind}/${id}`;
    // Made anew meanwhile, it has another tag.
    for (;;) {
      const { etag } = await this.line.ask({ method: 'HEAD', path });
      const found = await this.own.bring(nameOf(kind, id, etag), async (into) => (await this.line.ask({ method: 'GET', path, into })).etag === etag);
      if (found !== null) return found;
    }
  }

  async readDerived(kind: Derived, id: string): Promise<Buffer> {
    return readFile(await this.bringDerived(kind, id));
  }

  async putDerived(kind: Derived, id: string, data: Uint8Array): Promise<number> {
    const path = this.incoming(randomUUID());
    try {
      await writeFile(path, data);
      return await this.takeDerived(kind, id, path);
    } finally {
      await rm(path, { force: true });
    }
  }

  async takeDerived(kind: Derived, id: string, path: string): Promise<number> {
    const { size } = await stat(path);
    const { etag } = await this.line.ask({ method: 'PUT', path: `/api/lend/derived/${kind}/${id}`, body: { file: path } });
    await this.files.keep(nameOf(kind, id, etag), path);
    return size;
  }

  async removeDerived(kind: Derived, id: string): Promise<void> {
    await this.line.ask({ method: 'DELETE', path: `/api/lend/derived/${kind}/${id}` });
  }
}

/** What is kept of a derived file: another name for another content. */
const nameOf = (kind: Derived, id: string, etag: string): string => `${kind}-${id}-${etag.replace(/[^0-9a-z]/gi, '')}`;
