import Joi from 'joi';
import { unitField } from '../fields';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';
import { framesOfPixels, pixelsSchema, type PixelsOf } from './pixelsOf';

/** One colour component as a mask: nothing where its encoded value is at most `from`, all from `to` on. Inverted it is the negative. */
export interface ChannelArea extends AreaBase {
  readonly kind: 'channel';
  readonly of: PixelsOf;
  readonly component: 'red' | 'green' | 'blue' | 'luminance';
  readonly from: number;
  readonly to: number;
}

export const channel: AreaKind<ChannelArea> = {
  schema: areaObject('channel', { of: pixelsSchema, component: Joi.valid('red', 'green', 'blue', 'luminance').required(), from: unitField.required(), to: unitField.required() }),
  frames: (area) => framesOfPixels(area.of),
  followed: (area) => framesOfPixels(area.of),
  moved: (area) => area,
  within: (area) => area,
};
