import { likeness, PER_PIXEL } from './gridSurfaces';

const KERNEL = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16];
const TAPS = 25;
const MIDDLE = 12;
const SHARES = Float64Array.from({ length: TAPS }, (_, k) => KERNEL[Math.floor(k / 5)] * KERNEL[k % 5]);
/** Distance between planes, metres, that a step of one grid pixel may bring. */
const PLANES = 0.006;

/** A grid with the surfaces that its pixels show. */
export interface SurfaceGrid {
  readonly width: number;
  readonly height: number;
  /** As in `GridSurfaces`. */
  readonly surfaces: Float32Array;
}

const sumAt = (light: Float32Array, i: number): number => light[i * 3] + light[i * 3 + 1] + light[i * 3 + 2];

/** How far away in memory each of the 25 neighbours lies, `step` pixels apart. */
const offsets = (width: number, step: number): Int32Array => Int32Array.from({ length: TAPS }, (_, k) => (Math.floor(k / 5) - 2) * step * width + ((k % 5) - 2) * step);

/** How much each pixel and its 24 neighbours, `step` apart, belong together: 25 numbers a pixel, 0 where there is none. */
function alike({ width, height, surfaces }: SurfaceGrid, step: number, out: Float32Array): void {
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * PER_PIXEL;
      const bare = surfaces[i] === 0 && surfaces[i + 1] === 0 && surfaces[i + 2] === 0;
      for (let j = -2; j <= 2; j++) {
        for (let l = -2; l <= 2; l++, p++) {
          const [u, v] = [x + l * step, y + j * step];
          out[p] = bare || u < 0 || v < 0 || u >= width || v >= height ? 0 : likeness(surfaces, i, surfaces, (v * width + u) * PER_PIXEL, PLANES * step);
        }
      }
    }
  }
}

/** Mean of the direct neighbours on the same surface, the pixel itself left out; one value a pixel; the pixel's own where it has none. */
function surroundings(light: Float32Array, width: number, weights: Float32Array, out: Float32Array): void {
  const near = offsets(width, 1);
  for (let i = 0; i < out.length; i++) {
    let total = 0;
    let sum = 0;
    for (let k = 0; k < TAPS; k++) {
      const w = weights[i * TAPS + k];
      if (w === 0 || k === MIDDLE) continue;
      total += w * sumAt(light, i + near[k]);
      sum += w;
    }
    out[i] = sum > 0.3 ? total / sum : sumAt(light, i);
  }
}

/** Sparks, far brighter than all around them on the same surface, are brought down (as in Jensen, Christensen 1995, outlier suppression); what is taken is added to `taken`. */
function despike(light: Float32Array, around: Float32Array, taken: Float32Array): void {
  for (let i = 0; i < around.length; i++) {
    const own = sumAt(light, i);
    const limit = 2 * around[i] + 1e-5;
    if (own <= limit) continue;
    for (let c = 0; c < 3; c++) {
      taken[i * 3 + c] += light[i * 3 + c] * (1 - limit / own);
      light[i * 3 + c] *= limit / own;
    }
  }
}

/** Gives back what sparks were, spread wide along the surfaces: few samples find a small bright place seldom, but it is that bright. */
function giveBack(lights: readonly Float32Array[], taken: readonly Float32Array[], on: SurfaceGrid, passes: number): void {
  const even = new Float32Array(on.width * on.height);
  const weights = new Float32Array(even.length * TAPS);
  let from: readonly Float32Array[] = taken;
  let to: readonly Float32Array[] = lights.map(() => new Float32Array(even.length * 3));
  for (let pass = 0; pass < passes; pass++) {
    alike(on, 1 << pass, weights);
    const near = offsets(on.width, 1 << pass);
    from.forEach((light, l) => smooth(light, even, weights, near, 1, to[l]));
    [from, to] = [to, from];
  }
  lights.forEach((light, l) => from[l].forEach((v, i) => (light[i] += v)));
}

/** One pass of the wavelet. @param steer what tells edges of light, one value a pixel */
function smooth(from: Float32Array, steer: Float32Array, weights: Float32Array, near: Int32Array, contrast: number, to: Float32Array): void {
  for (let i = 0; i < steer.length; i++) {
    const own = steer[i];
    let [r, g, b, sum] = [0, 0, 0, 0];
    for (let k = 0; k < TAPS; k++) {
      const like = k === MIDDLE ? 1 : weights[i * TAPS + k];
      if (like === 0) continue;
      const q = i + near[k];
      const step = (steer[q] - own) / (contrast * (steer[q] + own) * 0.5 + 1e-5);
      const calm = 1 / (1 + 0.5 * step * step);
      const w = SHARES[k] * like * calm * calm;
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

/**
 * Edge-avoiding à-trous wavelet denoising (Dammertz et al., HPG 2010) of lights, RGB, steered by the surfaces, which are
 * free of noise, and by a smoothed version of the light itself; sparks are taken out before and spread wide after.
 * @param contrast relative step of light that counts as an edge
 */
export function denoise(lights: readonly Float32Array[], on: SurfaceGrid, passes: number, contrast: number): Float32Array[] {
  const count = on.width * on.height;
  const beside = new Float32Array(count * TAPS);
  alike(on, 1, beside);
  const steers = lights.map(() => new Float32Array(count));
  let from = lights.map((light) => light.slice());
  const taken = lights.map(() => new Float32Array(count * 3));
  from.forEach((light, l) => {
    for (let k = 0; k < 2; k++) {
      surroundings(light, on.width, beside, steers[l]);
      despike(light, steers[l], taken[l]);
    }
  });
  let to = lights.map(() => new Float32Array(count * 3));
  const weights = beside.slice();
  for (let pass = 0; pass < passes; pass++) {
    const step = 1 << pass;
    if (pass > 0) alike(on, step, weights);
    const near = offsets(on.width, step);
    from.forEach((light, l) => {
      surroundings(light, on.width, beside, steers[l]);
      smooth(light, steers[l], weights, near, contrast, to[l]);
    });
    [from, to] = [to, from];
  }
  giveBack(from, taken, on, passes);
  return from;
}
