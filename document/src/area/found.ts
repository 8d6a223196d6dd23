import Joi from 'joi';
import { idField, pointField } from '../fields';
import { areaObject, type AreaBase, type AreaKind, type Point } from './areaKind';

/** What was found with an edge: the view through glass, what stands before it, the sky, or painted surfaces of the room. */
export const EDGED_THINGS = ['glass', 'before', 'sky', 'ceiling', 'walls'] as const;
export type EdgedThing = (typeof EDGED_THINGS)[number];
/** Something with an edge, which follows the luminance of frame `edge`. */
export interface EdgedArea extends AreaBase {
  readonly kind: 'found';
  readonly what: EdgedThing;
  readonly edge: string;
}
/** One surface, by pointing: what hangs together with a place and looks like it. Its edge follows the luminance of frame `edge`. */
export interface SurfaceArea extends AreaBase {
  readonly kind: 'found';
  readonly what: 'surface';
  readonly edge: string;
  /** A place of it in frame `edge`, in that one's longer sides. */
  readonly at: Point;
  /** How unlike the place something may be that belongs to it; 1: as the place itself tells. */
  readonly takes: number;
}
/** Least and most that a surface takes in. */
export const SURFACE_TAKES = { from: 0.25, to: 4 } as const;
/** Where the flash of `frame` lights well, shared fairly with the flashes of `among`. */
export interface LitArea extends AreaBase {
  readonly kind: 'found';
  readonly what: 'lit';
  readonly frame: string;
  readonly among: readonly string[];
}
/** Something that was detected. It lies on what it was found on, whatever the reference. */
export type FoundArea = EdgedArea | SurfaceArea | LitArea;

export const found: AreaKind<FoundArea> = {
  schema: Joi.alternatives().try(
    areaObject('found', { what: Joi.valid(...EDGED_THINGS).required(), edge: idField.required() }),
    areaObject('found', { what: Joi.valid('surface').required(), edge: idField.required(), at: pointField.required(), takes: Joi.number().min(SURFACE_TAKES.from).max(SURFACE_TAKES.to).required() }),
    areaObject('found', { what: Joi.valid('lit').required(), frame: idField.required(), among: Joi.array().items(idField).max(60).required() }),
  ),
  frames: (area) => (area.what === 'lit' ? [area.frame, ...area.among] : [area.edge]),
  followed: (area) => (area.what === 'lit' ? [] : [area.edge]),
  moved: (area) => area,
  within: (area, holds) => (area.what === 'lit' ? { ...area, among: area.among.filter(holds) } : area),
};
