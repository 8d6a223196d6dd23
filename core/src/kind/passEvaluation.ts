import type { Pass } from '@zaddle/document';
import type { CastField } from '../colour/castField';
import type { ColourTable } from '../finish/colourTable';
import type { ToneModel } from '../finish/localTone';
import type { Extent } from '../geometry/composedMap';
import type { Light, Plane } from '../image/plane';
import type { Pointer } from '../kernels/kernels';
import type { Placing } from './placing';
import type { RowWork } from './rowWork';

/** How tones are to change by what lies around them. */
export interface BroadTones {
  /** Stops at the bright and the dark end of broad light. */
  readonly highlights: number;
  readonly shadows: number;
  /** Multiples of full local contrast. */
  readonly localContrast: number;
}

/** What a pass has to know of what lies around its mask, on a part of the guide. */
export interface AroundMask {
  /** The light there, carried into the mask; or by how much gains that bring the pass's own light to it lie above 1. */
  readonly light: Light;
  /** Size of the whole guide, and where the part begins. */
  readonly whole: Extent;
}

/** What a changing pass has to know besides itself: of what it changes in a wide context, and what it names; each null where it is not asked for, or not at hand yet. */
export interface WideOfChange {
  readonly tone: ToneModel | null;
  /** Luminance of the veil over it. */
  readonly veil: Plane | null;
  /** Light that bright places lay over what is around them. */
  readonly glow: Light | null;
  readonly cast: CastField | null;
  /** The colour table that it names; null: none, or it is not at hand. */
  readonly table: ColourTable | null;
}

/** What a kind makes of a pass for a grid; the key names what it depends on besides the pass itself and the merge. */
interface Placed<L> {
  readonly placed: L;
  readonly key: string;
}

/** A kind that brings light of its own, which is then blended with what is below. L: plain data laid out for a grid, to be handed to any thread. */
export interface BringingPass<P extends Pass, L> {
  readonly does: 'brings';
  /** Whether it composes the passes that lie within it, and brings what they make. */
  readonly gathers: boolean;
  /** What it has to know of what lies around its mask, in a wide context: the light there, carried into the mask, or the gains that bring its own to it. */
  fromAround?(pass: P): 'light' | 'gains' | null;
  /** @param around what it has to know of that, on the guide; null where it is not asked for, or not worked out yet */
  place(pass: P, placing: Placing, around: AroundMask | null): Placed<L>;
  /** Brings row y into `s.source`, where it is wanted, and says where its cover lies. */
  row(placed: L, work: RowWork, y: number): Pointer;
}

/** A kind that changes light in its place. */
export interface ChangingPass<P extends Pass, L> {
  readonly does: 'changes';
  /** How it changes tones by what lies around them, if it does: that needs to know what it changes in a wide context. */
  tones(pass: P): BroadTones | null;
  /** Whether it evens out the colour of light: how that goes is known in a wide context only. */
  evens(pass: P): boolean;
  /** Whether it takes a veil away: what that is, is known in a wide context only. */
  clears(pass: P): boolean;
  /** Whether it lets bright light glow over what lies around, likewise. */
  glows(pass: P): boolean;
  place(pass: P, wide: WideOfChange, placing: Placing): Placed<L>;
  /** Changes three planes of light of row y at `light`, under `s.mask`. */
  row(placed: L, work: RowWork, y: number, light: Pointer): void;
}

/** How one kind of pass is evaluated, on whatever grid. */
export type PassEvaluation<P extends Pass, L> = BringingPass<P, L> | ChangingPass<P, L>;
