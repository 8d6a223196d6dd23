import type { Pointer } from '../kernels/kernels';

/** Rows that are kept: each is made when it is first asked for, and is there from then on. */
export interface KeptRows {
  readonly at: Pointer;
  readonly rowBytes: number;
  /** One byte a row: 1 when it is made. */
  readonly ready: Pointer;
}

/** Keeps results of an evaluation for the next one, as far as there is room. */
export interface Keeper {
  /** Room for the rows of a result; what was made of it before is still in it. Null where there is no room. @param key names everything that the result depends on. */
  rows(key: string, count: number, rowBytes: number): KeptRows | null;
  /** Whether rows of this result are kept, made or not. */
  holds(key: string): boolean;
  /** Values that never change, placed once; null where there is no room. */
  floats(values: Float32Array): Pointer | null;
  bytes(values: Uint8Array): Pointer | null;
}

const numbers = new WeakMap<object, number>();
let last = 0;

/** A number for an object that never changes, the same each time: stands for it in keys. */
export function identity(thing: object): number {
  let number = numbers.get(thing);
  if (number === undefined) numbers.set(thing, (number = ++last));
  return number;
}

const texts = new Map<string, number>();

/** A short name for a long key: the same for the same text, and for no other. */
export function shortKey(text: string): string {
  let number = texts.get(text);
  if (number === undefined) texts.set(text, (number = texts.size));
  return number.toString(36);
}
