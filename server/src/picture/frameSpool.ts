import { mkdir, open, rm, type FileHandle } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { FrameId } from '@zaddle/document';
import type { Pixels } from '@zaddle/core/image/plane';

interface Spooled {
  readonly file: FileHandle;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
}

/**
 * Decoded frames as plain rows on disk, for shots that are larger than memory: decoders start from the top for every part,
 * so each frame is decoded once. The files have no name from the start on: whatever ends this process, nothing of them stays.
 */
export class FrameSpool {
  private readonly frames = new Map<FrameId, Spooled>();

  constructor(private readonly folder: string) {}

  async add(id: FrameId, { width, height, data }: Pixels): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    const path = join(this.folder, `rows-${randomUUID()}`);
    const file = await open(path, 'wx+', 0o600);
    await rm(path);
    this.frames.set(id, { file, width, height, depth: data instanceof Uint16Array ? 16 : 8 });
    await file.writeFile(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
  }

  sizeOf(id: FrameId): Omit<Spooled, 'file'> {
    return this.frames.get(id)!;
  }

  /** Reads `count` whole rows from row `top` on. @param out room for them */
  async readRows(id: FrameId, top: number, count: number, out: Uint8Array): Promise<void> {
    const { file, width, depth } = this.frames.get(id)!;
    const rowBytes = width * 3 * (depth / 8);
    let done = 0;
    while (done < count * rowBytes) {
      const { bytesRead } = await file.read(out, done, count * rowBytes - done, top * rowBytes + done);
      if (bytesRead === 0) throw new Error('A spooled frame is cut off.');
      done += bytesRead;
    }
  }

  async close(): Promise<void> {
    for (const { file } of this.frames.values()) await file.close();
    this.frames.clear();
  }
}
