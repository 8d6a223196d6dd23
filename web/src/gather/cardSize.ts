/** A frame's card, as wide as in the style sheet with its gap, and its height, pixels. */
export const CARD = { width: 140, height: 138 };
