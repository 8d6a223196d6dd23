import Joi from 'joi';
import { areaSchema } from '../area/areaSchema';
import type { Move } from '../area/areaKind';
import type { Area } from '../area/areas';
import { gainsField, idField, stopsField, unitField, wholeText } from '../fields';
import type { Triple } from '../values';

/** Areas that one mask may hold. */
export const MOST_AREAS = 60;

/** What all passes have. */
export interface PassBase {
  readonly id: string;
  readonly name: string;
  /** The bundle that holds it; null: none. */
  readonly within: string | null;
  /** Why it was proposed, or empty. */
  readonly why: string;
  readonly on: boolean;
  /** 0..1 */
  readonly opacity: number;
  /** An empty mask is everything. */
  readonly mask: readonly Area[];
  /** Stops. */
  readonly exposure: number;
  /** Gains on red, green, blue of the working space. */
  readonly balance: Triple;
}

/** What a document knows of one kind of pass. */
export interface PassKind<P extends PassBase> {
  readonly schema: Joi.Schema;
  /** Frames that it takes pixels from by name; those of the merge and of its mask aside. */
  frames(pass: P): readonly string[];
  /** Whether it takes pixels, or light to subtract, from the merge. */
  usesMerge(pass: P): boolean;
  /** The same pass on another reference, its mask aside; left out where it knows of no place. */
  moved?(pass: P, move: Move): P;
}

/** Schema of a pass with these fields besides what all have. */
export const passObject = (kinds: readonly string[], fields: Record<string, Joi.Schema>): Joi.ObjectSchema =>
  Joi.object({
    id: idField.required(),
    name: Joi.string().max(120).custom(wholeText).required(),
    within: idField.allow(null).required(),
    why: Joi.string().max(500).allow('').custom(wholeText).required(),
    on: Joi.boolean().required(),
    opacity: unitField.required(),
    mask: Joi.array().items(areaSchema).max(MOST_AREAS).required(),
    exposure: stopsField.required(),
    balance: gainsField.required(),
    kind: Joi.valid(...kinds).required(),
    ...fields,
  });
