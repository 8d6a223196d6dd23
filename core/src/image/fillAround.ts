import { createLight, createPlane, type Light, type Plane } from './plane';

/** Rounds of smoothing that a level gets once it is filled: enough to take the steps of the coarser one away. */
const ROUNDS = 6;

/** Half of a level: means of what is known, weighted, and how much is known there. */
function pulled(light: Light, weight: Plane): { light: Light; weight: Plane } {
  const [width, height] = [Math.ceil(light.width / 2), Math.ceil(light.height / 2)];
  const half = createLight(width, height);
  const known = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const k = y * width + x;
      let [w, r, g, b] = [0, 0, 0, 0];
      for (let v = 2 * y; v < Math.min(2 * y + 2, light.height); v++) {
        for (let u = 2 * x; u < Math.min(2 * x + 2, light.width); u++) {
          const i = v * light.width + u;
          const share = weight.data[i];
          w += share;
          r += share * light.r[i];
          g += share * light.g[i];
          b += share * light.b[i];
        }
      }
      if (w === 0) continue;
      half.r[k] = r / w;
      half.g[k] = g / w;
      half.b[k] = b / w;
      known.data[k] = Math.min(1, w);
    }
  }
  return { light: half, weight: known };
}

/** Moves what is not known towards the mean of its neighbours: the membrane that spans it. */
function relaxed(channel: Float32Array, weight: Plane): void {
  const { width, height, data } = weight;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (data[i] >= 1) continue;
      const mean = (channel[x > 0 ? i - 1 : i] + channel[x < width - 1 ? i + 1 : i] + channel[y > 0 ? i - width : i] + channel[y < height - 1 ? i + width : i]) / 4;
      channel[i] += (1 - data[i]) * (mean - channel[i]);
    }
  }
}

/**
 * Carries what is known of a picture smoothly into what is not: an approximate membrane (Farbman et al., "Coordinates for Instant
 * Image Cloning", 2009, say why that is what one wants) by pulling means up a pyramid and pushing them down again (Gortler et al.,
 * "The Lumigraph", 1996), smoothed on every level.
 * @param known 1 where the light counts, 0 where it is to be filled. @returns the same where it is known; black everywhere if nothing is.
 */
export function fillAround(light: Light, known: Plane): Light {
  const out: Light = { ...light, r: light.r.slice(), g: light.g.slice(), b: light.b.slice() };
  if (light.width === 1 && light.height === 1) {
    if (known.data[0] === 0) for (const channel of [out.r, out.g, out.b]) channel[0] = 0;
    return out;
  }
  const half = pulled(light, known);
  // A weight of a part of a pixel is still the best that is known of that part.
  const coarse = fillAround(half.light, half.weight);
  for (const [channel, small] of [[out.r, coarse.r], [out.g, coarse.g], [out.b, coarse.b]] as const) {
    for (let i = 0; i < channel.length; i++) {
      if (known.data[i] >= 1) continue;
      const at = (Math.floor(i / light.width) >> 1) * coarse.width + ((i % light.width) >> 1);
      channel[i] = known.data[i] * channel[i] + (1 - known.data[i]) * small[at];
    }
    for (let round = 0; round < ROUNDS; round++) relaxed(channel, known);
  }
  return out;
}
