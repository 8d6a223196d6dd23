import type { Pixels } from '@zaddle/core/image/plane';
import { shrinkPixels } from '@zaddle/core/image/shrink';
import { placeGuideSources } from '@zaddle/core/graph/guideLevel';
import type { Heap } from '@zaddle/core/graph/heap';
import type { PlacedSource } from '@zaddle/core/graph/placeMix';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import type { MixDocument } from '@zaddle/document';
import { regionBox, type Region } from './regionBox';
import { fetchPixels } from './fetchProxies';

/** Bytes of parts of originals that are kept for looking closer. */
const PARTS_BUDGET = 160_000_000;
/** How much finer than the screen the pixels may be before a smaller copy is taken: as much again as they may be coarser. */
const COARSER = 1.2;

interface Part {
  readonly source: PlacedSource;
  readonly bytes: number;
}

/** The pixels of a shot's frames as they are at hand: proxies and smaller copies of them, and parts of the originals. */
export class FrameSources {
  /** Copies of each proxy, each half as large as the one before. */
  private readonly copies = new Map<string, PlacedSource[]>();
  private readonly parts = new Map<string, Part>();
  private partBytes = 0;

  constructor(private readonly kernels: Kernels, private readonly heap: Heap, private readonly scratch: readonly [number, number]) {}

  private take(bytes: number): number {
    const at = this.heap.take(bytes);
    if (at === null) throw new RangeError('This shot has more frames than this browser has memory for. Close other tabs, or split the shot.');
    return at;
  }

  private place({ width, height, data }: Pixels, name: string): PlacedSource {
    const at = this.take(data.byteLength);
    new Uint8Array(this.kernels.memory.buffer, at, data.byteLength).set(data as Uint8Array);
    return { at, width, height, depth: 8, name };
  }

  has(frame: string): boolean {
    return this.copies.has(frame);
  }

  addProxy(frame: string, proxy: Pixels): void {
    if (!this.copies.has(frame)) this.copies.set(frame, [this.place(proxy, 'proxy')]);
  }

  /** A proxy's own pixels. */
  proxy(frame: string): Pixels {
    const { at, width, height } = this.copies.get(frame)![0];
    return { width, height, data: new Uint8Array(this.kernels.memory.buffer, at, width * height * 3) };
  }

  /** The copy of a proxy that is about as fine as the screen. @param scale screen pixels to a pixel of the frame at full size. */
  copyFor(frame: string, fullWidth: number, scale: number): PlacedSource {
    const copies = this.copies.get(frame)!;
    let k = 0;
    while ((copies[0].width / fullWidth) * 0.5 ** (k + 1) * COARSER >= scale && copies[0].width * 0.5 ** (k + 1) > 48) k++;
    while (copies.length <= k) {
      const last = copies[copies.length - 1];
      const arena = new Arena(this.kernels.memory.buffer, ...this.scratch);
      const half = shrinkPixels(this.kernels, arena, last.at, last.width, last.height, Math.ceil(last.width / 2), Math.ceil(last.height / 2));
      copies.push(this.place(half, `proxy/${2 ** copies.length}`));
    }
    return copies[k];
  }

  /** Pixels for the guide level, of the given frames. */
  guideSources(mix: MixDocument, frames: readonly string[]): Map<string, PlacedSource> {
    const bytes = frames.length * 800 * 800 * 3 + 6_000_000;
    const start = this.take(bytes);
    const arena = new Arena(this.kernels.memory.buffer, start, start + bytes);
    return placeGuideSources(this.kernels, arena, mix, new Map(frames.map((id) => [id, this.proxy(id)])));
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
    if (this.parts.has(key)) return;
    const bytes = pixels.data.byteLength;
    for (const [oldest, part] of this.parts) {
      if (this.partBytes + bytes <= PARTS_BUDGET) break;
      this.heap.give(part.source.at);
      this.parts.delete(oldest);
      this.partBytes -= part.bytes;
    }
    this.parts.set(key, { source: { ...this.place(pixels, key), whole }, bytes });
    this.partBytes += bytes;
  }
}
