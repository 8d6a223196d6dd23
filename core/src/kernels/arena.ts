import { PADDING, type Pointer } from './kernels';

/**
 * Hands out aligned, padded pieces of one memory from a moving front. Nothing is freed singly: `mark`
 * and `release` go back to an earlier front, as strips and pictures come and go in nested fashion.
 */
export class Arena {
  private front: number;
  constructor(readonly buffer: ArrayBufferLike, start = 1024, private readonly end = buffer.byteLength) {
    this.front = start;
  }

  /** Room for `bytes`, 64-byte aligned. @throws RangeError when the memory is used up. */
  take(bytes: number): Pointer {
    const at = this.front;
    const next = Math.ceil((at + bytes + PADDING) / 64) * 64;
    if (next > this.end) throw new RangeError(`Kernel memory is used up: ${next} of ${this.end} bytes.`);
    this.front = next;
    return at;
  }

  mark(): number {
    return this.front;
  }

  release(mark: number): void {
    this.front = mark;
  }

  floats(at: Pointer, length: number): Float32Array {
    return new Float32Array(this.buffer, at, length);
  }

  /** Copies floats in and says where they are. */
  placeFloats(values: ArrayLike<number>): Pointer {
    const at = this.take(values.length * 4);
    this.floats(at, values.length).set(values);
    return at;
  }

  /** Copies bytes in and says where they are. */
  placeBytes(values: Uint8Array): Pointer {
    const at = this.take(values.byteLength);
    new Uint8Array(this.buffer, at, values.byteLength).set(values);
    return at;
  }
}
