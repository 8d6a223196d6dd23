import Joi from 'joi';
import { BLEND_MODES, CURRENT_VERSION } from './mixDocument';

/** Text that a database can keep: no NUL, no half of a surrogate pair, which no text has. */
export const wholeText = (value: string, helpers: Joi.CustomHelpers): string | Joi.ErrorReport => (/\p{Cs}|\0/u.test(value) ? helpers.message({ custom: '{{#label}} holds characters that are no text' }) : value);
// Ids are keys of objects, too: none may be what every object has.
const id = Joi.string().max(200).invalid('__proto__', 'constructor', 'prototype').custom(wholeText);
/** Id of a frame. */
export const frameSchema = Joi.string().min(1).max(64).pattern(/^[A-Za-z0-9_.:-]+$/).invalid('__proto__', 'constructor', 'prototype', 'toString', 'valueOf', 'hasOwnProperty');
const unit = Joi.number().min(0).max(1);
const stops = Joi.number().min(-12).max(12);
const triple = Joi.array().items(Joi.number().min(0).max(100)).length(3);
const matrix = Joi.array().items(Joi.number()).length(9);
// A map that folds the picture over, or sends it away, is nobody's wish.
const alignment = matrix.custom((m: number[], helpers) => (m[8] !== 0 && Math.abs(m[0] * m[4] - m[1] * m[3]) > 1e-3 ? m : helpers.message({ custom: '{{#label}} must be a map that can be inverted' })));
const mesh = Joi.object({ columns: Joi.number().integer().min(2).max(64).required(), rows: Joi.number().integer().min(2).max(64).required(), shifts: Joi.array().items(Joi.number().min(-500).max(500)).max(2 * 64 * 64).required() })
  .custom((m: { columns: number; rows: number; shifts: number[] }, helpers) => (m.shifts.length === 2 * m.columns * m.rows ? m : helpers.message({ custom: '{{#label}} must have two shifts for each of its nodes' })));
const point = Joi.array().items(Joi.number().min(-4).max(4)).length(2);
const MOST_POINTS = 20_000;
const isCoordinate = (v: unknown): boolean => typeof v === 'number' && v >= -4 && v <= 4;

/** Points of a stroke. Looked through in a loop of our own: there may be a million in a document, and each costs a schema microseconds. */
const points = Joi.any().custom((value: unknown, helpers) => {
  if (!Array.isArray(value) || value.length < 1 || value.length > MOST_POINTS) return helpers.message({ custom: `{{#label}} must be a list of 1 to ${MOST_POINTS} points` });
  for (const p of value) if (!Array.isArray(p) || p.length !== 2 || !isCoordinate(p[0]) || !isCoordinate(p[1])) return helpers.message({ custom: '{{#label}} must hold pairs of numbers from -4 to 4' });
  return value;
});

export const strokeSchema = Joi.object({
  points: points.required(),
  radius: Joi.number().min(0.0002).max(1).required(),
  softness: unit.required(),
  strength: unit.required(),
  reveal: Joi.boolean().required(),
});

/** Schema of one of several kinds of things: what is wrong is told of the kind that it says it is. */
export function byKind(kinds: Readonly<Record<string, Joi.Schema>>): Joi.AlternativesSchema {
  const known = Object.keys(kinds);
  return Joi.alternatives().conditional('.kind', { switch: known.map((kind) => ({ is: Joi.valid(kind).required(), then: kinds[kind] })), otherwise: Joi.object({ kind: Joi.valid(...known).required() }).unknown().required() } as never);
}

const areaBase = { id: id.required(), join: Joi.valid('add', 'subtract', 'intersect').required(), inverted: Joi.boolean().required() };
const found = { ...areaBase, kind: Joi.valid('found').required() };
export const areaSchema = byKind({
  brush: Joi.object({ ...areaBase, kind: Joi.valid('brush').required(), strokes: Joi.array().items(strokeSchema).max(5000).required() }),
  ramp: Joi.object({ ...areaBase, kind: Joi.valid('ramp').required(), from: point.required(), to: point.required() }),
  found: Joi.alternatives().try(
    Joi.object({ ...found, what: Joi.valid('glass').required(), edge: id.required() }),
    Joi.object({ ...found, what: Joi.valid('lit').required(), frame: id.required(), among: Joi.array().items(id).max(60).required() }),
  ),
});

const passBase = {
  id: id.required(),
  name: Joi.string().max(120).custom(wholeText).required(),
  why: Joi.string().max(500).allow('').custom(wholeText).required(),
  on: Joi.boolean().required(),
  opacity: unit.required(),
  mask: Joi.array().items(areaSchema).max(60).required(),
  exposure: stops.required(),
  balance: triple.required(),
};
const source = Joi.alternatives().try(
  Joi.object({ kind: Joi.valid('frame', 'flash').required(), frame: id.required() }),
  Joi.object({ kind: Joi.valid('merge').required() }),
);

const sourcePass = Joi.object({ ...passBase, kind: Joi.valid('light', 'view', 'inset').required(), source: source.required(), alignment: alignment.allow(null).required(), mode: Joi.valid(...BLEND_MODES).required(), brightness: unit.required(), colour: unit.required() });
export const passSchema = byKind({
  light: sourcePass,
  view: sourcePass,
  inset: sourcePass,
  adjust: Joi.object({ ...passBase, kind: Joi.valid('adjust').required(), contrast: Joi.number().min(0.2).max(3).required(), highlights: stops.required(), shadows: stops.required(), saturation: Joi.number().min(0).max(3).required() }),
});

const small = Joi.number().min(-0.5).max(0.5).required();
/** How a frame enters a mix. */
export const frameUseSchema = Joi.object({ width: Joi.number().integer().min(1).max(100_000).required(), height: Joi.number().integer().min(1).max(100_000).required(), homography: alignment.required(), mesh: mesh.allow(null).required(), stops: stops.required(), balance: triple.required() });

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
