import type { MixDocument, SourcePass } from '@zaddle/document';

/** A frame by itself, as the camera gave it. */
export function frameOnly(mix: MixDocument, frame: string): MixDocument {
  const pass: SourcePass = {
    id: `alone-${frame}`, name: 'Frame', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1],
    source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
  };
  return { ...mix, passes: [pass], noise: null, sharpening: null };
}
