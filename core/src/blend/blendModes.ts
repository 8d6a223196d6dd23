import type { BlendMode } from '@zaddle/document';

/**
 * Codes of the blend kernel. The encoding that a mode works on is what its formula was made for:
 * - *linear light* for what light does: it adds (`add`), is filtered (`multiply`), comes from two projectors (`screen`); the
 *   brighter and the darker of two (`lighten`, `darken`) are the same in any encoding;
 * - *encoded* for formulas with a middle at 0.5 and those that tell hue, saturation and luminosity, which were made for values
 *   that look evenly spaced. The encoding is the square root of linear light, close to sRGB's curve and exact to undo.
 *
 * For values of 0..1 all are equal to the formulas of the standard. Beyond, where it says nothing, they stay finite and go on
 * the way they went: what is brighter than white stays so, but for `difference`, `exclusion` and the four that take a colour apart.
 */
export const BLEND_MODE_CODES = {
  normal: 0, add: 1, lighten: 2, darken: 3, multiply: 4, screen: 5,
  overlay: 6, 'color-dodge': 7, 'color-burn': 8, 'hard-light': 9, 'soft-light': 10, difference: 11, exclusion: 12,
  hue: 13, saturation: 14, color: 15, luminosity: 16,
} as const satisfies Readonly<Record<BlendMode, number>>;
