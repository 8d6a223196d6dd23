import { boxBlur } from '../image/boxBlur';
import { fillAround } from '../image/fillAround';
import { createLight, createPlane, mapPlane, quantile, type Light, type Plane } from '../image/plane';

/** Coverage up to which a place lies around a mask. */
const AROUND = 0.004;
/** Pixels about a mask whose light tells by how much another light differs there. */
export const RIM = 8;
/** Pixels within which ratios are averaged: texture that lies a fraction of a pixel apart is not light. */
const CALM = 2;
/** Linear light below which a ratio is noise. */
const DARK = 0.004;
/** Stops off the rim's usual ratio from which on a place shows something else, not another light. */
const OTHER = 0.7;
/** Stops that a light is changed by at most: beyond, it is another thing. */
const MOST = 4;

const CHANNELS = ['r', 'g', 'b'] as const;

/** How much each place of the rim tells, 0..1: it lies near the mask, both lights are there, and they differ as they do elsewhere on the rim. */
function trusted(logs: readonly Float32Array[], coverage: Plane, told: (i: number) => boolean): Plane {
  const { width, height } = coverage;
  const near = boxBlur(mapPlane(coverage, (v) => (v > AROUND ? 1 : 0)), RIM).data;
  const trust = createPlane(width, height);
  for (let i = 0; i < near.length; i++) if (coverage.data[i] <= AROUND && near[i] > 0 && told(i)) trust.data[i] = 1;
  const places = [...trust.data.keys()].filter((i) => trust.data[i] === 1);
  if (places.length === 0) return trust;
  for (const log of logs) {
    const usual = quantile(places.map((i) => log[i]), 0.5);
    for (const i of places) trust.data[i] = Math.min(trust.data[i], 1 / (1 + ((log[i] - usual) / OTHER) ** 4));
  }
  return trust;
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
  const logs = CHANNELS.map((c) => below[c].map((v, i) => Math.max(-MOST, Math.min(MOST, Math.log2(Math.max(DARK, v) / Math.max(DARK, own[c][i]))))));
  const told = (i: number): boolean => CHANNELS.every((c) => below[c][i] > DARK && own[c][i] > DARK && own[c][i] < brightest);
  const trust = trusted(logs, coverage, told);
  const gains = createLight(width, height);
  if (trust.data.every((v) => v === 0)) {
    for (const c of CHANNELS) gains[c].fill(1);
    return gains;
  }
  // Ratios are averaged by how much they tell; what was averaged is known wherever some of it was.
  const weight = boxBlur(trust, CALM);
  CHANNELS.forEach((c, k) => {
    const sums = boxBlur(createPlane(width, height, logs[k].map((v, i) => v * trust.data[i])), CALM).data;
    for (let i = 0; i < sums.length; i++) gains[c][i] = trust.data[i] > 0 ? sums[i] / weight.data[i] : 0;
  });
  const filled = fillAround(gains, trust);
  for (const c of CHANNELS) for (let i = 0; i < filled[c].length; i++) filled[c][i] = 2 ** filled[c][i];
  return filled;
}
