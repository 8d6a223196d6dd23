import type { Pass } from '@zaddle/document';
import type { ToneModel } from '../finish/localTone';
import type { Placing } from './placing';
import type { RowWork } from './rowWork';

/** Stops by which broad tones are to change. */
export interface BroadTones {
  readonly highlights: number;
  readonly shadows: number;
}

/** How one kind of pass is evaluated, on whatever grid. L: plain data laid out for a grid, to be handed to any thread. */
export interface PassEvaluation<P extends Pass, L> {
  /** How it changes broad tones, if it does: that needs to know what lies below in a wide context. */
  tones(pass: P): BroadTones | null;
  /** The key names what it depends on besides the pass itself and the merge. */
  place(pass: P, tone: ToneModel | null, placing: Placing): { readonly placed: L; readonly key: string };
  /** Changes row y of what is below, under `s.mask`, where it is wanted. */
  row(placed: L, work: RowWork, y: number): void;
}
