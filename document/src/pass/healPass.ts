import Joi from 'joi';
import type { Point } from '../area/areaKind';
import { gainsField, pointField, softEdge } from '../fields';
import type { Triple } from '../values';
import { blendingFields, type Blending } from './blending';
import { passObject, type PassBase, type PassKind } from './passKind';

/** Four corners, going round, longer sides of the reference. */
export type Quad = readonly [Point, Point, Point, Point];

/** A piece of a place that is retouched from another place of the picture. */
export interface HealPatch {
  /** Corners about the piece, and those that they are taken from: shifted, turned, mirrored, or in another perspective. */
  readonly to: Quad;
  readonly from: Quad;
  /** Gains on red, green, blue that bring it to the light of the pieces beside it. */
  readonly gains: Triple;
  /** Closed lines that the piece lies within; none: all between the corners. */
  readonly rings: readonly (readonly Point[])[];
}

/** A pass that retouches what its mask covers with the picture's own pixels: what is below, seen elsewhere. */
export interface HealPass extends PassBase, Blending {
  readonly kind: 'heal';
  /** From underneath to on top. */
  readonly patches: readonly HealPatch[];
  /** Over which distance a piece gives way to the one under it, longer sides of the reference. */
  readonly softness: number;
  /** Its light is brought to that which lies around its mask; else it is cloned as it is. */
  readonly matched: boolean;
}

/** Pieces of one pass. */
export const MOST_PATCHES = 80;
const MOST_PATCH_RINGS = 20;
const MOST_CORNERS = 300;

const quad = Joi.array().items(pointField).length(4).required();
const patch = Joi.object({ to: quad, from: quad, gains: gainsField.required(), rings: Joi.array().items(Joi.array().items(pointField).min(3).max(MOST_CORNERS)).max(MOST_PATCH_RINGS).required() });

export const healPass: PassKind<HealPass> = {
  schema: passObject(['heal'], { patches: Joi.array().items(patch).min(1).max(MOST_PATCHES).required(), softness: softEdge.required(), matched: Joi.boolean().required(), ...blendingFields }),
  frames: () => [],
  usesMerge: () => false,
  moved(pass, { place, scale }) {
    const quadThere = (corners: Quad): Quad => corners.map(place) as unknown as Quad;
    return { ...pass, softness: pass.softness * scale, patches: pass.patches.map(({ to, from, gains, rings }) => ({ gains, to: quadThere(to), from: quadThere(from), rings: rings.map((ring) => ring.map(place)) })) };
  },
};
