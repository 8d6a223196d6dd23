import type { Framing, Mix } from '@zaddle/document';
import type { StanceFound } from '../geometry/estimateStance';
import type { FrameFacts } from '../intake/frameFacts';
import { asShot, frameMix, shareShown, USUAL_FOCAL } from '../mix/frameMix';

/** Diagonal of the film that equivalent focal lengths are told for, millimetres (CIPA DCG-001). */
const FILM_DIAGONAL = Math.hypot(36, 24);

/** Focal length in longer sides of the picture; the usual one where files do not tell. */
export function focalOf({ focal35, width, height }: Pick<FrameFacts, 'focal35' | 'width' | 'height'>): number {
  if (!focal35) return USUAL_FOCAL;
  return Math.max(0.2, Math.min(20, (focal35 / FILM_DIAGONAL) * (Math.hypot(width, height) / Math.max(width, height))));
}

/** A wall that is faced this nearly was meant to be faced, degrees; and level edges that must say so. */
const FACED = 1.5;
const SURELY_LEVEL = 10;
/** Degrees of roll and of pitch within which a camera stands level: less than anybody sees, and not worth an interpolation. */
const STANDS = { roll: 0.05, pitch: 0.1 };
/** Share of the picture that straightening may cost at most unasked, and strengths that are tried for it. */
const COSTS = 0.35;
const STRENGTHS = [1, 0.75, 0.5, 0.25, 0];

/**
 * The framing that a shot is proposed with: plumb, where plumb edges tell; the wall faced, where it nearly is; never at the cost of
 * more than a third of the picture. Where evidence is weak nothing is straightened.
 */
export function proposeFraming(mix: Mix, { plumb, yaw, horizontals }: StanceFound, focal: number): Framing {
  const plain = asShot(focal);
  if (!plumb) return plain;
  const faced = yaw !== null && Math.abs(yaw) <= FACED && horizontals >= SURELY_LEVEL ? yaw : 0;
  if (faced === 0 && Math.abs(plumb.roll) < STANDS.roll && Math.abs(plumb.pitch) < STANDS.pitch) return plain;
  const tried = STRENGTHS.map((strength): Framing => ({ ...plain, ...plumb, yaw: faced, strength }));
  return tried.find((framing) => shareShown({ ...mix, ...frameMix(mix, framing) }) >= 1 - COSTS) ?? plain;
}
