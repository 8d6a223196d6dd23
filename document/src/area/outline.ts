import Joi from 'joi';
import { pointField, softEdge } from '../fields';
import { areaObject, SHAPE, type AreaBase, type AreaKind, type Move, type Point } from './areaKind';

/** A point of an outline. Handles bend the segments before and after it (cubic Bézier curves); without them these are straight. */
export interface OutlineNode {
  readonly at: Point;
  readonly before: Point | null;
  readonly after: Point | null;
}

/** What lies inside closed outlines; what lies inside two lies outside again. */
export interface OutlineArea extends AreaBase {
  readonly kind: 'outline';
  readonly rings: readonly (readonly OutlineNode[])[];
  /** Width of the soft edge, in longer sides of the reference; 0 is as sharp as pixels are. */
  readonly softness: number;
}

/** Outlines of one area, at most. */
export const MOST_RINGS = 40;
const MOST_NODES = 400;
const handle = pointField.allow(null).required();
const node = Joi.object({ at: pointField.required(), before: handle, after: handle });

const movedNode = ({ at, before, after }: OutlineNode, { place }: Move): OutlineNode => ({ at: place(at), before: before && place(before), after: after && place(after) });

export const outline: AreaKind<OutlineArea> = {
  ...SHAPE,
  schema: areaObject('outline', { rings: Joi.array().items(Joi.array().items(node).min(3).max(MOST_NODES)).min(1).max(MOST_RINGS).required(), softness: softEdge.required() }),
  moved: (area, move) => ({ ...area, rings: area.rings.map((ring) => ring.map((n) => movedNode(n, move))), softness: area.softness * move.scale }),
};
