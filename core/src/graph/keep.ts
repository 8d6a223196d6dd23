import type { Pointer } from '../kernels/kernels';
import type { Heap } from './heap';
import type { Keeper, KeptRows } from '../kind/keeper';

interface Kept {
  readonly at: Pointer;
  readonly bytes: number;
  readonly rows: KeptRows | null;
  /** The evaluation that used it last. */
  used: number;
}

/**
 * Results of evaluations within a part of kernel memory. What was used longest ago goes when room is needed, never what
 * the evaluation at hand uses.
 */
export class Keep implements Keeper {
  private readonly kept = new Map<string, Kept>();
  private readonly owners = new WeakMap<object, string>();
  private owned = 0;
  private turn = 0;

  private bytesKept = 0;

  /** @param budget bytes that results may take; what lies in the heap besides is not its own. */
  constructor(private readonly heap: Heap, private readonly buffer: ArrayBufferLike, private readonly budget = Infinity) {}

  /** Begins an evaluation: what it asks for stays until the next one begins. */
  begin(): void {
    this.turn += 1;
  }

  /** Forgets results whose key begins so. */
  drop(prefix: string): void {
    for (const key of [...this.kept.keys()]) {
      if (!key.startsWith(prefix)) continue;
      this.forget(key);
    }
  }

  private forget(key: string): void {
    const { at, bytes } = this.kept.get(key)!;
    this.heap.give(at);
    this.bytesKept -= bytes;
    this.kept.delete(key);
  }

  private remember(key: string, at: Pointer, bytes: number, rows: KeptRows | null): void {
    this.kept.set(key, { at, bytes, rows, used: this.turn });
    this.bytesKept += bytes;
  }

  holds(key: string): boolean {
    return this.kept.has(key);
  }

  rows(key: string, count: number, rowBytes: number): KeptRows | null {
    const found = this.use(key);
    if (found) return found.rows;
    const bytes = count * (rowBytes + 1) + 64;
    const at = this.room(bytes);
    if (at === null) return null;
    const rows = { at, rowBytes, ready: at + count * rowBytes };
    new Uint8Array(this.buffer, rows.ready, count).fill(0);
    this.remember(key, at, bytes, rows);
    return rows;
  }

  floats(values: Float32Array): Pointer | null {
    return this.place(values, new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  }

  bytes(values: Uint8Array): Pointer | null {
    return this.place(values, values);
  }

  private place(owner: object, bytes: Uint8Array): Pointer | null {
    let key = this.owners.get(owner);
    if (key === undefined) this.owners.set(owner, (key = `=${++this.owned}`));
    const found = this.use(key);
    if (found) return found.at;
    const at = this.room(bytes.byteLength);
    if (at === null) return null;
    new Uint8Array(this.buffer, at, bytes.byteLength).set(bytes);
    this.remember(key, at, bytes.byteLength, null);
    return at;
  }

  private use(key: string): Kept | null {
    const found = this.kept.get(key);
    if (!found) return null;
    found.used = this.turn;
    // The map's order is that of use.
    this.kept.delete(key);
    this.kept.set(key, found);
    return found;
  }

  /** Takes room, making it where there is none. */
  private room(bytes: number): Pointer | null {
    for (;;) {
      const at = this.bytesKept + bytes > this.budget ? null : this.heap.take(bytes);
      if (at !== null) return at;
      const oldest = this.kept.entries().next().value;
      if (!oldest || oldest[1].used === this.turn) return null;
      this.forget(oldest[0]);
    }
  }
}
