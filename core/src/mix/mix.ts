import type { Triple } from '../colour/primaries';
import type { Homography } from '../geometry/homography';
import type { Optics } from '../geometry/lens';
import type { Mesh } from '../geometry/mesh';
import type { Response } from '../colour/responseTable';
import type { BlendMode, Join } from '../kernels/kernels';

export type FrameId = string;

/** How a frame enters the picture: geometry, exposure and balance, found once and shared by all passes that use it. */
export interface FrameUse {
  /** Full size in pixels, after the EXIF orientation is applied. */
  readonly width: number;
  readonly height: number;
  /** Reference pixel to this frame's pixel, both freed of lens error. */
  readonly homography: Homography;
  /** What near and far things add to it, or null. */
  readonly mesh: Mesh | null;
  /** Exposure against the mix's own zero, that of the reference it was proposed with, in stops: +2 gathered four times the light. */
  readonly stops: number;
  /** Gains on linear camera red, green, blue to the common white balance. */
  readonly balance: Triple;
}

/** What a pass takes its pixels from. */
export type Source =
  | { readonly kind: 'frame'; readonly frame: FrameId }
  | { readonly kind: 'merge' }
  /** The light that the flash alone gave: the frame minus the ambient light that it also recorded. */
  | { readonly kind: 'flash'; readonly frame: FrameId };

/** A stroke of the brush. Lengths and positions in units of the reference's longer side. */
export interface Stroke {
  readonly points: ReadonlyArray<readonly [number, number]>;
  readonly radius: number;
  /** 0 hard edge .. 1 soft to the middle. */
  readonly softness: number;
  /** 0..1 */
  readonly strength: number;
  /** false takes away from the area. */
  readonly reveal: boolean;
}

interface AreaBase {
  readonly id: string;
  readonly join: Join;
  readonly inverted: boolean;
}

export type Area =
  | (AreaBase & { readonly kind: 'brush'; readonly strokes: readonly Stroke[] })
  /** 0 at `from`, 1 at `to`, smooth between, constant across. */
  | (AreaBase & { readonly kind: 'ramp'; readonly from: readonly [number, number]; readonly to: readonly [number, number] })
  /** The view through glass; its edge follows the luminance of frame `edge`. */
  | (AreaBase & { readonly kind: 'found'; readonly what: 'glass'; readonly edge: FrameId })
  /** Where the flash of `frame` lights well, shared fairly with the flashes of `among`. */
  | (AreaBase & { readonly kind: 'found'; readonly what: 'lit'; readonly frame: FrameId; readonly among: readonly FrameId[] });

interface PassBase {
  readonly id: string;
  readonly on: boolean;
  /** 0..1 */
  readonly opacity: number;
  /** An empty mask is everything. */
  readonly mask: readonly Area[];
  /** Stops. */
  readonly exposure: number;
  /** Gains on red, green, blue of the working space. */
  readonly balance: Triple;
}

/** A pass that brings pixels of its own. */
export interface SourcePass extends PassBase {
  readonly kind: 'light' | 'view' | 'inset';
  readonly source: Source;
  /** Where this pass alone takes its frame from: reference pixel to frame pixel; null: as the frame lies. */
  readonly alignment: Homography | null;
  readonly mode: BlendMode;
  /** How much of the source's luminance is taken, 0..1. */
  readonly brightness: number;
  /** How much of the source's chromaticity is taken, 0..1. */
  readonly colour: number;
}

/** A pass that changes what is below. */
export interface AdjustPass extends PassBase {
  readonly kind: 'adjust';
  /** Slope of the tones about middle grey: 1 leaves them. */
  readonly contrast: number;
  /** Stops by which the brightest broad tones are lowered (negative) or raised. */
  readonly highlights: number;
  /** Stops by which the darkest broad tones are raised or lowered (negative). */
  readonly shadows: number;
  /** 1 leaves colours, 0 makes grey. */
  readonly saturation: number;
}

export type Pass = SourcePass | AdjustPass;

/** All that is needed to make a shot's picture from its frames. */
export interface Mix {
  readonly reference: FrameId;
  readonly lens: Optics;
  /** Which of the lens's errors the picture is freed of. Frames are lined up without any of them in either case. */
  readonly corrects: { readonly distortion: boolean; readonly fringes: boolean; readonly falloff: boolean };
  /** How the camera turned light into values. */
  readonly response: Response;
  /** Output pixel to reference pixel, and the output's full size. */
  readonly geometry: Homography;
  readonly width: number;
  readonly height: number;
  readonly frames: Readonly<Record<FrameId, FrameUse>>;
  /** The ambient frames that are joined into the merge. */
  readonly merge: readonly FrameId[];
  readonly passes: readonly Pass[];
}

/** Frames that a pass needs to be at hand. */
export function framesOfPass(mix: Mix, pass: Pass): FrameId[] {
  const frames = new Set<FrameId>();
  for (const area of pass.mask) if (area.kind === 'found' && area.what === 'glass') frames.add(area.edge);
  if (pass.kind !== 'adjust') {
    if (pass.source.kind !== 'merge') frames.add(pass.source.frame);
    if (pass.source.kind !== 'frame') mix.merge.forEach((frame) => frames.add(frame));
  }
  return [...frames];
}
