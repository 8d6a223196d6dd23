import { likeness, PER_PIXEL } from './gridSurfaces';

const KERNEL = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16];
/** Distance between planes, metres, that a step of one grid pixel may bring. */
const PLANES = 0.006;

/** A picture of light with the surfaces that it lies on. */
export interface LitSurfaces {
  readonly width: number;
  readonly height: number;
  /** As in `GridSurfaces`. */
  readonly surfaces: Float32Array;
}

const sumAt = (light: Float32Array, i: number): number => light[i * 3] + light[i * 3 + 1] + light[i * 3 + 2];

/** How much each pixel and its 24 neighbours, `step` apart, belong together; the pixel itself first. */
function weigh({ width, height, surfaces }: LitSurfaces, x: number, y: number, step: number, out: Float64Array): void {
  const i = (y * width + x) * PER_PIXEL;
  for (let j = -2, k = 0; j <= 2; j++) {
    for (let l = -2; l <= 2; l++, k++) {
      const [u, v] = [x + l * step, y + j * step];
      out[k] = u < 0 || v < 0 || u >= width || v >= height ? 0 : likeness(surfaces, i, surfaces, (v * width + u) * PER_PIXEL, PLANES * step);
    }
  }
}

/** Mean of the neighbours on the same surface, the pixel itself left out; one value a pixel; the pixel's own where it has none. */
function surroundings(light: Float32Array, on: LitSurfaces, weights: Float32Array): Float32Array {
  const { width, height } = on;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let total = 0;
      let sum = 0;
      for (let k = 0; k < 25; k++) {
        const w = weights[i * 25 + k];
        if (w === 0 || k === 12) continue;
        total += w * sumAt(light, i + (Math.floor(k / 5) - 2) * width + (k % 5) - 2);
        sum += w;
      }
      out[i] = sum > 0.3 ? total / sum : sumAt(light, i);
    }
  }
  return out;
}

/** Sparks, far brighter than all around them on the same surface, are brought down (as in Jensen, Christensen 1995, outlier suppression). */
function despike(light: Float32Array, on: LitSurfaces, weights: Float32Array): Float32Array {
  const around = surroundings(light, on, weights);
  const out = light.slice();
  for (let i = 0; i < around.length; i++) {
    const own = sumAt(light, i);
    const limit = 2 * around[i] + 1e-5;
    if (own <= limit) continue;
    for (let c = 0; c < 3; c++) out[i * 3 + c] *= limit / own;
  }
  return out;
}

/** Weights of direct neighbours, 25 a pixel: the same for all lights of a room. */
export function neighbourWeights(on: LitSurfaces): Float32Array {
  const weights = new Float32Array(on.width * on.height * 25);
  const own = new Float64Array(25);
  for (let y = 0; y < on.height; y++) for (let x = 0; x < on.width; x++) {
    weigh(on, x, y, 1, own);
    weights.set(own, (y * on.width + x) * 25);
  }
  return weights;
}

/**
 * Edge-avoiding à-trous wavelet denoising (Dammertz et al., HPG 2010) of RGB light, steered by the surfaces, which are
 * free of noise, and by a smoothed version of the light itself; sparks are taken out before.
 * @param contrast relative step of light that counts as an edge; @param weights from `neighbourWeights`.
 */
export function denoise(light: Float32Array, on: LitSurfaces, weights: Float32Array, passes: number, contrast: number): Float32Array {
  const { width, height } = on;
  let from = despike(despike(light, on, weights), on, weights);
  const own = new Float64Array(25);
  for (let pass = 0; pass < passes; pass++) {
    const step = 1 << pass;
    const to = new Float32Array(from.length);
    const steer = surroundings(from, on, weights);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        const s = i * PER_PIXEL;
        if (on.surfaces[s] === 0 && on.surfaces[s + 1] === 0 && on.surfaces[s + 2] === 0) continue;
        weigh(on, x, y, step, own);
        let [r, g, b, sum] = [0, 0, 0, 0];
        for (let k = 0; k < 25; k++) {
          if (own[k] === 0 && k !== 12) continue;
          const q = i + (Math.floor(k / 5) - 2) * step * width + ((k % 5) - 2) * step;
          const dl = (steer[q] - steer[i]) / (contrast * (steer[q] + steer[i]) * 0.5 + 1e-5);
          const w = KERNEL[Math.floor(k / 5)] * KERNEL[k % 5] * (k === 12 ? 1 : own[k]) * Math.exp(-dl * dl);
          r += w * from[q * 3];
          g += w * from[q * 3 + 1];
          b += w * from[q * 3 + 2];
          sum += w;
        }
        to[i * 3] = r / sum;
        to[i * 3 + 1] = g / sum;
        to[i * 3 + 2] = b / sum;
      }
    }
    from = to;
  }
  return from;
}
