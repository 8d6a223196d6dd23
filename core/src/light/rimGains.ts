import { boxBlur } from '../image/boxBlur';
import { fillAround } from '../image/fillAround';
import { createLight, createPlane, mapPlane, quantile, type Light, type Plane } from '../image/plane';

/** Coverage up to which a place lies around a mask. */
const AROUND = 0.004;
/** Pixels about a mask whose light tells by how much another light differs there. */
export const RIM = 8;
/** Pixels within which ratios are averaged: texture that lies a fraction of a pixel apart is not light. */
const CALM = 1;
/** Linear light below which a ratio is noise. */
const DARK = 0.004;
/** Stops off the rim's usual ratio from which on a place shows something else, not another light. */
const OTHER = 0.7;
/** Stops that a light is changed by at most: beyond, it is another thing. */
const MOST = 4;

/** The pixels that lie around a mask, as far as its rim goes. */
function rimOf(coverage: Plane): number[] {
  const near = boxBlur(mapPlane(coverage, (v) => (v > AROUND ? 1 : 0)), RIM).data;
  const places: number[] = [];
  for (let i = 0; i < near.length; i++) if (coverage.data[i] <= AROUND && near[i] > 0) places.push(i);
  return places;
}

/** log2 ratios of two lights on a rim, a list a colour, and how much each place of it tells, 0..1: both lights are there, and they differ as they do elsewhere on it. */
interface RimRatios {
  readonly places: readonly number[];
  readonly logs: readonly Float32Array[];
  readonly trust: Float32Array;
}

/** @param brightest light of `own` from which on it is clipped and tells nothing */
function rimRatios(below: Light, own: Light, rim: readonly number[], brightest: number): RimRatios {
  const places = rim.filter((i) => below.r[i] > DARK && below.g[i] > DARK && below.b[i] > DARK && own.r[i] > DARK && own.g[i] > DARK && own.b[i] > DARK && own.r[i] < brightest && own.g[i] < brightest && own.b[i] < brightest);
  const logs = [[below.r, own.r], [below.g, own.g], [below.b, own.b]].map(([to, from]) => Float32Array.from(places, (i) => Math.max(-MOST, Math.min(MOST, Math.log2(to[i] / from[i])))));
  if (places.length === 0) return { places, logs, trust: new Float32Array(0) };
  // First against the usual ratio, then against how it falls over the place: light that falls otherwise is light, too.
  const usual = logs.map((log) => quantile(log, 0.5));
  const first = agreeing(logs, (c) => usual[c]);
  const slopes = logs.map((log) => slopeOf(places, log, first, below.width));
  return { places, logs, trust: agreeing(logs, (c, k) => slopes[c][0] + slopes[c][1] * (places[k] % below.width) + slopes[c][2] * Math.floor(places[k] / below.width)) };
}

/** How near each place's ratios are to those that are expected, the least of the colours. */
function agreeing(logs: readonly Float32Array[], expected: (colour: number, place: number) => number): Float32Array {
  return logs[0].map((_, k) => {
    let trust = 1;
    for (let c = 0; c < logs.length; c++) {
      const off = (logs[c][k] - expected(c, k)) / OTHER;
      trust = Math.min(trust, 1 / (1 + off * off * off * off));
    }
    return trust;
  });
}

/** value + across x + down y of the plane that lies nearest to some values, by weighted least squares about their middle. */
function slopeOf(places: readonly number[], values: Float32Array, weights: Float32Array, width: number): readonly [number, number, number] {
  let [w, wx, wy, wv] = [1e-6, 0, 0, 0];
  for (let k = 0; k < places.length; k++) {
    w += weights[k];
    wx += weights[k] * (places[k] % width);
    wy += weights[k] * Math.floor(places[k] / width);
    wv += weights[k] * values[k];
  }
  const [mx, my, mv] = [wx / w, wy / w, wv / w];
  // A little that keeps a slope from being made of nothing.
  let [xx, xy, yy, xv, yv] = [w, 0, w, 0, 0];
  for (let k = 0; k < places.length; k++) {
    const [x, y, v] = [(places[k] % width) - mx, Math.floor(places[k] / width) - my, values[k] - mv];
    xx += weights[k] * x * x;
    xy += weights[k] * x * y;
    yy += weights[k] * y * y;
    xv += weights[k] * x * v;
    yv += weights[k] * y * v;
  }
  const det = xx * yy - xy * xy;
  const [across, down] = [(yy * xv - xy * yv) / det, (xx * yv - xy * xv) / det];
  return [mv - across * mx - down * my, across, down];
}

/**
 * By how much the light of one picture has to be changed, colour by colour, for it to join another under a mask without a step:
 * the ratio of both on the rim, carried smoothly into the mask. In log light this is what a gradient-domain insertion adds to its source
 * (Pérez, Gangnet and Blake, "Poisson Image Editing", 2003), by a membrane (Farbman et al., "Coordinates for Instant Image Cloning", 2009).
 * @param below what lies around; @param own what is to be inserted, linear light of one size; @param coverage 0..1.
 * @param brightest light of `own` from which on it is clipped and tells nothing.
 * @returns gains, 1 where nothing of the rim tells.
 */
export function rimGains(below: Light, own: Light, coverage: Plane, brightest: number): Light {
  const { width, height } = coverage;
  const { places, logs, trust } = rimRatios(below, own, rimOf(coverage), brightest);
  const gains = createLight(width, height);
  const channels = [gains.r, gains.g, gains.b];
  if (places.length === 0) {
    for (const channel of channels) channel.fill(1);
    return gains;
  }
  const known = createPlane(width, height);
  places.forEach((i, k) => (known.data[i] = trust[k]));
  // Ratios are averaged by how much they tell.
  const weight = boxBlur(known, CALM).data;
  const sums = createPlane(width, height);
  channels.forEach((channel, c) => {
    places.forEach((i, k) => (sums.data[i] = logs[c][k] * trust[k]));
    const calm = boxBlur(sums, CALM).data;
    for (const i of places) channel[i] = weight[i] > 0 ? calm[i] / weight[i] : 0;
  });
  const filled = fillAround(gains, known);
  for (const channel of [filled.r, filled.g, filled.b]) for (let i = 0; i < channel.length; i++) channel[i] = 2 ** channel[i];
  return filled;
}
