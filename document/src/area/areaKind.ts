import Joi from 'joi';
import { idField } from '../fields';

/** A place, in longer sides of the reference. */
export type Point = readonly [number, number];

/** What all areas of a mask have. */
export interface AreaBase {
  readonly id: string;
  /** How it joins those before it. */
  readonly join: 'add' | 'subtract' | 'intersect';
  readonly inverted: boolean;
}

/** Carries a place, or a length, to another reference. */
export interface Move {
  readonly place: (point: Point) => Point;
  /** Lengths there for one here. */
  readonly scale: number;
}

/** What a document knows of one kind of area. */
export interface AreaKind<A extends AreaBase> {
  readonly schema: Joi.Schema;
  /** Frames that it names. */
  frames(area: A): readonly string[];
  /** Frames, of those, whose pixels it follows. */
  followed(area: A): readonly string[];
  /** The same area on another reference. */
  moved(area: A, move: Move): A;
  /** The same area where only some frames are at hand. */
  within(area: A, holds: (frame: string) => boolean): A;
}

/** Schema of an area with these fields besides what all have. */
export const areaObject = (kind: string, fields: Record<string, Joi.Schema>): Joi.ObjectSchema =>
  Joi.object({ id: idField.required(), join: Joi.valid('add', 'subtract', 'intersect').required(), inverted: Joi.boolean().required(), kind: Joi.valid(kind).required(), ...fields });

/** What shapes answer, which know of no frame. */
export const SHAPE = { frames: () => [], followed: () => [], within: <A>(area: A): A => area } as const;
