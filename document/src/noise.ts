import Joi from 'joi';

/** Encoded brightnesses, in shares of white, at which grain is told. */
export const GRAIN_TONES = [0.125, 0.375, 0.625, 0.875] as const;

/** How grainy pixels are at full size: standard deviations in shares of white, one for each of `GRAIN_TONES`. */
export interface Grain {
  readonly brightness: readonly number[];
  /** Of red and of blue against brightness, the mean of both. */
  readonly colour: readonly number[];
}

/** How much of the finished picture's noise is taken away, apart for brightness and for colour, before it is sharpened. */
export interface NoiseReduction {
  /** Shares, 0..1; 0 leaves it. */
  readonly brightness: number;
  readonly colour: number;
  /** What was measured as noise: nothing that stands out more is touched. */
  readonly grain: Grain;
}

const deviations = Joi.array().items(Joi.number().min(0).max(0.2)).length(GRAIN_TONES.length).required();

/** Joi schema of measured grain. */
const grainSchema = Joi.object({ brightness: deviations, colour: deviations });

/** Joi schema of noise reduction. */
export const noiseSchema = Joi.object({
  brightness: Joi.number().min(0).max(1).required(),
  colour: Joi.number().min(0).max(1).required(),
  grain: grainSchema.required(),
});
