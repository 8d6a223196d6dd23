import Joi from 'joi';
import { alignmentField, idField } from '../fields';
import type { Matrix3 } from '../values';
import { blendingFields, type Blending } from './blending';
import { passObject, type PassBase, type PassKind } from './passKind';

/** What a pass takes its pixels from. */
export type Source =
  | { readonly kind: 'frame'; readonly frame: string }
  | { readonly kind: 'merge' }
  /** The picture so far: what lies below the pass. */
  | { readonly kind: 'below' }
  /** The light that the flash alone gave: the frame minus the ambient light that it also recorded. */
  | { readonly kind: 'flash'; readonly frame: string }
  /** The light of lamps that burn in one frame and not in another: what the first has more. */
  | { readonly kind: 'switched'; readonly frame: string; readonly without: string };

/** A pass that brings pixels of its own. */
export interface SourcePass extends PassBase, Blending {
  readonly kind: 'light' | 'view' | 'inset';
  readonly source: Source;
  /** Where this pass alone takes its frame from: reference pixel to frame pixel; null: as the frame lies. */
  readonly alignment: Matrix3 | null;
  /** Its light is brought to that which lies around its mask, colour by colour, so that it joins without a step. */
  readonly matched?: boolean;
}

const source = Joi.alternatives().try(
  Joi.object({ kind: Joi.valid('frame', 'flash').required(), frame: idField.required() }),
  Joi.object({ kind: Joi.valid('switched').required(), frame: idField.required(), without: idField.disallow(Joi.ref('frame')).required().messages({ 'any.invalid': '{{#label}} must be another frame: a frame has nothing more than itself' }) }),
  Joi.object({ kind: Joi.valid('merge', 'below').required() }),
);

export const sourcePass: PassKind<SourcePass> = {
  schema: passObject(['light', 'view', 'inset'], { source: source.required(), alignment: alignmentField.allow(null).required(), matched: Joi.boolean(), ...blendingFields }),
  frames: ({ source: from }) => (from.kind === 'switched' ? [from.frame, from.without] : 'frame' in from ? [from.frame] : []),
  usesMerge: ({ source: from }) => from.kind === 'merge' || from.kind === 'flash',
};

/** The frame that a source is the light of, or null. */
export const frameOfSource = (from: Source): string | null => ('frame' in from ? from.frame : null);
