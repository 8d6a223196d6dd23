import Joi from 'joi';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';
import { framesOfPixels, pixelsSchema, type PixelsOf } from './pixelsOf';

/** A tonal range: where the luminance lies between two tones, in stops about middle grey. */
export interface TonesArea extends AreaBase {
  readonly kind: 'tones';
  readonly of: PixelsOf;
  readonly from: number;
  readonly to: number;
  /** Stops over which it comes and goes, about either end. */
  readonly softness: number;
}

const tone = Joi.number().min(-12).max(6).required();

export const tones: AreaKind<TonesArea> = {
  schema: areaObject('tones', { of: pixelsSchema, from: tone, to: tone, softness: Joi.number().min(0).max(6).required() }),
  frames: (area) => framesOfPixels(area.of),
  followed: (area) => framesOfPixels(area.of),
  moved: (area) => area,
  within: (area) => area,
};
