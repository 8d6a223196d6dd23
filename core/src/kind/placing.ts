import type { FrameId, FrameUse, Mix } from '@zaddle/document';
import type { ComposedMap, Extent } from '../geometry/composedMap';
import type { Homography } from '../geometry/homography';
import type { Plane } from '../image/plane';
import type { Pointer } from '../kernels/kernels';
import type { KeptRows } from './keeper';

/** A plane in kernel memory, and where the pixels of a grid lie on it. */
export interface PlacedPlane {
  readonly at: Pointer;
  readonly map: ComposedMap;
}

/** How a grid lies on the reference, for shapes. */
export interface ShapeGrid {
  readonly width: number;
  readonly height: number;
  /** Reference pixel to grid pixel, lens aside. */
  readonly toGrid: Homography;
  /** Reference pixels to a pixel of the grid, about. */
  readonly pixel: number;
  /** Longer side of the reference, pixels: what positions are shares of. */
  readonly full: number;
  /** Grid pixels by which the lens may displace what `toGrid` says. */
  readonly slack: number;
}

/** A part of a grid, whole pixels. */
export interface GridPart {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** What a kind has at hand while it lays itself out for one grid in kernel memory. */
export interface Placing {
  readonly mix: Mix;
  readonly shapes: ShapeGrid;
  /** Names what lies below the pass at hand. */
  readonly below: string;
  /** Values for this one evaluation. */
  once(values: ArrayLike<number>): Pointer;
  /** Values that never change, for this evaluation and, where results are kept, for later ones. */
  floats(values: Float32Array): Pointer;
  /** A plane that covers the whole of the reference, or a part of such a one, and one on what findings lie on. */
  onReference(plane: Plane, whole?: Extent): PlacedPlane;
  onFound(plane: Plane): PlacedPlane;
  /** Place of a frame in the list of frames. */
  frame(id: FrameId): number;
  /** Lays a frame out once more, where it lies otherwise for one pass, and returns its place in the list. */
  placeFrame(id: FrameId, use: FrameUse): number;
  /** Names a frame's interpolated pixels. */
  frameKey(index: number): string;
  /** Matrix from a frame's camera light to balanced working light in its own exposure. */
  frameMatrix(index: number): Pointer;
  /**
   * Lays what is below the pass at hand out as it is seen elsewhere: for a part of the grid, through a map of the reference onto itself.
   * @returns its place in the list of such pictures; null: it is none, since only names are asked for, or too many lie within each other
   */
  elsewhere(map: Homography, part: GridPart): number | null;
  /** Whether results are kept for the next evaluation. */
  readonly keeps: boolean;
  /** Rows of one plane kept under a key, or null where there is no room. */
  rows(key: string): KeptRows | null;
  /** Whether such rows are there already. */
  holds(key: string): boolean;
}
