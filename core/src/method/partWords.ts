import type { MethodParts, PartName } from '@zaddle/document';

const signed = (value: number, digits = 2): string => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(digits)}`;
const percent = (value: number): string => `${Math.round(value * 100)} %`;

/** What parts are called. */
export const PART_TITLES: Readonly<Record<PartName, string>> = { lens: 'Lens corrections', light: 'Balance of light', view: 'View', tone: 'Tone and colour', passes: 'Passes on top', framing: 'Straight lines and crop', noise: 'Noise', sharpening: 'Sharpening' };

const RATIOS: readonly (readonly [string, number])[] = [['4:3', 4 / 3], ['3:2', 3 / 2], ['16:9', 16 / 9], ['5:4', 5 / 4], ['1:1', 1], ['4:5', 4 / 5], ['3:4', 3 / 4], ['2:3', 2 / 3], ['9:16', 9 / 16]];
const ratioWords = (ratio: number): string => RATIOS.find(([, value]) => Math.abs(value - ratio) < 1e-3)?.[0] ?? ratio.toFixed(2);

function toneWords({ exposure = 0, contrast = 1, highlights = 0, shadows = 0, localContrast = 0, veil = 0, glow = 0, saturation = 1, muted = 0, curve = [], bands = [], table = null, balance = [1, 1, 1] }: NonNullable<MethodParts['tone']>): string[] {
  return [
    exposure !== 0 ? `${signed(exposure)} stops` : '', contrast !== 1 ? `contrast ${percent(contrast)}` : '', highlights !== 0 ? `highlights ${signed(highlights)}` : '', shadows !== 0 ? `shadows ${signed(shadows)}` : '',
    localContrast ? `local contrast ${signed(localContrast * 100, 0)} %` : '', veil ? `veil ${percent(veil)}` : '', glow ? `glow ${percent(glow)}` : '',
    saturation !== 1 ? `saturation ${percent(saturation)}` : '', muted ? `muted colours ${signed(muted * 100, 0)} %` : '', curve.length > 0 ? 'a curve' : '', bands && bands.length > 0 ? `${bands.length} ${bands.length === 1 ? 'band' : 'bands'} of hues` : '',
    table ? `colour table “${table.name}” ${percent(table.strength)}` : '',
    balance.some((gain) => gain !== 1) ? 'white balance' : '',
  ];
}

/** What a part does, in a line of words. */
const WORDS: { readonly [K in PartName]: (part: NonNullable<MethodParts[K]>) => readonly string[] } = {
  lens: ({ distortion, fringes, falloff }) => [distortion ? 'distortion' : '', fringes ? 'colour fringes' : '', falloff ? 'fall-off' : ''],
  light: ({ fall, flash = 0, ambient = 0, evenness }) => [fall ? `fall of light ${percent(fall.brightness)}, its colour ${percent(fall.colour)}` : '', flash ? `flash ${signed(flash)} stops` : '', ambient ? `ambient ${signed(ambient)} stops` : '', evenness === undefined ? '' : `colour of light evened out ${percent(evenness)}`],
  view: ({ exposure }) => [`${signed(exposure)} stops`],
  tone: toneWords,
  passes: (passes) => passes.map(({ name, opacity }) => (opacity < 1 ? `${name} ${percent(opacity)}` : name)),
  framing: ({ straighten, strength, ratio }) => [straighten === 'leave' ? '' : `${straighten === 'facing' ? 'verticals, and the faced wall level' : 'verticals plumb'}${strength < 1 ? `, ${percent(strength)}` : ''}`, ratio === null ? '' : `crop ${ratioWords(ratio)}`],
  noise: ({ brightness, colour }) => [`${percent(brightness)} in brightness`, `${percent(colour)} in colour`],
  sharpening: ({ amount, radius }) => [`${percent(amount)}, radius ${radius.toFixed(2)} px`],
};

/** What one part of a method does, in words. */
export function partWords<K extends PartName>(name: K, part: NonNullable<MethodParts[K]>): string {
  return WORDS[name](part).filter(Boolean).join(', ') || 'left as it comes';
}
