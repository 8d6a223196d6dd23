import { PADDING, type Pointer } from '../kernels/kernels';

/** One flag for every CHUNK pixels of a row: whether something is to be done, or was done, there. */
export type Chunks = Uint8Array;

/** Buffers of one frame for the row at hand. */
export interface FrameRow {
  readonly coords: Pointer;
  readonly coordView: Float64Array;
  /** Buffers of this thread, used where nothing is kept. */
  readonly ownCodes: Pointer;
  readonly ownCover: Pointer;
  /** Where the row at hand lies: in those buffers, or where it is kept. */
  codes: Pointer;
  cover: Pointer;
  /** The kept row is whole already. */
  made: boolean;
  /** Gains against the fall-off of light, at every 16th pixel. */
  readonly gains: Pointer;
  readonly gainView: Float32Array;
  /** Chunks that are interpolated. */
  readonly warped: Chunks;
  located: boolean;
}

/** Row buffers of one thread. */
export interface Scratch {
  /** Bytes between colour planes. */
  readonly plane: number;
  readonly below: Pointer;
  readonly source: Pointer;
  readonly merge: Pointer;
  readonly rest: Pointer;
  readonly mask: Pointer;
  readonly area: Pointer;
  readonly a: Pointer;
  readonly b: Pointer;
  readonly logY: Pointer;
  readonly ones: Pointer;
  readonly zeros: Pointer;
  readonly coords: Pointer;
  readonly flags: Pointer;
  /** Codes and positions of a colour that lies apart from green. */
  /** The touched places of one stroke. */
  readonly stroke: Pointer;
  readonly fringe: Pointer;
  readonly fringeCoords: Pointer;
}

/** Bytes that a renderer for this many frames takes from its arena. */
export const rendererBytes = (width: number, frames: number): number => (width * 4 + PADDING * 3) * (29 + frames * 5) + 65536;
