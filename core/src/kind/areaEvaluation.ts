import type { Area } from '@zaddle/document';
import type { Found } from '../found/found';
import type { Placing } from './placing';
import type { RowWork } from './rowWork';

/** How one kind of area is evaluated, on whatever grid. P: what it refers to; L: plain data laid out for a grid, to be handed to any thread. */
export interface AreaEvaluation<A extends Area, P, L> {
  /** What the area refers to, worked out once for all grids; null: that was not found yet, and the area is nothing until it is. */
  prepare(area: A, found: Found): P | null;
  /** Names what its coverage depends on besides the area itself. */
  key(prepared: P, placing: Placing): string;
  place(prepared: P, placing: Placing): L;
  /** Whether it looks at the light below its pass; left out by kinds that never do. */
  looksBelow?(area: A): boolean;
  /** Writes row y of its coverage, 0..1, into the area's buffer. */
  row(placed: L, work: RowWork, y: number): void;
}
