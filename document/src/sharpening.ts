import Joi from 'joi';

/** How the finished picture is sharpened, by its brightness alone. */
export interface Sharpening {
  /** How much of what is finer than the radius is added, 0..3; 0 is nothing. */
  readonly amount: number;
  /** Standard deviation of what is taken for blur, pixels of the output at full size. */
  readonly radius: number;
  /** Steps of encoded brightness, in shares of white, that are no edges: noise and smooth surfaces are left alone up to here. */
  readonly edges: number;
  /** How far a line beside an edge may go beyond what lies around, in shares of white. */
  readonly halo: number;
}

/** Joi schema of a sharpening. */
export const sharpeningSchema = Joi.object({
  amount: Joi.number().min(0).max(3).required(),
  radius: Joi.number().min(0.3).max(3).required(),
  edges: Joi.number().min(0).max(0.3).required(),
  halo: Joi.number().min(0).max(0.2).required(),
});
