import { PADDING, type Pointer } from '../kernels/kernels';

interface Piece {
  at: Pointer;
  bytes: number;
}

/** Room in a part of kernel memory that is given out and given back in any order: first fit, neighbours joined again. */
export class Heap {
  private free: Piece[];
  private readonly taken = new Map<Pointer, number>();

  /** @param start first byte, a multiple of 64. @param end one past the last. */
  constructor(start: number, end: number) {
    this.free = [{ at: start, bytes: end - start }];
  }

  /** Room for `bytes` and the padding after them, 64-byte aligned, or null where no piece is large enough. */
  take(bytes: number): Pointer | null {
    const need = Math.ceil((bytes + PADDING) / 64) * 64;
    const k = this.free.findIndex((piece) => piece.bytes >= need);
    if (k < 0) return null;
    const piece = this.free[k];
    const { at } = piece;
    if (piece.bytes === need) this.free.splice(k, 1);
    else {
      piece.at += need;
      piece.bytes -= need;
    }
    this.taken.set(at, need);
    return at;
  }

  /** @throws Error when nothing was taken there */
  give(at: Pointer): void {
    const bytes = this.taken.get(at);
    if (bytes === undefined) throw new Error('This room was not taken.');
    this.taken.delete(at);
    let k = this.free.findIndex((piece) => piece.at > at);
    if (k < 0) k = this.free.length;
    this.free.splice(k, 0, { at, bytes });
    const next = this.free[k + 1];
    if (next && at + bytes === next.at) {
      this.free[k].bytes += next.bytes;
      this.free.splice(k + 1, 1);
    }
    const before = this.free[k - 1];
    if (before && before.at + before.bytes === at) {
      before.bytes += this.free[k].bytes;
      this.free.splice(k, 1);
    }
  }

  /** Bytes that are given out. */
  get used(): number {
    let sum = 0;
    for (const bytes of this.taken.values()) sum += bytes;
    return sum;
  }
}
