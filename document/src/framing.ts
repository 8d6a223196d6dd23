import Joi from 'joi';
import type { Point } from './area/areaKind';

/** A straight thing that a person drew a line on, from end to end, in longer sides of the reference. */
export interface DrawnLine {
  readonly from: Point;
  readonly to: Point;
}

/** A crop as it is wished for: what would reach beyond the picture is moved and made smaller when it is applied. */
export interface Crop {
  /** Its middle, in longer sides of the reference. */
  readonly at: Point;
  /** Its size as straightened, in longer sides of the reference. */
  readonly width: number;
  readonly height: number;
}

/** A crop of its own for all orders of one ratio. */
export interface OwnCrop {
  /** Width over height of the crop: turned where the picture is taller than wide. */
  readonly ratio: number;
  readonly crop: Crop;
}

/**
 * How the picture is straightened and cropped, in terms that a person can go on with; the `geometry` of a mix follows
 * from it (`core/src/mix/frameMix.ts`). Angles say how the camera stood against one that stands level before the room.
 */
export interface Framing {
  /** Degrees by which the camera hung to the right, looked up, and looked to the right of the wall that it faced. */
  readonly roll: number;
  readonly pitch: number;
  readonly yaw: number;
  /** Focal length, in longer sides of the reference. */
  readonly focal: number;
  /** Share of pitch and yaw that is undone, 0..1: a trace of convergence may stay. */
  readonly strength: number;
  /** Degrees by which the straightened picture is turned clockwise by hand. */
  readonly turn: number;
  /** Height over width against what optics say; 1 is natural. */
  readonly stretch: number;
  readonly lines: readonly DrawnLine[];
  /** Width over height that the crop keeps; null: that of the crop, and without one that of the reference. */
  readonly ratio: number | null;
  /** null: the largest of its ratio. */
  readonly crop: Crop | null;
  /** What orders of other ratios show, where that was chosen by hand; left out, or of no ratio here: as much of the picture's crop as fits. */
  readonly ownCrops?: readonly OwnCrop[];
}

/** Most degrees that a picture is straightened by about one axis. */
export const LARGEST_ANGLE = 40;
export const MOST_LINES = 8;
const MOST_OWN_CROPS = 12;

const angle = Joi.number().min(-LARGEST_ANGLE).max(LARGEST_ANGLE).required();
const point = Joi.array().items(Joi.number().min(-2).max(3)).length(2).required();
const length = Joi.number().min(0.01).max(4).required();
const crop = Joi.object({ at: point, width: length, height: length });

/** Joi schema of a framing. */
export const framingSchema = Joi.object({
  roll: angle, pitch: angle, yaw: angle,
  focal: Joi.number().min(0.2).max(20).required(),
  strength: Joi.number().min(0).max(1).required(),
  turn: angle,
  stretch: Joi.number().min(0.5).max(2).required(),
  lines: Joi.array().items(Joi.object({ from: point, to: point })).max(MOST_LINES).required(),
  ratio: Joi.number().min(0.1).max(10).allow(null).required(),
  crop: crop.allow(null).required(),
  ownCrops: Joi.array().items(Joi.object({ ratio: Joi.number().min(0.1).max(10).required(), crop: crop.required() })).max(MOST_OWN_CROPS).unique('ratio'),
});
