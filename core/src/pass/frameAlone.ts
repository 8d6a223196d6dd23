import type { Area, FrameId, SourcePass } from '@zaddle/document';

/** Light of a frame by itself, where the areas say: its mask is what is meant. */
export const frameAlone = (frame: FrameId, mask: readonly Area[]): SourcePass => ({
  id: `look-${frame}`, name: 'Frame', why: '', within: null, kind: 'light', on: true, opacity: 1, mask, exposure: 0, balance: [1, 1, 1],
  source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
});
