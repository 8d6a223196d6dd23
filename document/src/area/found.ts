import Joi from 'joi';
import { idField } from '../fields';
import { areaObject, type AreaBase, type AreaKind } from './areaKind';

/** What was found with an edge: the view through glass, what stands before it, the sky, or painted surfaces of the room. */
export const EDGED_THINGS = ['glass', 'before', 'sky', 'ceiling', 'walls'] as const;
export type EdgedThing = (typeof EDGED_THINGS)[number];
/** Something with an edge, which follows the luminance of frame `edge`. */
export interface EdgedArea extends AreaBase {
  readonly kind: 'found';
  readonly what: EdgedThing;
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
export type FoundArea = EdgedArea | LitArea;

export const found: AreaKind<FoundArea> = {
  schema: Joi.alternatives().try(
    areaObject('found', { what: Joi.valid(...EDGED_THINGS).required(), edge: idField.required() }),
    areaObject('found', { what: Joi.valid('lit').required(), frame: idField.required(), among: Joi.array().items(idField).max(60).required() }),
  ),
  frames: (area) => (area.what === 'lit' ? [area.frame, ...area.among] : [area.edge]),
  followed: (area) => (area.what === 'lit' ? [] : [area.edge]),
  moved: (area) => area,
  within: (area, holds) => (area.what === 'lit' ? { ...area, among: area.among.filter(holds) } : area),
};
