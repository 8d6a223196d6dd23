import { boxBlur } from '../image/boxBlur';
import { luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import type { Triple } from './primaries';

/** Half-width of the chroma histogram, stops, and its bin. */
const RANGE = 1.2;
const BIN = 0.04;
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
  const candidates: number[] = [];
  for (let i = 0; i < y.data.length; i += 5) if (weight.data[i] > 0.3) candidates.push(y.data[i]);
  if (candidates.length < 200) return [1, 1, 1];
  const low = quantile(candidates, 0.45);
  const high = quantile(candidates, 0.97);
  const log = mapPlane(y, (v) => Math.log2(Math.max(1e-4, v)));
  const smooth = boxBlur(log, 2);
  const histogram = new Float64Array(BINS * BINS);
  const chroma = (i: number): [number, number] => [Math.log2(Math.max(1e-5, light.r[i]) / Math.max(1e-5, light.g[i])), Math.log2(Math.max(1e-5, light.b[i]) / Math.max(1e-5, light.g[i]))];
  const share = new Float32Array(y.data.length);
  for (let i = 0; i < y.data.length; i++) {
    if (weight.data[i] < 0.1 || y.data[i] < low || y.data[i] > high) continue;
    const calm = 1 / (1 + (Math.abs(log.data[i] - smooth.data[i]) / 0.04) ** 2);
    const upper = 1.6 - 1.3 * (Math.floor(i / w) / h);
    share[i] = weight.data[i] * calm * upper * Math.sqrt(y.data[i] / high);
    const [rg, bg] = chroma(i);
    const a = Math.round((rg + RANGE) / BIN);
    const b = Math.round((bg + RANGE) / BIN);
    if (a < 0 || b < 0 || a >= BINS || b >= BINS) continue;
    histogram[a * BINS + b] += share[i] * Math.exp(-(rg * rg + bg * bg) / (2 * 0.45 ** 2));
  }
  // A picture without any light, or all of one strong colour, has nothing that could be white.
  if (!histogram.some((v) => v > 0)) return [1, 1, 1];
  const [rg, bg] = refine(summit(histogram), chroma, share);
  return [2 ** -rg, 1, 2 ** -bg];
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
function refine(start: [number, number], chroma: (i: number) => [number, number], share: Float32Array): [number, number] {
  let [rg, bg] = start;
  for (let round = 0; round < 4; round++) {
    let sum = 0;
    let a = 0;
    let b = 0;
    for (let i = 0; i < share.length; i += 2) {
      if (share[i] === 0) continue;
      const [p, q] = chroma(i);
      const w = share[i] * Math.exp(-((p - rg) ** 2 + (q - bg) ** 2) / (2 * 0.08 ** 2));
      sum += w;
      a += w * p;
      b += w * q;
    }
    if (sum === 0) break;
    rg = a / sum;
    bg = b / sum;
  }
  return [rg, bg];
}
