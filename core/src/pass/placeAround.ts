import { createPlane } from '../image/plane';
import type { AroundMask } from '../kind/passEvaluation';
import type { PlacedPlane, Placing } from '../kind/placing';

/** Lays out what a pass has to know of what lies around its mask: a plane a channel. */
export const placeAround = ({ light: { width, height, r, g, b }, whole }: AroundMask, placing: Placing): PlacedPlane[] => [r, g, b].map((channel) => placing.onReference(createPlane(width, height, channel), whole));
