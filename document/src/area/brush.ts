import Joi from 'joi';
import { unitField } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind, type Point } from './areaKind';

/** A stroke of the brush. Lengths and positions in units of the reference's longer side. */
export interface Stroke {
  readonly points: readonly Point[];
  /** Pressure of a pen at each point, 0..1, by which its strength is less; left out: all of it everywhere. */
  readonly pressures?: readonly number[];
  readonly radius: number;
  /** 0 hard edge .. 1 soft to the middle. */
  readonly softness: number;
  /** 0..1 */
  readonly strength: number;
  /** false takes away from the area. */
  readonly reveal: boolean;
}

/** What was painted, stroke by stroke. */
export interface BrushArea extends AreaBase {
  readonly kind: 'brush';
  readonly strokes: readonly Stroke[];
}

/** Strokes that one area may hold. */
export const MOST_STROKES = 5000;
const MOST_POINTS = 20_000;
const isCoordinate = (v: unknown): boolean => typeof v === 'number' && v >= -4 && v <= 4;

/** Points of a stroke. Looked through in a loop of our own: there may be a million in a document, and each costs a schema microseconds. */
const points = Joi.any().custom((value: unknown, helpers) => {
  if (!Array.isArray(value) || value.length < 1 || value.length > MOST_POINTS) return helpers.message({ custom: `{{#label}} must be a list of 1 to ${MOST_POINTS} points` });
  for (const p of value) if (!Array.isArray(p) || p.length !== 2 || !isCoordinate(p[0]) || !isCoordinate(p[1])) return helpers.message({ custom: '{{#label}} must hold pairs of numbers from -4 to 4' });
  return value;
});

const pressures = Joi.any().custom((value: unknown, helpers) => (Array.isArray(value) && value.length <= MOST_POINTS && value.every((p) => typeof p === 'number' && p >= 0 && p <= 1) ? value : helpers.message({ custom: '{{#label}} must be a list of numbers from 0 to 1' })));

export const strokeSchema = Joi.object({
  points: points.required(),
  pressures,
  radius: Joi.number().min(0.0002).max(1).required(),
  softness: unitField.required(),
  strength: unitField.required(),
  reveal: Joi.boolean().required(),
}).custom((stroke: Stroke, helpers) => (stroke.pressures && stroke.pressures.length !== stroke.points.length ? helpers.message({ custom: '{{#label}} must have a pressure for each of its points' }) : stroke));

export const brush: AreaKind<BrushArea> = {
  ...SHAPE,
  schema: areaObject('brush', { strokes: Joi.array().items(strokeSchema).max(MOST_STROKES).required() }),
  moved: (area, { place, scale }) => ({ ...area, strokes: area.strokes.map((s) => ({ ...s, points: s.points.map(place), radius: s.radius * scale })) }),
};
