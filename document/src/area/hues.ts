import Joi from 'joi';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';
import { framesOfPixels, pixelsSchema, type PixelsOf } from './pixelsOf';

/** A band of hues, in OKLab. */
export interface HuesArea extends AreaBase {
  readonly kind: 'hues';
  readonly of: PixelsOf;
  /** Middle of the band, degrees 0..360. */
  readonly hue: number;
  /** Half of its width, degrees, and how softly it ends. */
  readonly width: number;
  readonly softness: number;
  /** Chroma (OKLab) below which a colour is too grey to count; it counts in full from twice that on. */
  readonly chroma: number;
}

const degrees = Joi.number().min(0).max(180).required();

export const hues: AreaKind<HuesArea> = {
  schema: areaObject('hues', { of: pixelsSchema, hue: Joi.number().min(0).max(360).required(), width: degrees, softness: degrees, chroma: Joi.number().min(0).max(0.4).required() }),
  frames: (area) => framesOfPixels(area.of),
  followed: (area) => framesOfPixels(area.of),
  moved: (area) => area,
  within: (area) => area,
};
