import Joi from 'joi';

/** Text that a database can keep: no NUL, no half of a surrogate pair, which no text has. */
export const wholeText = (value: string, helpers: Joi.CustomHelpers): string | Joi.ErrorReport => (/\p{Cs}|\0/u.test(value) ? helpers.message({ custom: '{{#label}} holds characters that are no text' }) : value);
// Ids are keys of objects, too: none may be what every object has.
/** Id of anything in a document. */
export const idField = Joi.string().max(200).invalid('__proto__', 'constructor', 'prototype').custom(wholeText);
/** A share, 0..1. */
export const unitField = Joi.number().min(0).max(1);
export const stopsField = Joi.number().min(-12).max(12);
/** Gains on red, green, blue. */
export const gainsField = Joi.array().items(Joi.number().min(0).max(100)).length(3);
export const matrixField = Joi.array().items(Joi.number()).length(9);
/** A map from reference to frame. One that folds the picture over, or sends it away, is nobody's wish. */
export const alignmentField = matrixField.custom((m: number[], helpers) => (m[8] !== 0 && Math.abs(m[0] * m[4] - m[1] * m[3]) > 1e-3 ? m : helpers.message({ custom: '{{#label}} must be a map that can be inverted' })));
/** A place, in longer sides of the reference. */
export const pointField = Joi.array().items(Joi.number().min(-4).max(4)).length(2);

/** Width of a soft edge, longer sides of the reference. */
export const softEdge = Joi.number().min(0).max(4);

/** Schema of one of several kinds of things: what is wrong is told of the kind that it says it is. */
export function byKind(kinds: Readonly<Record<string, Joi.Schema>>): Joi.AlternativesSchema {
  const known = Object.keys(kinds);
  return Joi.alternatives().conditional('.kind', { switch: known.map((kind) => ({ is: Joi.valid(kind).required(), then: kinds[kind] })), otherwise: Joi.object({ kind: Joi.valid(...known).required() }).unknown().required() } as never);
}
