import Joi from 'joi';
import { idField } from '../fields';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';

/** The view through glass; its edge follows the luminance of frame `edge`. */
export interface GlassArea extends AreaBase {
  readonly kind: 'found';
  readonly what: 'glass';
  readonly edge: string;
}
/** Where the flash of `frame` lights well, shared fairly with the flashes of `among`. */
export interface LitArea extends AreaBase {
  readonly kind: 'found';
  readonly what: 'lit';
  readonly frame: string;
  readonly among: readonly string[];
}
/** Something that was detected. It lies on what it was found on, whatever the reference. */
export type FoundArea = GlassArea | LitArea;

export const found: AreaKind<FoundArea> = {
  schema: Joi.alternatives().try(
    areaObject('found', { what: Joi.valid('glass').required(), edge: idField.required() }),
    areaObject('found', { what: Joi.valid('lit').required(), frame: idField.required(), among: Joi.array().items(idField).max(60).required() }),
  ),
  frames: (area) => (area.what === 'glass' ? [area.edge] : [area.frame, ...area.among]),
  followed: (area) => (area.what === 'glass' ? [area.edge] : []),
  moved: (area) => area,
  within: (area, holds) => (area.what === 'lit' ? { ...area, among: area.among.filter(holds) } : area),
};
