import type { Area, Pass } from '@zaddle/document';
import type { PlacedBorder } from '../area/border';
import type { ComposedMap, Extent } from '../geometry/composedMap';
import { rescale, type Homography } from '../geometry/homography';
import type { Pointer } from '../kernels/kernels';
import type { Keeper, KeptRows } from '../kind/keeper';
import { rendererBytes } from '../kind/rowScratch';

/** A frame's pixels in kernel memory: interleaved RGB at any size. */
export interface PlacedSource {
  readonly at: Pointer;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  /** Set when only a part of the picture is at hand. */
  readonly whole?: Extent;
  /** Where only a part is at hand: the whole picture, less fine, for what is seen elsewhere. */
  readonly instead?: PlacedSource;
  /** Names these pixels, where what is made of them is kept: other pixels of the same frame have another name. */
  readonly name?: string;
}

/** An area laid out for a grid: how it joins the mask, and what its kind made of it; null where it is nothing. */
export interface PlacedArea {
  readonly how: number;
  /** The mask of another pass, in its place. */
  readonly linked: readonly PlacedArea[] | null;
  /** What became of it when its border was changed, in its place. */
  readonly bordered: PlacedBorder | null;
  /** For one whose border is to be changed: what names its coverage, and the frame whose edges it is to follow, or -1. */
  readonly border: { readonly key: string; readonly snap: number } | null;
  readonly kind: Area['kind'];
  readonly placed: unknown;
}

/** What lies below the pass of this index. */
export interface KeptBelow {
  readonly index: number;
  /** The picture's rows, and those of each layer that is open there. */
  readonly rows: readonly KeptRows[];
}

export interface PlacedFrame {
  readonly source: PlacedSource;
  readonly map: ComposedMap;
  /** Matrix from camera light to balanced working light in the frame's own exposure. */
  readonly matrix: Pointer;
  /** The frame's interpolated codes and cover, where they are kept. */
  readonly kept: KeptRows | null;
}

export interface PlacedPass {
  readonly opacity: number;
  /** Layers that are open before it, and that begin with it. */
  readonly depth: number;
  readonly opens: number;
  /** Whether it changes only the light of the pass under it, which then does that; and how many such passes follow. */
  readonly tied: boolean;
  readonly followers: number;
  /** Whether its mask looks at the light below. */
  readonly looksBelow: boolean;
  /** How the light that it brings joins what is below; null: it brings none. */
  readonly blending: { readonly mode: number; readonly brightness: number; readonly colour: number } | null;
  readonly gathers: boolean;
  readonly mask: readonly PlacedArea[];
  /** The mask's rows, before opacity, where they are kept. */
  readonly maskKept: KeptRows | null;
  readonly kind: Pass['kind'];
  /** What its kind made of it. */
  readonly placed: unknown;
}

/** A mix laid out in kernel memory for one output grid: plain data, to be handed to any thread that shares the memory. */
export interface PlacedMix {
  readonly width: number;
  readonly height: number;
  readonly frames: readonly PlacedFrame[];
  /** From the longest exposure to the shortest. */
  readonly merge: readonly { readonly frame: number; readonly matrix: Pointer; readonly weights: Pointer }[];
  readonly mergeKept: KeptRows | null;
  readonly passes: readonly PlacedPass[];
  /** Layers that begin after the last pass: where the pass that would come next lies in bundles. */
  readonly opens: number;
  /** What lies below passes, as it is seen elsewhere: mixes of fewer passes on grids of their own. */
  readonly elsewhere: readonly PlacedMix[];
  /** Names what lies below each pass: everything that it depends on. */
  readonly belowKeys: readonly string[];
  /** Names each pass's mask; nothing where it has none. */
  readonly maskKeys: readonly string[];
  /** What lies below a pass, kept from before: evaluation starts there in rows that are made. */
  readonly from: KeptBelow | null;
  /** What lies below another, to be kept for the next time. */
  readonly keep: KeptBelow | null;
  /** From output pixel to pixel of the reference. */
  readonly referenceMap: ComposedMap;
  readonly phases: Pointer;
  readonly tables: Pointer;
  /** How light is displayed: a display block (`finish/displayBlock`). */
  readonly display: Pointer;
}

/** Bytes that a renderer of a placed mix takes from its arena, those for what is seen elsewhere included. */
export const placedBytes = ({ width, frames, elsewhere }: PlacedMix): number => elsewhere.reduce((sum, each) => sum + placedBytes(each), rendererBytes(width, frames.length));

/** Pixels of an output grid and where they lie in the output at full size. */
export interface OutputGrid {
  readonly width: number;
  readonly height: number;
  /** Grid pixel to output pixel at full size. */
  readonly toOutput: Homography;
}

/** The whole picture at its full size or smaller. */
export function wholeGrid(mix: { width: number; height: number }, width: number, height: number): OutputGrid {
  return { width, height, toOutput: rescale(width, height, mix.width, mix.height) };
}

/** What results are kept under, and which of what lies below is worth keeping. */
export interface Keeping {
  readonly keeper: Keeper;
  /** Names the grid: its size and where it lies. */
  readonly grid: string;
  /** The pass that is worked on: what lies below it is kept. */
  readonly working: string | null;
}
