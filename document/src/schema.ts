import Joi from 'joi';
import { BLEND_MODES, CURRENT_VERSION } from './mixDocument';

const id = Joi.string().max(200);
const unit = Joi.number().min(0).max(1);
const stops = Joi.number().min(-12).max(12);
const triple = Joi.array().items(Joi.number().min(0).max(100)).length(3);
const matrix = Joi.array().items(Joi.number()).length(9);
const point = Joi.array().items(Joi.number().min(-4).max(4)).length(2);

const stroke = Joi.object({
  points: Joi.array().items(point).min(1).max(20_000).required(),
  radius: Joi.number().min(0.0002).max(1).required(),
  softness: unit.required(),
  strength: unit.required(),
  reveal: Joi.boolean().required(),
});

const areaBase = { id: id.required(), join: Joi.valid('add', 'subtract', 'intersect').required(), inverted: Joi.boolean().required() };
const area = Joi.alternatives().try(
  Joi.object({ ...areaBase, kind: Joi.valid('brush').required(), strokes: Joi.array().items(stroke).max(5000).required() }),
  Joi.object({ ...areaBase, kind: Joi.valid('ramp').required(), from: point.required(), to: point.required() }),
  Joi.object({ ...areaBase, kind: Joi.valid('found').required(), what: Joi.valid('glass').required(), edge: id.required() }),
  Joi.object({ ...areaBase, kind: Joi.valid('found').required(), what: Joi.valid('lit').required(), frame: id.required(), among: Joi.array().items(id).max(60).required() }),
);

const passBase = {
  id: id.required(),
  name: Joi.string().max(120).required(),
  why: Joi.string().max(500).allow('').required(),
  on: Joi.boolean().required(),
  opacity: unit.required(),
  mask: Joi.array().items(area).max(60).required(),
  exposure: stops.required(),
  balance: triple.required(),
};
const source = Joi.alternatives().try(
  Joi.object({ kind: Joi.valid('frame', 'flash').required(), frame: id.required() }),
  Joi.object({ kind: Joi.valid('merge').required() }),
);

export const passSchema = Joi.alternatives().try(
  Joi.object({ ...passBase, kind: Joi.valid('light', 'view', 'inset').required(), source: source.required(), mode: Joi.valid(...BLEND_MODES).required(), brightness: unit.required(), colour: unit.required() }),
  Joi.object({ ...passBase, kind: Joi.valid('adjust').required(), contrast: Joi.number().min(0.2).max(3).required(), highlights: stops.required(), shadows: stops.required(), saturation: Joi.number().min(0).max(3).required() }),
);

/** Joi schema of a mix document of the current version. */
export const mixSchema = Joi.object({
  version: Joi.valid(CURRENT_VERSION).required(),
  reference: id.required(),
  lens: Joi.object({ k1: Joi.number().min(-0.5).max(0.5).required(), k2: Joi.number().min(-0.5).max(0.5).required() }).required(),
  geometry: matrix.required(),
  width: Joi.number().integer().min(1).max(100_000).required(),
  height: Joi.number().integer().min(1).max(100_000).required(),
  frames: Joi.object().pattern(id, Joi.object({ width: Joi.number().integer().min(1).required(), height: Joi.number().integer().min(1).required(), homography: matrix.required(), stops: stops.required(), balance: triple.required() })).required(),
  merge: Joi.array().items(id).min(1).max(60).required(),
  passes: Joi.array().items(passSchema).max(200).unique('id').required(),
});
