import { boxBlur } from '../image/boxBlur';
import { log2Of, log2Plane } from '../image/log2Of';
import { luminance, quantile, type Light, type Plane } from '../image/plane';
import type { Triple } from './primaries';

/** Half-width of the chroma histogram, stops, and its bin. */
const RANGE = 1.2;
const BIN = 0.04;
/** Of so many places one is looked at for how bright the light ones are. */
const SAMPLED = 5;
const BINS = Math.round((2 * RANGE) / BIN) + 1;

/**
 * What the room's white things reflect, as red/green and blue/green in stops: the strongest cluster of chroma among
 * bright, calm, preferably high-up places (ceilings and upper walls are white more often than not), weighed
 * against how far from grey the camera already put it. A grey-world estimate (Buchsbaum 1980) restricted to likely whites.
 * @param weight per guide pixel, 0 leaves a pixel out. @returns gains on working red, green, blue (green 1) that make it neutral.
 */
export function estimateNeutral(light: Light, weight: Plane): Triple {
  const { width: w, height: h } = light;
  const y = luminance(light);
  const some = new Float32Array(Math.ceil(y.data.length / SAMPLED));
  let n = 0;
  for (let i = 0; i < y.data.length; i += SAMPLED) if (weight.data[i] > 0.3) some[n++] = y.data[i];
  if (n < 200) return [1, 1, 1];
  const candidates = some.subarray(0, n);
  const low = quantile(candidates, 0.45);
  const high = quantile(candidates, 0.97);
  const log = log2Plane(y, 1e-4);
  const smooth = boxBlur(log, 2);
  const histogram = new Float64Array(BINS * BINS);
  const { r, g, b: blue } = light;
  const [weights, value, calmness] = [weight.data, y.data, log.data];
  const samples: Samples = { share: new Float32Array(value.length), rg: new Float32Array(value.length), bg: new Float32Array(value.length), count: 0 };
  for (let i = 0; i < value.length; i++) {
    if (weights[i] < 0.1 || value[i] < low || value[i] > high) continue;
    const off = (calmness[i] - smooth.data[i]) / 0.04;
    const upper = 1.6 - 1.3 * (Math.floor(i / w) / h);
    const share = ((weights[i] * upper) / (1 + off * off)) * Math.sqrt(value[i] / high);
    const green = log2Of(Math.max(1e-5, g[i]));
    const rg = log2Of(Math.max(1e-5, r[i])) - green;
    const bg = log2Of(Math.max(1e-5, blue[i])) - green;
    if (i % 2 === 0) {
      samples.share[samples.count] = share;
      samples.rg[samples.count] = rg;
      samples.bg[samples.count++] = bg;
    }
    const a = Math.round((rg + RANGE) / BIN);
    const b = Math.round((bg + RANGE) / BIN);
    if (a < 0 || b < 0 || a >= BINS || b >= BINS) continue;
    histogram[a * BINS + b] += share * Math.exp(-(rg * rg + bg * bg) / (2 * 0.45 ** 2));
  }
  // A picture without any light, or all of one strong colour, has nothing that could be white.
  if (!histogram.some((v) => v > 0)) return [1, 1, 1];
  const [rg, bg] = refine(summit(histogram), samples);
  return [2 ** -rg, 1, 2 ** -bg];
}

/** Chroma, stops, of some places that may be white, and how much each counts. */
interface Samples {
  readonly share: Float32Array;
  readonly rg: Float32Array;
  readonly bg: Float32Array;
  count: number;
}

/** The fullest 5x5 neighbourhood of the histogram. */
function summit(histogram: Float64Array): [number, number] {
  let best = -1;
  let at: [number, number] = [0, 0];
  for (let a = 2; a < BINS - 2; a++) {
    for (let b = 2; b < BINS - 2; b++) {
      let sum = 0;
      for (let i = -2; i <= 2; i++) for (let j = -2; j <= 2; j++) sum += histogram[(a + i) * BINS + b + j];
      if (sum > best) {
        best = sum;
        at = [a * BIN - RANGE, b * BIN - RANGE];
      }
    }
  }
  return at;
}

/** Mean shift (Comaniciu, Meer 2002) from the summit. */
function refine(start: [number, number], { share, rg: red, bg: blue, count }: Samples): [number, number] {
  let [rg, bg] = start;
  for (let round = 0; round < 4; round++) {
    let sum = 0;
    let a = 0;
    let b = 0;
    for (let i = 0; i < count; i++) {
      const p = red[i] - rg;
      const q = blue[i] - bg;
      const w = share[i] * Math.exp(-(p * p + q * q) / (2 * 0.08 ** 2));
      sum += w;
      a += w * red[i];
      b += w * blue[i];
    }
    if (sum === 0) break;
    rg = a / sum;
    bg = b / sum;
  }
  return [rg, bg];
}
