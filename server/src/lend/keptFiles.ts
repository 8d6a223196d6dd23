import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, link, mkdir, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';

/** Writes a file to a place. @returns whether there is such a file */
export type Fetch = (into: string) => Promise<boolean>;

/**
 * Files of a server, kept on the disk of a computer that works for it, up to so many bytes: what was not used for longest goes first. A job has links of
 * its own to what it works with, so that nothing that is in use goes, whichever process makes room.
 */
export class KeptFiles {
  private constructor(private readonly folder: string, private readonly limit: number) {}

  /** @param folder of the server's files on this computer @param limit bytes */
  static async open(folder: string, limit: number): Promise<KeptFiles> {
    for (const name of ['kept', 'jobs', 'incoming']) await mkdir(join(folder, name), { recursive: true, mode: 0o700 });
    // What processes that were killed had in hand would take room for ever.
    for (const name of await readdir(join(folder, 'jobs'))) if (!existsSync(`/proc/${name.split('-')[0]}`)) await rm(join(folder, 'jobs', name), { recursive: true, force: true });
    return new KeptFiles(folder, limit);
  }

  /** Takes away what broken-off writes left; to be called while no process runs. */
  static async tidy(folder: string): Promise<void> {
    await rm(join(folder, 'incoming'), { recursive: true, force: true });
  }

  /** Where something is written until all of it is there. */
  incoming(name: string): string {
    return join(this.folder, 'incoming', name);
  }

  /** Links of one job. */
  forJob(): JobFiles {
    return new JobFiles(this, join(this.folder, 'jobs', `${process.pid}-${randomUUID()}`));
  }

  kept(name: string): string {
    return join(this.folder, 'kept', name);
  }

  /** Takes a file of `incoming` in under a name. */
  async keep(name: string, path: string): Promise<void> {
    await rename(path, this.kept(name));
    await this.makeRoom();
  }

  private async makeRoom(): Promise<void> {
    const files = (await Promise.all((await readdir(join(this.folder, 'kept'))).map(async (name) => {
      const found = await stat(this.kept(name)).catch(() => null);
      return found ? [{ name, bytes: found.size, used: found.mtimeMs }] : [];
    }))).flat().sort((a, b) => a.used - b.used);
    let bytes = files.reduce((sum, file) => sum + file.bytes, 0);
    for (const file of files) {
      if (bytes <= this.limit) return;
      await rm(this.kept(file.name), { force: true });
      bytes -= file.bytes;
    }
  }
}

/** What one job has in hand. */
export class JobFiles {
  constructor(private readonly files: KeptFiles, private readonly folder: string) {}

  /** Where a file lies for this job, fetched first where it is not kept; null: there is none. @param name tells its content: files of one name are the same */
  async bring(name: string, fetch: Fetch): Promise<string | null> {
    const own = join(this.folder, name);
    await mkdir(dirname(own), { recursive: true });
    if (await this.linkTo(name, own)) return own;
    const incoming = this.files.incoming(randomUUID());
    try {
      if (!(await fetch(incoming))) return null;
      // Linked first: making room may take the name away again at once.
      await this.ownLink(incoming, own);
      await this.files.keep(name, incoming);
      return own;
    } finally {
      await rm(incoming, { force: true });
    }
  }

  /** Links to what is kept, and notes that it was used. @returns whether it is there */
  private async linkTo(name: string, own: string): Promise<boolean> {
    try {
      await this.ownLink(this.files.kept(name), own);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
      return false;
    }
    const now = new Date();
    await utimes(own, now, now);
    return true;
  }

  /** A link, or a copy where the disk has none. */
  private async ownLink(path: string, own: string): Promise<void> {
    await link(path, own).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'EEXIST') return;
      if (error.code !== 'EPERM' && error.code !== 'ENOTSUP') throw error;
      return copyFile(path, own);
    });
  }

  async close(): Promise<void> {
    await rm(this.folder, { recursive: true, force: true });
  }
}
