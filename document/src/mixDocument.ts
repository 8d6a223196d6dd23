/*
 * The mix document: what makes a shot's picture, as plain JSON. Positions are fractions of the reference's longer
 * side. The computation core states the same shapes for what it reads; a type test keeps the two in step.
 */

export const CURRENT_VERSION = 2;

export type Triple = readonly [number, number, number];
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

/** Displacements in pixels of the frame (x, y of each node, row by row) on a regular grid over the reference. */
export interface Mesh {
  readonly columns: number;
  readonly rows: number;
  readonly shifts: readonly number[];
}

/** What a lens does: radial distortion, lateral colour of red and blue, fall-off of light in r² and r⁴; r is 1 in the corner. */
export interface Optics {
  readonly k1: number;
  readonly k2: number;
  readonly red: number;
  readonly blue: number;
  readonly falloff: readonly [number, number];
}

/** Which of the lens's errors are corrected. */
export interface Corrections {
  readonly distortion: boolean;
  readonly fringes: boolean;
  readonly falloff: boolean;
}

export interface FrameUse {
  readonly width: number;
  readonly height: number;
  /** Reference pixel to this frame's pixel, row-major, both freed of lens error. */
  readonly homography: Matrix3;
  /** What near and far things add to that, or null. */
  readonly mesh: Mesh | null;
  /** Exposure against the mix's own zero (the reference that it was proposed with), stops. */
  readonly stops: number;
  /** Gains on linear camera RGB to the shot's common white balance. */
  readonly balance: Triple;
}

export type Source = { readonly kind: 'frame'; readonly frame: string } | { readonly kind: 'merge' } | { readonly kind: 'flash'; readonly frame: string };

export interface Stroke {
  readonly points: ReadonlyArray<readonly [number, number]>;
  readonly radius: number;
  readonly softness: number;
  readonly strength: number;
  readonly reveal: boolean;
}

interface AreaBase {
  readonly id: string;
  readonly join: 'add' | 'subtract' | 'intersect';
  readonly inverted: boolean;
}
export type Area =
  | (AreaBase & { readonly kind: 'brush'; readonly strokes: readonly Stroke[] })
  | (AreaBase & { readonly kind: 'ramp'; readonly from: readonly [number, number]; readonly to: readonly [number, number] })
  | (AreaBase & { readonly kind: 'found'; readonly what: 'glass'; readonly edge: string })
  | (AreaBase & { readonly kind: 'found'; readonly what: 'lit'; readonly frame: string; readonly among: readonly string[] });

export const BLEND_MODES = ['normal', 'add', 'lighten', 'darken', 'multiply', 'screen'] as const;
export type BlendMode = (typeof BLEND_MODES)[number];

interface PassBase {
  readonly id: string;
  readonly name: string;
  /** Why it was proposed, or empty. */
  readonly why: string;
  readonly on: boolean;
  readonly opacity: number;
  readonly mask: readonly Area[];
  /** Stops. */
  readonly exposure: number;
  readonly balance: Triple;
}
export interface SourcePass extends PassBase {
  readonly kind: 'light' | 'view' | 'inset';
  readonly source: Source;
  /** Where this pass alone takes its frame from: reference pixel to frame pixel; null: as the frame lies. */
  readonly alignment: Matrix3 | null;
  readonly mode: BlendMode;
  readonly brightness: number;
  readonly colour: number;
}
export interface AdjustPass extends PassBase {
  readonly kind: 'adjust';
  readonly contrast: number;
  readonly highlights: number;
  readonly shadows: number;
  readonly saturation: number;
}
export type Pass = SourcePass | AdjustPass;

export interface MixDocument {
  readonly version: typeof CURRENT_VERSION;
  readonly reference: string;
  readonly lens: Optics;
  readonly corrects: Corrections;
  /** The camera's response against sRGB's: stops of the terms (1 - value)^(k + 1); empty is sRGB. */
  readonly response: readonly number[];
  /** Output pixel to reference pixel, and the output's size. */
  readonly geometry: Matrix3;
  readonly width: number;
  readonly height: number;
  readonly frames: Readonly<Record<string, FrameUse>>;
  readonly merge: readonly string[];
  /** From underneath to on top. */
  readonly passes: readonly Pass[];
}
