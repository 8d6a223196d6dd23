import Joi from 'joi';
import { pointField, unitField } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind, type Point } from './areaKind';

/** An ellipse about `at`: one half-axis goes to `rim`, the other is `ratio` times as long. 1 inside, 0 beyond the rim. */
export interface SpotArea extends AreaBase {
  readonly kind: 'spot';
  readonly at: Point;
  readonly rim: Point;
  readonly ratio: number;
  /** 0 hard rim .. 1 soft to the middle. */
  readonly softness: number;
}

export const spot: AreaKind<SpotArea> = {
  ...SHAPE,
  schema: areaObject('spot', { at: pointField.required(), rim: pointField.required(), ratio: Joi.number().min(0.02).max(50).required(), softness: unitField.required() }),
  moved: (area, { place }) => ({ ...area, at: place(area.at), rim: place(area.rim) }),
};
