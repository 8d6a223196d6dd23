import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import type { Appearance } from './appearance';
import { pixelsOfPane, type PaneQuad } from './fitPane';
import { isEnclosed, liesBeside } from './liesBeside';
import type { Proof } from './siblingPanes';

/** How much a pane beside one of a view must look like outside where flashes tell, and how bright it must be against that one: mirrored in a floor it is dimmer. */
const OUTSIDE_SIBLING = 0.45;
const DIM_SIBLING = 0.3;
/** How little like outside nearly all of a place looks that flashes light through and through, as they do a pier between two windows: what a pane mirrors of them covers some of it. */
const LIT = 0.2;
const NEARLY_ALL = 0.85;
const LEAST_TOLD = 0.5;

/** Median of a plane in a pane. */
export function middleOf(pane: PaneQuad, plane: Plane): number {
  const values: number[] = [];
  pixelsOfPane(pane, plane.width, plane.height, (i) => values.push(plane.data[i]));
  return quantile(values, 0.5);
}

/** Whether flashes light all of a place. */
function isLit(quad: PaneQuad, outside: Plane): boolean {
  const told: number[] = [];
  let all = 0;
  pixelsOfPane(quad, outside.width, outside.height, (i) => {
    all++;
    if (!Number.isNaN(outside.data[i])) told.push(outside.data[i]);
  });
  return told.length > LEAST_TOLD * all && quantile(told, NEARLY_ALL) < LIT;
}

/**
 * Whether what lies in a pane may be a view like that of its neighbour: it looks like outside, is not far darker, and no floor mirrors it. Between other
 * panes it may mirror flashes, as long as these do not light all of it, and need be like any one of these only.
 * @param mirrored 1 where a floor mirrors a view
 */
function likeNeighbours(quad: PaneQuad, like: PaneQuad, others: readonly PaneQuad[], { outside, radiance }: Appearance, mirrored: Plane): boolean {
  if (middleOf(quad, mirrored) > 0) return false;
  const own = middleOf(quad, radiance);
  const isBright = (other: PaneQuad): boolean => own > DIM_SIBLING * middleOf(other, radiance);
  if (isEnclosed(quad, others)) return !isLit(quad, outside) && others.some((other) => liesBeside(quad, other) && isBright(other));
  return !(middleOf(quad, outside) <= OUTSIDE_SIBLING) && isBright(like);
}

/** What says whether a place beside panes is one more. */
export interface PaneJudge {
  readonly proof: (quad: PaneQuad, others: readonly PaneQuad[]) => Proof;
  readonly maybe: (quad: PaneQuad, like: PaneQuad, others: readonly PaneQuad[]) => boolean;
}

/**
 * How places beside panes are judged. By flashes, bars differ from what is mirrored in a floor, where bars are mirrored, too; what no frame without a flash
 * shows, one flash alone says nothing of, so that its lines have to tell; and between panes on two sides, a place is one more in any case.
 * @param known 1 where a frame without a flash tells @param logs log2 luminance of frames @param mirrored 1 where a floor mirrors a view @param flashes how many tell of the view
 */
export function judgePanes(looks: Appearance, known: Uint8Array, logs: readonly Plane[], mirrored: Plane, flashes: number): PaneJudge {
  const byFlash = [mapPlane(looks.outside, (v) => (Number.isNaN(v) ? 0.5 : v))];
  const shown = createPlane(mirrored.width, mirrored.height, Float32Array.from(known));
  return {
    proof(quad, others) {
      if (flashes === 0) return { planes: logs, sides: 4 };
      if (isEnclosed(quad, others)) return { planes: logs, sides: 2 };
      return flashes === 1 && middleOf(quad, shown) === 0 ? { planes: logs, sides: 3 } : { planes: byFlash, sides: 3 };
    },
    maybe: (quad, like, others) => likeNeighbours(quad, like, others, looks, mirrored),
  };
}
