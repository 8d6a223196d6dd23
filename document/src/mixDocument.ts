import type { Framing } from './framing';
import type { AppliedMethod } from './method';
import type { NoiseReduction } from './noise';
import type { Pass } from './pass/passes';
import type { Sharpening } from './sharpening';
import type { Corrections, FrameUse, Matrix3, Optics } from './values';

export const CURRENT_VERSION = 4;

/** All that is needed to make a shot's picture from its frames, whatever the version of the document. */
export interface Mix {
  readonly reference: string;
  readonly lens: Optics;
  readonly corrects: Corrections;
  /** The camera's response against sRGB's: stops of the terms (1 - value)^(k + 1); empty is sRGB. */
  readonly response: readonly number[];
  /** Output pixel to reference pixel, and the output's size. */
  readonly geometry: Matrix3;
  readonly width: number;
  readonly height: number;
  /** What the geometry was made from; null, or left out: nothing that can be gone on with. */
  readonly framing?: Framing | null;
  /** How noise is taken out of the finished picture; null, or left out: not measured, and not at all. */
  readonly noise?: NoiseReduction | null;
  /** How the finished picture is sharpened; null, or left out: not at all. */
  readonly sharpening?: Sharpening | null;
  /** The method that was applied last, so that it can be tuned or taken off; null, or left out: none. */
  readonly method?: AppliedMethod | null;
  readonly frames: Readonly<Record<string, FrameUse>>;
  readonly merge: readonly string[];
  /** From underneath to on top. */
  readonly passes: readonly Pass[];
}

/** The mix document: the only statement of what makes a shot's picture, as plain JSON. */
export interface MixDocument extends Mix {
  readonly version: typeof CURRENT_VERSION;
}
