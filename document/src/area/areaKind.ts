import Joi from 'joi';
import { idField, softEdge } from '../fields';

/** A place, in longer sides of the reference. */
export type Point = readonly [number, number];

/** What all areas of a mask have. */
export interface AreaBase {
  readonly id: string;
  /** How it joins those before it. */
  readonly join: 'add' | 'subtract' | 'intersect';
  readonly inverted: boolean;
  /** What is done to its border, before it joins; left out: nothing. */
  readonly border?: AreaBorder;
}

/** Changes of an area's border after the fact. Lengths in longer sides of the reference. */
export interface AreaBorder {
  /** By how much it is grown, or shrunk (negative). */
  readonly grow: number;
  /** Over which distance it is softened. */
  readonly soften: number;
  /** Frame whose edges it is made to follow, or null. */
  readonly snap: string | null;
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
  /** The pass whose mask it takes over; left out by kinds that never do. */
  linked?(area: A): string;
  /** The same area where only some frames are at hand. */
  within(area: A, holds: (frame: string) => boolean): A;
}

const border = Joi.object({ grow: Joi.number().min(-0.2).max(0.2).required(), soften: softEdge.max(0.2).required(), snap: idField.allow(null).required() });

/** Schema of an area with these fields besides what all have. */
export const areaObject = (kind: string, fields: Record<string, Joi.Schema>): Joi.ObjectSchema =>
  Joi.object({ id: idField.required(), join: Joi.valid('add', 'subtract', 'intersect').required(), inverted: Joi.boolean().required(), border, kind: Joi.valid(kind).required(), ...fields });

/** What shapes answer, which know of no frame. */
export const SHAPE = { frames: () => [], followed: () => [], within: <A>(area: A): A => area } as const;
