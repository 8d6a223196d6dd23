import Joi from 'joi';
import { idField } from '../fields';

/** Whose pixels an area looks at: what lies below its pass, or a frame as it lies in the mix. */
export type PixelsOf = { readonly kind: 'below' } | { readonly kind: 'frame'; readonly frame: string };

export const pixelsSchema = Joi.alternatives().try(Joi.object({ kind: Joi.valid('below').required() }), Joi.object({ kind: Joi.valid('frame').required(), frame: idField.required() })).required();

export const framesOfPixels = (of: PixelsOf): readonly string[] => (of.kind === 'frame' ? [of.frame] : []);
