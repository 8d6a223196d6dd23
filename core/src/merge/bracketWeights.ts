import { CODE_COUNT, CODE_MAX } from '../kernels/kernels';

/** Encoded values, 0..1, between which a frame hands over to the next darker one. */
const TRUSTED = 0.8;
const CLIPPED = 0.975;

/**
 * How much of what brighter frames left over a bracket frame takes, for each code of its brightest channel. Frames are
 * asked from the longest exposure to the shortest: the longest that is not clipped has gathered the most light and so the
 * least noise (Granados et al., "Optimal HDR reconstruction with linear digital cameras", CVPR 2010), and where it is
 * trusted fully, the shorter ones need not be looked at. Smooth towards clipping, so that no seam shows.
 * @param last true for the shortest exposure, which must answer where all others are clipped.
 */
export function bracketWeights(last: boolean): Float32Array {
  const weights = new Float32Array(CODE_COUNT);
  for (let code = 0; code < CODE_COUNT; code++) {
    const t = Math.min(1, Math.max(0, (CLIPPED - code / CODE_MAX) / (CLIPPED - TRUSTED)));
    weights[code] = last ? 1 : t * t * (3 - 2 * t);
  }
  return weights;
}

/** Members of a merge from the longest exposure to the shortest. */
export const longestFirst = <T extends { readonly stops: number }>(members: readonly T[]): T[] => [...members].sort((a, b) => b.stops - a.stops);
