import { CHUNK, PADDING, type Pointer } from '../kernels/kernels';

/** One flag for every CHUNK pixels of a row: whether something is to be done, or was done, there. */
export type Chunks = Uint8Array;

/** The first chunk from pixel x on. */
export const nextChunk = (x: number): number => Math.ceil(x / CHUNK);

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
  /** A source as it came, before it is blended; and what is below a pass, where it lies in parts. */
  readonly plain: Pointer;
  readonly under: Pointer;
  /** Light and mask of a pass while passes that are tied to it change the light. */
  readonly tied: Pointer;
  readonly hostMask: Pointer;
  /** Layers of bundles within each other: three planes of light and one of coverage each. */
  readonly layers: readonly Pointer[];
  /** What pieces of a pass were put together: three planes of light and one of coverage. */
  readonly pieces: Pointer;
  /** Masks that wait while a linked one is made. */
  readonly held: readonly Pointer[];
  readonly mask: Pointer;
  readonly area: Pointer;
  readonly a: Pointer;
  readonly b: Pointer;
  readonly logY: Pointer;
  readonly ones: Pointer;
  readonly zeros: Pointer;
  readonly coords: Pointer;
  readonly flags: Pointer;
  /** The touched places of one stroke. */
  readonly stroke: Pointer;
  /** Codes and positions of a colour that lies apart from green. */
  readonly fringe: Pointer;
  readonly fringeCoords: Pointer;
}

/** Bytes between planes of a row of floats, and of 16-bit codes. */
export const rowPlane = (width: number): number => Math.ceil((width * 4 + PADDING) / 64) * 64;
export const codePlane = (width: number): number => Math.ceil((width * 2 + PADDING) / 64) * 64;

/** Bytes that a renderer for this many frames takes from its arena. */
export const rendererBytes = (width: number, frames: number): number => (width * 4 + PADDING * 3) * (60 + frames * 5) + 65536;
