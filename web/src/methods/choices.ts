import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import { methodStep } from '@zaddle/core/method/methodStep';
import type { ToldStance } from '@zaddle/core/geometry/estimateStance';
import { draftOf, type Method, type MixDocument } from '@zaddle/document';
import type { Sketched } from '../engine/messages';

/** All of a method. */
export const whole = (method: Method): MethodChoice => ({ method, strength: 1, off: [] });

/** The mix as a method would make it; as it is where the method does not fit. */
function withChoice(mix: MixDocument, choice: MethodChoice, stance: ToldStance | null): MixDocument {
  try {
    return draftOf(mix, methodStep(mix, choice, stance).command);
  } catch {
    return mix;
  }
}

/** Methods as small pictures of a shot. @param across pixels */
export function sketchesOf(mix: MixDocument, methods: readonly { readonly id: string; readonly method: Method }[], stance: ToldStance | null, across: number): Sketched<MixDocument>[] {
  return methods.map(({ id, method }) => {
    const made = withChoice(mix, whole(method), stance);
    // All as high as a picture of 3:2, so that they lie in rows.
    const scale = Math.min(across / made.width, (across * 2) / 3 / made.height);
    return { key: `method ${id}`, mix: made, columns: Math.max(1, Math.round(made.width * scale)), rows: Math.max(1, Math.round(made.height * scale)) };
  });
}
export const sketchOf = (sketches: ReadonlyMap<string, ImageBitmap>, id: string): ImageBitmap | undefined => sketches.get(`method ${id}`);

/** Methods that have a key: the first ones. */
export const KEYED = 9;
