import type { Pixels } from '@zaddle/core/image/plane';
import { PROXY_SIDE, shrinkPixels, shrunkSize } from '@zaddle/core/image/shrink';
import { Arena } from '@zaddle/core/kernels/arena';
import { loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import type { FrameId } from '@zaddle/document';
import type { PlacedSource } from '@zaddle/core/graph/placedMix';
import { kernelModule } from './kernels';
import { giveBack, lendMemory } from './lentMemory';
import { makeProxy } from './makeProxy';

/** Bytes that a frame of this size takes on a shelf, padding and all. @param deep 16 bit a channel */
export const shelfBytes = (width: number, height: number, deep: boolean): number => width * height * (deep ? 6 : 3) + 4096;

/**
 * Decoded frames in kernel memory, where threads render from: each is decoded and copied once, its proxy is made from
 * there, and memory is sized once, since page faults are dear. What comes after the frames is scratch.
 */
export class FrameShelf {
  readonly memory: KernelMemory;
  readonly kernels: Kernels;
  readonly arena: Arena;
  private readonly bottom: number;
  private readonly placed = new Map<FrameId, PlacedSource>();

  /** @param bytes for all frames that will lie here; @param scratch bytes for what is made from them. @throws RangeError over 2 GiB. */
  constructor(bytes: number, scratch: number) {
    this.memory = lendMemory(bytes + scratch + 65536);
    this.kernels = loadKernels(kernelModule(), this.memory);
    this.arena = new Arena(this.memory.buffer);
    this.bottom = this.arena.mark();
  }

  /** Takes all frames off, so that others can be placed. */
  clear(): void {
    this.placed.clear();
    this.arena.release(this.bottom);
  }

  /** Gives the memory back: neither frames nor rows that lie here may be looked at any more. */
  close(): void {
    this.clear();
    giveBack(this.memory);
  }

  get frames(): ReadonlyMap<FrameId, PlacedSource> {
    return this.placed;
  }

  /** Copies decoded pixels in. */
  place(id: FrameId, pixels: Pixels): void {
    const depth = pixels.data instanceof Uint16Array ? 16 : 8;
    const view = new Uint8Array(pixels.data.buffer, pixels.data.byteOffset, pixels.data.byteLength);
    this.placed.set(id, { at: this.arena.placeBytes(view), width: pixels.width, height: pixels.height, depth });
  }

  /** Proxy of a frame that lies here, 8 bit, by area means. */
  proxy(id: FrameId): Pixels {
    const { at, width, height, depth } = this.placed.get(id)!;
    if (depth === 16) return makeProxy({ width, height, data: new Uint16Array(this.memory.buffer, at, width * height * 3) });
    const size = shrunkSize(width, height, PROXY_SIDE);
    return shrinkPixels(this.kernels, this.arena, at, width, height, size.width, size.height);
  }
}
