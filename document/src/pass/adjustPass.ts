import Joi from 'joi';
import { stopsField } from '../fields';
import { passObject, type PassBase, type PassKind } from './passKind';

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

export const adjustPass: PassKind<AdjustPass> = {
  schema: passObject(['adjust'], { contrast: Joi.number().min(0.2).max(3).required(), highlights: stopsField.required(), shadows: stopsField.required(), saturation: Joi.number().min(0).max(3).required() }),
  frames: () => [],
  usesMerge: () => false,
};
