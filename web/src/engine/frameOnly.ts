import type { MixDocument } from '@zaddle/document';
import { frameAlone } from '@zaddle/core/pass/frameAlone';

/** A frame by itself, as the camera gave it. */
export const frameOnly = (mix: MixDocument, frame: string): MixDocument => ({ ...mix, passes: [frameAlone(frame, [])], noise: null, sharpening: null });
