import Joi from 'joi';
import { pointField } from '../fields';
import type { Point } from '../area/areaKind';
import type { Triple } from '../values';
import { blendingFields, type Blending } from './blending';
import { passObject, type PassBase, type PassKind } from './passKind';

/** A pass that brings one tone, a ramp from that tone to another, or what lies around its mask. */
export interface FillPass extends PassBase, Blending {
  readonly kind: 'fill';
  /** Linear light of the working space. */
  readonly tone: Triple;
  /** Where the ramp begins and ends, and the tone that it ends with; null: one tone everywhere. */
  readonly ramp: { readonly from: Point; readonly to: Point; readonly tone: Triple } | null;
  /** Instead of tones, what lies around the mask is carried smoothly into it. */
  readonly around: boolean;
}

const tone = Joi.array().items(Joi.number().min(0).max(16)).length(3).required();

export const fillPass: PassKind<FillPass> = {
  schema: passObject(['fill'], { ...blendingFields, tone, ramp: Joi.object({ from: pointField.required(), to: pointField.required(), tone }).allow(null).required(), around: Joi.boolean().required() }),
  frames: () => [],
  usesMerge: () => false,
  moved: (pass, { place }) => ({ ...pass, ramp: pass.ramp && { ...pass.ramp, from: place(pass.ramp.from), to: place(pass.ramp.to) } }),
};
