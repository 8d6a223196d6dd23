import type { Pass, SourcePass } from '@zaddle/document';

/** What every proposed pass begins with: on, whole, everywhere, as its source is. */
export const newPass = (id: string): Pick<Pass, 'id' | 'within' | 'on' | 'opacity' | 'mask' | 'exposure' | 'balance'> => ({ id, on: true, opacity: 1, within: null, mask: [], exposure: 0, balance: [1, 1, 1] });

/** What an adjustment begins with: it changes nothing. */
export const adjusting = { kind: 'adjust', contrast: 1, curve: [], tied: false, highlights: 0, shadows: 0, saturation: 1 } as const;

/** A pass that brings the light of a source. */
export const sourcePass = (id: string, kind: SourcePass['kind'], source: SourcePass['source'], more: Partial<SourcePass> & Pick<SourcePass, 'name' | 'why'>): SourcePass => ({
  ...newPass(id), kind, source, alignment: null, mode: 'normal', brightness: 1, colour: 1, ...more,
});
