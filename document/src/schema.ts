import Joi from 'joi';
import { BLEND_MODES, CURRENT_VERSION } from './mixDocument';

const id = Joi.string().max(200);
const unit = Joi.number().min(0).max(1);
const stops = Joi.number().min(-12).max(12);
const triple = Joi.array().items(Joi.number().min(0).max(100)).length(3);
const matrix = Joi.array().items(Joi.number()).length(9);
// A map that folds the picture over, or sends it away, is nobody's wish.
const alignment = matrix.custom((m: number[], helpers) => (m[8] !== 0 && Math.abs(m[0] * m[4] - m[1] * m[3]) > 1e-3 ? m : helpers.message({ custom: '{{#label}} must be a map that can be inverted' })));
const mesh = Joi.object({ columns: Joi.number().integer().min(2).max(64).required(), rows: Joi.number().integer().min(2).max(64).required(), shifts: Joi.array().items(Joi.number().min(-500).max(500)).max(2 * 64 * 64).required() })
  .custom((m: { columns: number; rows: number; shifts: number[] }, helpers) => (m.shifts.length === 2 * m.columns * m.rows ? m : helpers.message({ custom: '{{#label}} must have two shifts for each of its nodes' })));
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
  Joi.object({ ...passBase, kind: Joi.valid('light', 'view', 'inset').required(), source: source.required(), alignment: alignment.allow(null).required(), mode: Joi.valid(...BLEND_MODES).required(), brightness: unit.required(), colour: unit.required() }),
  Joi.object({ ...passBase, kind: Joi.valid('adjust').required(), contrast: Joi.number().min(0.2).max(3).required(), highlights: stops.required(), shadows: stops.required(), saturation: Joi.number().min(0).max(3).required() }),
);

const small = Joi.number().min(-0.5).max(0.5).required();
/** How a frame enters a mix. */
export const frameUseSchema = Joi.object({ width: Joi.number().integer().min(1).required(), height: Joi.number().integer().min(1).required(), homography: alignment.required(), mesh: mesh.allow(null).required(), stops: stops.required(), balance: triple.required() });

/** What a lens does, as in a mix and as kept for a camera and lens. */
export const opticsSchema = Joi.object({ k1: small, k2: small, red: Joi.number().min(-0.02).max(0.02).required(), blue: Joi.number().min(-0.02).max(0.02).required(), falloff: Joi.array().items(Joi.number().min(-0.9).max(0.9)).length(2).required() });
export const responseSchema = Joi.array().items(Joi.number().min(-20).max(20)).max(6);

/** Joi schema of a mix document of the current version. */
export const mixSchema = Joi.object({
  version: Joi.valid(CURRENT_VERSION).required(),
  reference: id.required(),
  lens: opticsSchema.required(),
  corrects: Joi.object({ distortion: Joi.boolean().required(), fringes: Joi.boolean().required(), falloff: Joi.boolean().required() }).required(),
  response: responseSchema.required(),
  geometry: matrix.required(),
  width: Joi.number().integer().min(1).max(100_000).required(),
  height: Joi.number().integer().min(1).max(100_000).required(),
  frames: Joi.object().pattern(id, frameUseSchema).required(),
  merge: Joi.array().items(id).min(1).max(60).required(),
  passes: Joi.array().items(passSchema).max(200).unique('id').required(),
});
