import { CODE_COUNT, CODE_MAX } from '../kernels/kernels';

/**
 * How much a bracket frame counts for each code of its brightest channel: in proportion to the light it
 * gathered, as shot noise asks (Granados et al., "Optimal HDR reconstruction with linear digital cameras",
 * CVPR 2010, without read noise), falling smoothly to nothing towards clipping.
 * @param stops exposure against the reference; @param darkest true for the frame that must answer where all others are clipped.
 */
export function bracketWeights(stops: number, darkest: boolean): Float32Array {
  const weights = new Float32Array(CODE_COUNT);
  for (let code = 0; code < CODE_COUNT; code++) {
    const v = code / CODE_MAX;
    const t = Math.min(1, Math.max(0, (0.985 - v) / (0.985 - 0.88)));
    const unclipped = t * t * (3 - 2 * t);
    weights[code] = 2 ** stops * (unclipped + (darkest ? 1e-4 : 0)) + 1e-7;
  }
  return weights;
}
