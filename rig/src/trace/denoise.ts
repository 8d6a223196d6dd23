/** Feature buffers that say where surfaces end. */
export interface Features {
  readonly width: number;
  readonly height: number;
  /** Normal x, y, z and distance, 4 numbers a pixel. */
  readonly feature: Float32Array;
  readonly albedo: Float32Array;
}

const KERNEL = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16];

/** How much two pixels belong to one surface, 0..1. */
function likeness({ feature, albedo }: Features, i: number, q: number, step: number): number {
  const f = i * 4;
  const h = q * 4;
  const a = feature[f] - feature[h];
  const b = feature[f + 1] - feature[h + 1];
  const c = feature[f + 2] - feature[h + 2];
  const dd = (feature[f + 3] - feature[h + 3]) / (0.005 * step * (0.3 + feature[f + 3]) + 0.02);
  const bare = albedo[i * 3 + 1] > 0.002 === albedo[q * 3 + 1] > 0.002 ? 0 : 8;
  return Math.exp(-((a * a + b * b + c * c) * 40 + dd * dd + bare));
}

const sumAt = (light: Float32Array, i: number): number => light[i * 3] + light[i * 3 + 1] + light[i * 3 + 2];

/** Mean of the neighbours on the same surface, the pixel itself left out; one value a pixel; the pixel's own where it has none. */
function surroundings(light: Float32Array, features: Features): Float32Array {
  const { width, height } = features;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let total = 0;
      let sum = 0;
      for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++) {
        for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++) {
          const q = v * width + u;
          if (q === i) continue;
          const w = likeness(features, i, q, 1);
          total += w * sumAt(light, q);
          sum += w;
        }
      }
      // A pixel on an edge shares its surfaces with nobody: there is nothing to hold it against.
      out[i] = sum > 0.3 ? total / sum : sumAt(light, i);
    }
  }
  return out;
}

/** Sparks, far brighter than all around them on the same surface, are brought down (as in Jensen, Christensen 1995, outlier suppression). */
function despike(light: Float32Array, features: Features): Float32Array {
  const around = surroundings(light, features);
  const out = light.slice();
  for (let i = 0; i < around.length; i++) {
    const own = sumAt(light, i);
    const limit = 2 * around[i] + 1e-5;
    if (own <= limit) continue;
    for (let c = 0; c < 3; c++) out[i * 3 + c] *= limit / own;
  }
  return out;
}

/**
 * Edge-avoiding à-trous wavelet denoising (Dammertz et al., HPG 2010) of RGB light, steered by normals, distance
 * and a smoothed version of the light itself, sparks taken out before.
 */
export function denoise(light: Float32Array, features: Features, passes: number, contrast: number): Float32Array {
  const { width, height } = features;
  let from = despike(despike(light, features), features);
  for (let pass = 0; pass < passes; pass++) {
    const step = 1 << pass;
    const to = new Float32Array(from.length);
    const steer = surroundings(from, features);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        let [r, g, b, sum] = [0, 0, 0, 0];
        for (let j = -2; j <= 2; j++) {
          const v = y + j * step;
          if (v < 0 || v >= height) continue;
          for (let k = -2; k <= 2; k++) {
            const u = x + k * step;
            if (u < 0 || u >= width) continue;
            const q = v * width + u;
            const dl = (steer[q] - steer[i]) / (contrast * (steer[q] + steer[i]) * 0.5 + 1e-5);
            const w = KERNEL[j + 2] * KERNEL[k + 2] * likeness(features, i, q, step) * Math.exp(-dl * dl);
            r += w * from[q * 3];
            g += w * from[q * 3 + 1];
            b += w * from[q * 3 + 2];
            sum += w;
          }
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

/**
 * Pixels that several surfaces share keep their own sum of samples, within what the denoised pixels about them span:
 * the product of mean light and mean reflectance would be wrong there.
 */
export function keepEdges(denoised: Float32Array, own: Float32Array, mixed: Uint8Array, width: number, height: number): void {
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mixed[i]) continue;
      for (let c = 0; c < 3; c++) {
        let low = Infinity;
        let high = -Infinity;
        for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++) {
          for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++) {
            const q = v * width + u;
            if (mixed[q]) continue;
            low = Math.min(low, denoised[q * 3 + c]);
            high = Math.max(high, denoised[q * 3 + c]);
          }
        }
        denoised[i * 3 + c] = low <= high ? Math.min(high, Math.max(low, own[i * 3 + c])) : own[i * 3 + c];
      }
    }
  }
}
