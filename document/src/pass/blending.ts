import Joi from 'joi';
import { BLEND_MODES, type BlendMode } from '../blendModes';
import { unitField } from '../fields';

/** How light that a pass brings joins what is below it. */
export interface Blending {
  readonly mode: BlendMode;
  /** How much of its luminance is taken, 0..1. */
  readonly brightness: number;
  /** How much of its chromaticity is taken, 0..1. */
  readonly colour: number;
}

export const blendingFields = { mode: Joi.valid(...BLEND_MODES).required(), brightness: unitField.required(), colour: unitField.required() };
