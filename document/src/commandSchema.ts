import Joi from 'joi';
import { frameUseSchema, passSchema } from './schema';

const id = Joi.string().max(200).required();
const index = Joi.number().integer().min(0).max(1000).required();

/** Joi schema of a command as it comes over the wire; what `changes` may hold is checked on the resulting document. */
export const commandSchema = Joi.alternatives().try(
  Joi.object({ kind: Joi.valid('addPass').required(), pass: passSchema.required(), index }),
  Joi.object({ kind: Joi.valid('removePass').required(), id }),
  Joi.object({ kind: Joi.valid('movePass').required(), id, index }),
  Joi.object({ kind: Joi.valid('addFrame').required(), id, use: frameUseSchema.required() }),
  Joi.object({ kind: Joi.valid('removeFrame').required(), id }),
  Joi.object({ kind: Joi.valid('changeFrame').required(), id, changes: Joi.object().pattern(Joi.valid('homography', 'mesh', 'stops', 'balance'), Joi.any()).min(1).required() }),
  Joi.object({ kind: Joi.valid('changeMix').required(), changes: Joi.object().pattern(Joi.valid('lens', 'corrects', 'response', 'geometry', 'width', 'height', 'merge'), Joi.any()).min(1).required() }),
  Joi.object({ kind: Joi.valid('changePass').required(), id, changes: Joi.object().min(1).required() }),
);
