import type { Pixels } from '@zaddle/core/image/plane';
import { PROXY_SIDE, shrinkPixels, shrunkSize } from '@zaddle/core/image/shrink';
import type { Heap } from '@zaddle/core/graph/heap';
import type { PlacedSource } from '@zaddle/core/graph/placedMix';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { GUIDE_SIDE } from '@zaddle/core/mix/guides';
import type { MixDocument } from '@zaddle/document';
import { regionBox, type Region } from '@zaddle/core/mix/regionBox';
import { fetchPixels, type IncomingPixels } from './fetchProxies';

/** Bytes of parts of originals that are kept for looking closer. */
export const PARTS_BUDGET = 110_000_000;
/** Bytes of whole proxies that stay while the originals are looked at. */
const WHOLES_BUDGET = 64_000_000;
/** How much finer than the screen the pixels may be before a smaller copy is taken: as much again as they may be coarser. */
const COARSER = 1.2;

interface Part {
  readonly source: PlacedSource;
  readonly bytes: number;
}

/** Copies of a proxy: the first as it is, each further one half as large. */
const MOST_COPIES = 5;

/** The pixels of a shot's frames as they are at hand: proxies and smaller copies of them, and parts of the originals. */
export class FrameSources {
  /** Copies of each proxy by how often they are halved; the first is there once it was needed. */
  private readonly copies = new Map<string, (PlacedSource | undefined)[]>();
  private readonly parts = new Map<string, Part>();
  private partBytes = 0;
  private closed = false;

  constructor(private readonly kernels: Kernels, private readonly heap: Heap, private readonly scratch: readonly [number, number]) {}

  /** From now on nothing is taken in: the memory belongs to somebody else. */
  close(): void {
    this.closed = true;
  }

  private take(bytes: number): number {
    const at = this.heap.take(bytes);
    if (at === null) throw new RangeError('This shot has more frames than this browser has memory for. Close other tabs, or split the shot.');
    return at;
  }

  private place({ width, height, data }: Pixels, name: string): PlacedSource {
    const at = this.take(data.byteLength);
    new Uint8Array(this.kernels.memory.buffer, at, data.byteLength).set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
    return { at, width, height, depth: data instanceof Uint16Array ? 16 : 8, name };
  }

  /** Whether anything of a frame is at hand, or its whole proxy. */
  has(frame: string, whole = false): boolean {
    const copies = this.copies.get(frame);
    return copies !== undefined && (!whole || copies[0] !== undefined);
  }

  /** Room for a part: others go where what is free lies in pieces that are too small. */
  private takeForPart(bytes: number): number {
    for (;;) {
      const at = this.heap.take(bytes);
      if (at !== null) return at;
      const [oldest] = this.parts.keys();
      if (oldest === undefined) return this.take(bytes);
      this.dropPart(oldest);
    }
  }

  /** Takes in pixels as they come. @returns null where the memory belongs to somebody else by now. */
  private async receive({ width, height, depth, bytes, writeTo }: IncomingPixels, name: string, take = this.take.bind(this)): Promise<PlacedSource | null> {
    if (this.closed) return null;
    const at = take(bytes);
    const written = await writeTo(new Uint8Array(this.kernels.memory.buffer, at, bytes), () => !this.closed).catch((error: unknown) => {
      this.heap.give(at);
      throw error;
    });
    return written && !this.closed ? { at, width, height, depth, name } : null;
  }

  /** @param halved how often the proxy was halved: 0 or 1 */
  async addProxy(frame: string, proxy: IncomingPixels, halved: 0 | 1): Promise<void> {
    const source = await this.receive(proxy, `proxy/${halved}`);
    if (!source) return;
    const copies = this.copies.get(frame) ?? [];
    // Somebody else may have asked for it, too.
    if (copies[halved]) this.heap.give(source.at);
    copies[halved] ??= source;
    this.copies.set(frame, copies);
  }

  /** Gives up whole proxies that take much room, where half of one is at hand: before a look at the originals, which are finer. */
  dropWholes(): void {
    const wholes = [...this.copies.values()].filter((copies) => copies[0] && copies[1]);
    if (wholes.reduce((sum, [whole]) => sum + whole!.width * whole!.height * 3, 0) <= WHOLES_BUDGET) return;
    for (const copies of wholes) {
      this.heap.give(copies[0]!.at);
      copies[0] = undefined;
    }
  }

  /** The finest copy of a proxy that is at hand, as pixels. */
  proxy(frame: string): Pixels {
    const { at, width, height } = this.copies.get(frame)!.find((copy) => copy !== undefined)!;
    return { width, height, data: new Uint8Array(this.kernels.memory.buffer, at, width * height * 3) };
  }

  /** Width of a frame's whole proxy, whether it is at hand or not. */
  proxyWidth(use: { readonly width: number; readonly height: number }): number {
    return shrunkSize(use.width, use.height, PROXY_SIDE).width;
  }

  /** Bytes that it takes. */
  proxyBytes(use: { readonly width: number; readonly height: number }): number {
    const { width, height } = shrunkSize(use.width, use.height, PROXY_SIDE);
    return width * height * 3;
  }

  /** How often a proxy may be halved and is still about as fine as the screen. @param scale screen pixels to a pixel of the frame at full size. */
  halvings(use: { readonly width: number; readonly height: number }, scale: number): number {
    const finest = this.proxyWidth(use) / use.width;
    let k = 0;
    while (finest * 0.5 ** (k + 1) * COARSER >= scale && k + 1 < MOST_COPIES) k++;
    return k;
  }

  /** The copy of a proxy that is about as fine as the screen, or the finest that is at hand. */
  copyFor(frame: string, use: { readonly width: number; readonly height: number }, scale: number): PlacedSource {
    const copies = this.copies.get(frame)!;
    const finest = copies.findIndex((copy) => copy !== undefined);
    const wanted = Math.max(finest, this.halvings(use, scale));
    for (let k = finest + 1; k <= wanted; k++) {
      if (copies[k]) continue;
      const last = copies[k - 1]!;
      const arena = new Arena(this.kernels.memory.buffer, ...this.scratch);
      const half = shrinkPixels(this.kernels, arena, last.at, last.width, last.height, Math.ceil(last.width / 2), Math.ceil(last.height / 2));
      copies[k] = this.place(half, `proxy/${k}`);
    }
    return copies[wanted]!;
  }

  /** Pixels for the guide level: half a proxy is as large. */
  guideSources(mix: MixDocument, frames: readonly string[]): Map<string, PlacedSource> {
    const reference = mix.frames[mix.reference];
    const scale = GUIDE_SIDE / Math.max(reference.width, reference.height);
    return new Map(frames.map((id) => [id, this.copyFor(id, mix.frames[id], scale)]));
  }

  private nameOf(frame: string, { level, box }: ReturnType<typeof regionBox>): string {
    return `${frame} ${level} ${box.x} ${box.y} ${box.w} ${box.h}`;
  }

  /** A part of an original that covers a region of the output, if one is at hand. */
  partFor(mix: MixDocument, frame: string, region: Region): PlacedSource | null {
    const need = regionBox(mix, frame, region);
    for (const [key, part] of this.parts) {
      if (!key.startsWith(`${frame} ${need.level} `)) continue;
      const { x, y } = part.source.whole!;
      const inside = need.box.x >= x && need.box.y >= y && need.box.x + need.box.w <= x + part.source.width && need.box.y + need.box.h <= y + part.source.height;
      if (!inside) continue;
      this.parts.delete(key);
      this.parts.set(key, part);
      return part.source;
    }
    return null;
  }

  /** Loads the part of an original that covers a region. */
  async loadPart(mix: MixDocument, frame: string, region: Region): Promise<void> {
    const need = regionBox(mix, frame, region);
    const key = this.nameOf(frame, need);
    if (this.parts.has(key)) return;
    const { box, level, whole } = need;
    const pixels = await fetchPixels(`/api/frames/${frame}/pixels?x=${box.x}&y=${box.y}&w=${box.w}&h=${box.h}&level=${level}`);
    if (this.closed) return;
    // What is on its way counts already: many come at a time, and each would find the same room.
    this.dropParts(pixels.bytes);
    this.partBytes += pixels.bytes;
    const source = await this.receive(pixels, key, this.takeForPart.bind(this)).catch((error: unknown) => {
      this.partBytes -= pixels.bytes;
      throw error;
    });
    if (!source) return;
    if (this.parts.has(key)) {
      this.heap.give(source.at);
      this.partBytes -= pixels.bytes;
    } else this.parts.set(key, { source: { ...source, whole }, bytes: pixels.bytes });
  }

  private dropPart(key: string): void {
    const { source, bytes } = this.parts.get(key)!;
    this.heap.give(source.at);
    this.parts.delete(key);
    this.partBytes -= bytes;
  }

  /** Makes room for so many bytes more of parts: those used longest ago go. */
  private dropParts(bytes: number): void {
    for (const oldest of this.parts.keys()) {
      if (this.partBytes + bytes <= PARTS_BUDGET) break;
      this.dropPart(oldest);
    }
  }
}
