import Joi from 'joi';
import { areaSchema } from './area/areaSchema';
import { strokeSchema } from './area/brush';
import { byKind } from './fields';
import { passSchema } from './pass/passes';
import { frameSchema, frameUseSchema } from './schema';

const id = Joi.string().max(200).required();
const index = Joi.number().integer().min(0).max(1000).required();

/** Joi schema of one change by itself. */
const single = {
  addPass: Joi.object({ kind: Joi.valid('addPass').required(), pass: passSchema.required(), index }),
  removePass: Joi.object({ kind: Joi.valid('removePass').required(), id }),
  movePass: Joi.object({ kind: Joi.valid('movePass').required(), id, index, within: Joi.string().max(200).allow(null) }),
  addFrame: Joi.object({ kind: Joi.valid('addFrame').required(), id: frameSchema.required(), use: frameUseSchema.required() }),
  removeFrame: Joi.object({ kind: Joi.valid('removeFrame').required(), id }),
  changeFrame: Joi.object({ kind: Joi.valid('changeFrame').required(), id, changes: Joi.object().pattern(Joi.valid('homography', 'mesh', 'stops', 'balance', 'own', 'ownStops'), Joi.any()).min(1).required() }),
  changeMix: Joi.object({ kind: Joi.valid('changeMix').required(), changes: Joi.object().pattern(Joi.valid('lens', 'corrects', 'response', 'geometry', 'width', 'height', 'framing', 'noise', 'sharpening', 'method', 'merge'), Joi.any()).min(1).required() }),
  changePass: Joi.object({ kind: Joi.valid('changePass').required(), id, changes: Joi.object().min(1).required() }),
  addArea: Joi.object({ kind: Joi.valid('addArea').required(), pass: id, area: areaSchema.required(), index }),
  removeArea: Joi.object({ kind: Joi.valid('removeArea').required(), pass: id, area: id }),
  addStroke: Joi.object({ kind: Joi.valid('addStroke').required(), pass: id, area: id, stroke: strokeSchema.required(), index: Joi.number().integer().min(0).max(5000) }),
  removeStroke: Joi.object({ kind: Joi.valid('removeStroke').required(), pass: id, area: id, index: Joi.number().integer().min(0).max(5000).required() }),
};

/** Joi schema of a command as it comes over the wire; what `changes` may hold is checked on the resulting document. */
export const commandSchema = byKind({ ...single, several: Joi.object({ kind: Joi.valid('several').required(), commands: Joi.array().items(byKind(single)).min(1).max(500).required() }) });
