/**
 * How a pass joins what is below it: the modes of W3C "Compositing and Blending Level 1", by its names, and `add`, as light
 * adds. In the order in which they are offered.
 */
export const BLEND_MODES = [
  'normal', 'add', 'lighten', 'screen', 'color-dodge', 'darken', 'multiply', 'color-burn', 'overlay', 'soft-light', 'hard-light',
  'difference', 'exclusion', 'hue', 'saturation', 'color', 'luminosity',
] as const;
export type BlendMode = (typeof BLEND_MODES)[number];
