import type { Matrix3, MixDocument } from '@zaddle/document';
import type { Check } from './checkMix';

/** A part of the output picture, full-size pixels, and how often it is halved. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** 0: as large as it is; each further level is half as large. */
  readonly level: number;
}

/** Deepest level that frames are served at. */
export const LAST_LEVEL = 3;

/** The level whose pixels are at least as fine as those of a screen. @param scale screen pixels to a pixel of the picture. */
export const levelFor = (scale: number): number => Math.max(0, Math.min(LAST_LEVEL, Math.floor(Math.log2(1 / scale) + 1e-6)));

/** What the screen asks of the engine. */
export type ToEngine =
  | { readonly kind: 'open'; readonly preview: OffscreenCanvas; readonly detail: OffscreenCanvas; readonly kernels: WebAssembly.Module }
  /** Show this mix. `settled`: not in the middle of a drag, so wide-context maps are worked out anew. */
  | { readonly kind: 'show'; readonly mix: MixDocument; readonly settled: boolean; readonly clipping: boolean; readonly check: Check | null; readonly ticket: number }
  /** Line up the masked part of a pass by itself. */
  | { readonly kind: 'lineUpPart'; readonly mix: MixDocument; readonly pass: string }
  /** Show a part with the originals' own pixels; null ends it. */
  | { readonly kind: 'detail'; readonly region: Region | null };

/** What the engine answers. */
export type FromEngine =
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  | { readonly kind: 'shown'; readonly ticket: number; readonly milliseconds: number; readonly width: number; readonly height: number; readonly settled: boolean }
  | { readonly kind: 'detailShown'; readonly region: Region }
  | { readonly kind: 'partLinedUp'; readonly pass: string; readonly found: { readonly alignment: Matrix3; readonly residualPx: number; readonly windows: number } | null }
  | { readonly kind: 'failed'; readonly why: string };
