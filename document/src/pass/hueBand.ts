import Joi from 'joi';

/** What becomes of colours of a band of hues, in OKLab. */
export interface HueBand {
  /** Middle of the band, degrees 0..360. */
  readonly hue: number;
  /** Half of its width, degrees, and over how many degrees it ends. */
  readonly width: number;
  readonly softness: number;
  /** Degrees by which hues are turned. */
  readonly shift: number;
  /** What chroma is multiplied by: 0 is grey, 1 leaves it. */
  readonly chroma: number;
  /** Share by which lightness grows, or shrinks (negative). */
  readonly lightness: number;
}

export const MOST_BANDS = 12;

/** Joi schema of a band of hues. */
export const hueBandSchema = Joi.object({
  hue: Joi.number().min(0).max(360).required(),
  width: Joi.number().min(1).max(180).required(),
  softness: Joi.number().min(1).max(180).required(),
  shift: Joi.number().min(-90).max(90).required(),
  chroma: Joi.number().min(0).max(3).required(),
  lightness: Joi.number().min(-0.5).max(0.5).required(),
});
