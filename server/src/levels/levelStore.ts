import { randomUUID } from 'node:crypto';
import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Pixels } from '@zaddle/core/image/plane';
import type { FileStore } from '../data/fileStore';
import { decodePart } from '../picture/decodeFrame';
import { levelSize, LEVELS, type Level } from './levelSize';
import type { DecodeTask, HalveTask, KeepTask } from './levelThread';

/** A part of a frame at a level, pixels of that level. */
export interface Part {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

interface StoredFrame {
  readonly id: string;
  readonly sha256: string;
  readonly width: number;
  readonly height: number;
  /** The file has 16 bits a channel. */
  readonly deep: boolean;
}

/** Bytes on disk that opened frames may take: some forty of 24 megapixels. */
const BUDGET = 4_000_000_000;
/** Threads that decode and write. */
const OPENERS = 2;
/** Pixels of a part up to which it is read straight from the file at first. */
const DIRECT = 6_000_000;
/** Milliseconds without a wish before frames are opened for later ones. */
const QUIET = 300;
/** Milliseconds that writing down waits, so that the other frames of a view are decoded first. */
const WRITING_WAITS = 400;
/** Bytes of decoded frames that may wait in memory to be written down; one of any size always may. */
const IN_MEMORY = 420_000_000;

/** Room for a part, in 16 bits where the frame has them: lower levels are 8 bit. */
const partData = ({ deep }: StoredFrame, level: Level, values: number): Uint8Array | Uint16Array => (deep && level === 0 ? new Uint16Array(values) : new Uint8Array(values));

/** A part of a picture, copied out. */
function partOf(pixels: Pixels, { x, y, w, h }: Part, out: Uint8Array | Uint16Array): Pixels {
  for (let row = 0; row < h; row++) out.set(pixels.data.subarray(((y + row) * pixels.width + x) * 3, ((y + row) * pixels.width + x + w) * 3), row * w * 3);
  return { width: w, height: h, data: out };
}

/**
 * Frames opened for looking at: each is decoded once, its levels lie on disk as plain rows, and parts are read from there.
 * What was not looked at for longest goes when the room is used up; it can be made again.
 */
export class LevelStore {
  /** Bytes of each frame's levels, least recently used first. */
  private readonly kept = new Map<string, number>();
  private readonly opening = new Map<string, Promise<void>>();
  /** Levels of frames that are decoded and not written yet; each below the first is made when it is wanted. */
  private readonly inMemory = new Map<string, Promise<Pixels>[]>();
  private promised = 0;
  /** Parts that are being read from files right now, and frames to be opened after them. */
  private direct = 0;
  private readonly toOpen = new Map<string, StoredFrame>();
  private openingTimer: NodeJS.Timeout | undefined;
  private readonly queue: (() => void)[] = [];
  private pool: Piscina | null = null;
  private readonly ready: Promise<void>;

  constructor(private readonly store: FileStore, private readonly budget = BUDGET) {
    this.ready = this.findKept();
  }

  private path(id: string, level: Level): string {
    return this.store.derived('level', `${id}-${level}`);
  }

  /** Takes over what an earlier run left, oldest first. */
  private async findKept(): Promise<void> {
    const folder = dirname(this.path('', 0));
    await mkdir(folder, { recursive: true });
    const found: { id: string; bytes: number; used: number }[] = [];
    for (const name of await readdir(folder)) {
      if (!name.endsWith('-0')) continue;
      const id = name.slice(0, -2);
      const sizes = await Promise.all(LEVELS.map((level) => stat(this.path(id, level)).catch(() => null)));
      if (sizes.every((s) => s !== null)) found.push({ id, bytes: sizes.reduce((sum, s) => sum + s!.size, 0), used: sizes[0]!.atimeMs });
      else await this.remove(id);
    }
    for (const { id, bytes } of found.sort((a, b) => a.used - b.used)) this.kept.set(id, bytes);
  }

  /** Removes a frame's levels. */
  async remove(id: string): Promise<void> {
    this.kept.delete(id);
    for (const level of LEVELS) await rm(this.path(id, level), { force: true });
  }

  /** Waits until a frame may take so much memory; the returned function gives it back. */
  private async roomFor(bytes: number): Promise<() => void> {
    while (this.promised > 0 && this.promised + bytes > IN_MEMORY) await new Promise<void>((resolve) => this.queue.push(resolve));
    this.promised += bytes;
    return () => {
      this.promised -= bytes;
      this.queue.splice(0).forEach((go) => go());
    };
  }

  /** Decodes a frame; from then on parts can be read. Writing it down goes on by itself. */
  private async openFrame({ id, sha256, width, height, deep }: StoredFrame): Promise<void> {
    this.pool ??= new Piscina({ filename: fileURLToPath(new URL('./levelThread.ts', import.meta.url)), minThreads: 0, maxThreads: OPENERS, idleTimeout: 30_000, execArgv: ['--import', import.meta.resolve('tsx')] });
    // Three bytes a pixel, or twice as many, and a third more for the smaller levels.
    const giveBack = await this.roomFor(width * height * (deep ? 7 : 4));
    try {
      const whole = (await this.pool.run({ kind: 'decode', original: this.store.original(sha256), deep } satisfies DecodeTask)) as Pixels;
      this.inMemory.set(id, [Promise.resolve(whole)]);
      void this.writeDown(id).catch(() => this.remove(id)).finally(() => {
        this.inMemory.delete(id);
        giveBack();
      });
    } catch (error) {
      giveBack();
      throw error;
    }
  }

  /** A level of a frame that lies in memory, made from the one above it. */
  private levelOf(levels: Promise<Pixels>[], level: Level): Promise<Pixels> {
    return (levels[level] ??= (async () => {
      const above = await this.levelOf(levels, (level - 1) as Level);
      const size = { width: Math.max(1, Math.ceil(above.width / 2)), height: Math.max(1, Math.ceil(above.height / 2)) };
      return (await this.pool!.run({ kind: 'halve', pixels: above, size } satisfies HalveTask)) as Pixels;
    })());
  }

  /** Keeps a frame's levels on disk. Without room there it is decoded again the next time. */
  private async writeDown(id: string): Promise<void> {
    // What was asked for comes first: it waits for this frame's fellows.
    await new Promise((resolve) => setTimeout(resolve, WRITING_WAITS));
    const made = this.inMemory.get(id)!;
    const levels: Pixels[] = [];
    for (const level of LEVELS) levels.push(await this.levelOf(made, level));
    await mkdir(dirname(this.store.incoming(id)), { recursive: true });
    const files = LEVELS.map((level) => ({ path: this.path(id, level), temporary: this.store.incoming(randomUUID()) }));
    const bytes = (await this.pool!.run({ kind: 'keep', levels, files } satisfies KeepTask).catch(() => null)) as number | null;
    if (bytes === null) return this.remove(id);
    this.kept.set(id, bytes);
    let total = [...this.kept.values()].reduce((sum, b) => sum + b, 0);
    for (const [oldest, b] of [...this.kept]) {
      if (total <= this.budget || oldest === id) break;
      await this.remove(oldest);
      total -= b;
    }
  }

  private async ensure(frame: StoredFrame): Promise<void> {
    await this.ready;
    if (this.inMemory.has(frame.id)) return;
    const bytes = this.kept.get(frame.id);
    if (bytes !== undefined) {
      this.kept.delete(frame.id);
      this.kept.set(frame.id, bytes);
      return;
    }
    let opening = this.opening.get(frame.id);
    if (!opening) {
      opening = this.openFrame(frame).finally(() => this.opening.delete(frame.id));
      this.opening.set(frame.id, opening);
    }
    await opening;
  }

  /** Reads a part of a frame, cut to what there is of it; RGB, 8 bit, or 16 where the frame has them and it is not made smaller. */
  async read(frame: StoredFrame, level: Level, part: Part): Promise<Pixels> {
    const size = levelSize(frame.width, frame.height, level);
    const width = Math.max(0, Math.min(part.w, size.width - part.x));
    const height = Math.max(0, Math.min(part.h, size.height - part.y));
    const data = partData(frame, level, width * height * 3);
    if (data.length === 0) return { width, height, data };
    if (level === 0) {
      const direct = await this.readDirect(frame, { x: part.x, y: part.y, w: width, h: height });
      if (direct) return direct;
    }
    // Another frame may have taken its room just now: once more then.
    for (let tries = 0; ; tries++) {
      await this.ensure(frame);
      const decoded = this.inMemory.get(frame.id);
      if (decoded) return partOf(await this.levelOf(decoded, level), { x: part.x, y: part.y, w: width, h: height }, data);
      try {
        this.readRows(this.path(frame.id, level), size, { x: part.x, y: part.y, w: width, h: height }, data);
        return { width, height, data };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'ENOENT' || tries > 2) throw error;
        this.kept.delete(frame.id);
      }
    }
  }

  /** A part of an original that is not open yet, straight from its file; the frame is opened when nobody waits any more. Null where that is no quicker. */
  private async readDirect(frame: StoredFrame, part: Part): Promise<Pixels | null> {
    await this.ready;
    if (this.kept.has(frame.id) || this.inMemory.has(frame.id) || part.w * part.h > DIRECT) return null;
    this.direct += 1;
    try {
      return await decodePart(this.store.original(frame.sha256), part, frame.deep);
    } finally {
      this.direct -= 1;
      this.toOpen.set(frame.id, frame);
      this.openSoon();
    }
  }

  /** Opens frames that were asked for, one after the other, once nobody waits for a part. */
  private openSoon(): void {
    clearTimeout(this.openingTimer);
    this.openingTimer = setTimeout(() => {
      const [next] = this.toOpen.values();
      if (!next) return;
      if (this.direct > 0) return this.openSoon();
      this.toOpen.delete(next.id);
      // What cannot be opened says so when it is asked for.
      void this.ensure(next).catch(() => undefined).then(() => this.openSoon());
    }, QUIET);
    this.openingTimer.unref();
  }

  /** Reads rows; full-width parts at once, others row by row. Not awaited one by one: from the cache of the system a row takes microseconds, and waiting for each a hundred times that. */
  private readRows(path: string, size: { readonly width: number; readonly height: number }, { x, y, w, h }: Part, out: Uint8Array | Uint16Array): void {
    const file = openSync(path, 'r');
    try {
      const pixel = 3 * out.BYTES_PER_ELEMENT;
      const rowBytes = size.width * pixel;
      // Cut off, or kept by an earlier version at another depth.
      const unusable = (): Error => Object.assign(new Error('A level is not as it should be.'), { code: 'ENOENT' });
      if (fstatSync(file).size !== rowBytes * size.height) throw unusable();
      const bytes = new Uint8Array(out.buffer, out.byteOffset, out.byteLength);
      const [rows, length] = w === size.width ? [1, w * pixel * h] : [h, w * pixel];
      for (let row = 0; row < rows; row++) if (readSync(file, bytes, row * length, length, (y + row) * rowBytes + x * pixel) < length) throw unusable();
    } finally {
      closeSync(file);
    }
  }

  async close(): Promise<void> {
    clearTimeout(this.openingTimer);
    this.toOpen.clear();
    await this.pool?.destroy();
  }
}
