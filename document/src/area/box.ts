import Joi from 'joi';
import { pointField, softEdge } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind, type Point } from './areaKind';

/** What lies between four corners, as a door or a picture frame in perspective does. */
export interface BoxArea extends AreaBase {
  readonly kind: 'box';
  /** Going round. */
  readonly corners: readonly [Point, Point, Point, Point];
  /** Width of the soft edge, in longer sides of the reference; 0 is as sharp as pixels are. */
  readonly softness: number;
}

export const box: AreaKind<BoxArea> = {
  ...SHAPE,
  schema: areaObject('box', { corners: Joi.array().items(pointField).length(4).required(), softness: softEdge.required() }),
  moved: (area, { place, scale }) => ({ ...area, corners: area.corners.map(place) as unknown as BoxArea['corners'], softness: area.softness * scale }),
};
