import type { Kernels, Pointer } from '../kernels/kernels';
import type { KeptRows } from './keeper';
import type { PlacedPlane } from './placing';
import type { Chunks, Scratch } from './rowScratch';

/** What a kind has at hand while it works on one row. Nothing is allocated here. */
export interface RowWork {
  readonly kernels: Kernels;
  readonly width: number;
  readonly s: Scratch;
  /** All kernel memory as numbers. */
  readonly memory: Float32Array;
  /** The area's buffer, and the buffer for one stroke. */
  readonly areaView: Float32Array;
  readonly strokeView: Float32Array;
  /** Flags that a kind may use; chunks in which the pass at hand is wanted. */
  readonly flagView: Chunks;
  readonly wanted: Chunks;
  /** All chunks. */
  readonly all: Chunks;
  /** Where the run found by `nextRun` begins. */
  readonly runStart: number;
  /** Where the merged row lies: three planes and its cover. */
  readonly mergeAt: Pointer;
  /** Where the layer lies that a bundle has gathered: three planes and its coverage. */
  readonly gathered: Pointer;
  /** Where three planes of light lie that the pass at hand is laid over: the picture so far, with what its bundles hold so far. */
  underRow(): Pointer;
  /** Writes where row y lies on the reference into `s.coords`. */
  referenceCoords(y: number): void;
  /** Reads a plane along row y. */
  plane(placed: PlacedPlane, y: number, out: Pointer): void;
  /** Light of a frame in these chunks, into `s.source`. */
  light(frame: number, y: number, matrix: Pointer, chunks: Chunks): void;
  /** Where the cover of a frame's row lies, after its light was asked for. */
  coverOf(frame: number): Pointer;
  /** Joins the ambient frames in these chunks; uses `s.source` on its way. */
  ensureMerge(y: number, chunks: Chunks): void;
  /** First pixel (`runStart`) and length of the next run of flagged chunks from chunk `from` on; 0 when there is none. */
  nextRun(chunks: Chunks, from: number): number;
  /** Row y of what is below a pass, seen elsewhere: where its three planes lie, and how far apart. @param index of `Placing.elsewhere` */
  elsewhere(index: number, y: number): { readonly at: Pointer; readonly plane: number };
  /** Fills a row of planes with nothing. */
  clearRow(at: Pointer, planes: number): void;
  isMade(rows: KeptRows, y: number): boolean;
  /** Copies a row of planes. */
  copyRow(from: Pointer, to: Pointer, planes: number): void;
  /** Keeps a row, once. */
  keepRow(rows: KeptRows, y: number, from: Pointer, planes: number): void;
}
