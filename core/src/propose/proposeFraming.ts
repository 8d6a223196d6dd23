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

/** How a picture is straightened: whether a wall that is nearly faced is faced, and the share of convergence that is undone. */
export interface Straightening {
  readonly yaw: 'nearly' | 'never';
  readonly strength: number;
}
/** What a shot is proposed with. */
const UNASKED: Straightening = { yaw: 'nearly', strength: 1 };

/**
 * A framing that stands as its edges say: plumb, where plumb edges tell; the wall faced, where it nearly is; never at the cost of
 * more than a third of the picture, so less of it where that would be. Where evidence is weak nothing is straightened.
 */
export function straightened(mix: Mix, { plumb, yaw, horizontals }: StanceFound, focal: number, { yaw: face, strength }: Straightening): Framing {
  const plain = asShot(focal);
  if (!plumb) return plain;
  const faced = face === 'nearly' && yaw !== null && Math.abs(yaw) <= FACED && horizontals >= SURELY_LEVEL ? yaw : 0;
  if (faced === 0 && Math.abs(plumb.roll) < STANDS.roll && Math.abs(plumb.pitch) < STANDS.pitch) return plain;
  const tried = STRENGTHS.map((share): Framing => ({ ...plain, ...plumb, yaw: faced, strength: share * strength }));
  return tried.find((framing) => shareShown({ ...mix, ...frameMix(mix, framing) }) >= 1 - COSTS) ?? plain;
}

/** The framing that a shot is proposed with. */
export const proposeFraming = (mix: Mix, stance: StanceFound, focal: number): Framing => straightened(mix, stance, focal, UNASKED);
