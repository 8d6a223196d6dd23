import Joi from 'joi';
import { alignmentField, gainsField, idField, matrixField, stopsField } from './fields';
import { framingSchema } from './framing';
import { appliedMethodSchema } from './method';
import { CURRENT_VERSION } from './mixDocument';
import { noiseSchema } from './noise';
import { sharpeningSchema } from './sharpening';
import { passSchema } from './pass/passes';

/** Id of a frame. */
export const frameSchema = Joi.string().min(1).max(64).pattern(/^[A-Za-z0-9_.:-]+$/).invalid('__proto__', 'constructor', 'prototype', 'toString', 'valueOf', 'hasOwnProperty');
const mesh = Joi.object({ columns: Joi.number().integer().min(2).max(64).required(), rows: Joi.number().integer().min(2).max(64).required(), shifts: Joi.array().items(Joi.number().min(-500).max(500)).max(2 * 64 * 64).required() })
  .custom((m: { columns: number; rows: number; shifts: number[] }, helpers) => (m.shifts.length === 2 * m.columns * m.rows ? m : helpers.message({ custom: '{{#label}} must have two shifts for each of its nodes' })));
const small = Joi.number().min(-0.5).max(0.5).required();
/** How a frame enters a mix. */
export const frameUseSchema = Joi.object({ width: Joi.number().integer().min(1).max(100_000).required(), height: Joi.number().integer().min(1).max(100_000).required(), homography: alignmentField.required(), mesh: mesh.allow(null).required(), stops: stopsField.required(), balance: gainsField.required(), own: gainsField.allow(null), ownStops: stopsField.allow(null) });

/** What a lens does, as in a mix and as kept for a camera and lens. */
export const opticsSchema = Joi.object({ k1: small, k2: small, red: Joi.number().min(-0.02).max(0.02).required(), blue: Joi.number().min(-0.02).max(0.02).required(), falloff: Joi.array().items(Joi.number().min(-0.9).max(0.9)).length(2).required() });
export const responseSchema = Joi.array().items(Joi.number().min(-20).max(20)).max(6);

/** Joi schema of a mix document of the current version. */
export const mixSchema = Joi.object({
  version: Joi.valid(CURRENT_VERSION).required(),
  reference: idField.required(),
  lens: opticsSchema.required(),
  corrects: Joi.object({ distortion: Joi.boolean().required(), fringes: Joi.boolean().required(), falloff: Joi.boolean().required() }).required(),
  response: responseSchema.required(),
  geometry: matrixField.required(),
  width: Joi.number().integer().min(1).max(100_000).required(),
  height: Joi.number().integer().min(1).max(100_000).required(),
  framing: framingSchema.allow(null),
  noise: noiseSchema.allow(null),
  sharpening: sharpeningSchema.allow(null),
  method: appliedMethodSchema.allow(null),
  frames: Joi.object().pattern(idField, frameUseSchema).required(),
  merge: Joi.array().items(idField).min(1).max(60).required(),
  passes: Joi.array().items(passSchema).max(200).unique('id').required(),
});
