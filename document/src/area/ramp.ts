import { pointField } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind, type Point } from './areaKind';

/** 0 at `from`, 1 at `to`, smooth between, constant across. */
export interface RampArea extends AreaBase {
  readonly kind: 'ramp';
  readonly from: Point;
  readonly to: Point;
}

export const ramp: AreaKind<RampArea> = {
  ...SHAPE,
  schema: areaObject('ramp', { from: pointField.required(), to: pointField.required() }),
  moved: (area, { place }) => ({ ...area, from: place(area.from), to: place(area.to) }),
};
