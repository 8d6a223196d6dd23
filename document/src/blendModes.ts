/** How a pass joins what is below it. */
export const BLEND_MODES = ['normal', 'add', 'lighten', 'darken', 'multiply', 'screen'] as const;
export type BlendMode = (typeof BLEND_MODES)[number];
