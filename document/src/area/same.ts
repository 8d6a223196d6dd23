import { idField } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind } from './areaKind';

/** Masks that may be linked one to the next. */
export const LONGEST_CHAIN = 4;

/** The mask of another pass, linked: it changes with that one. */
export interface SameArea extends AreaBase {
  readonly kind: 'same';
  readonly pass: string;
}

export const same: AreaKind<SameArea> = {
  ...SHAPE,
  schema: areaObject('same', { pass: idField.required() }),
  moved: (area) => area,
  linked: (area) => area.pass,
};
