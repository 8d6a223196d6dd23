import Joi from 'joi';
import { idField } from '../fields';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';

/** What was found at windows: the view through glass, or what stands before it. */
export type AtWindow = 'glass' | 'before';
/** The view through glass, or what stands before it; its edge follows the luminance of frame `edge`. */
export interface WindowArea extends AreaBase {
  readonly kind: 'found';
  readonly what: AtWindow;
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
export type FoundArea = WindowArea | LitArea;

export const found: AreaKind<FoundArea> = {
  schema: Joi.alternatives().try(
    areaObject('found', { what: Joi.valid('glass', 'before').required(), edge: idField.required() }),
    areaObject('found', { what: Joi.valid('lit').required(), frame: idField.required(), among: Joi.array().items(idField).max(60).required() }),
  ),
  frames: (area) => (area.what === 'lit' ? [area.frame, ...area.among] : [area.edge]),
  followed: (area) => (area.what === 'lit' ? [] : [area.edge]),
  moved: (area) => area,
  within: (area, holds) => (area.what === 'lit' ? { ...area, among: area.among.filter(holds) } : area),
};
