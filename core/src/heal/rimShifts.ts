import { distanceFrom } from '../image/distance';
import { createPlane } from '../image/plane';
import { boxAround, placesOf, type Box, type HealFeatures } from './healLook';

/** Where a place may be taken from: by so many pixels to the right and down; less cost is better. */
export interface Shift {
  readonly dx: number;
  readonly dy: number;
  readonly cost: number;
}

/** Pixels about a place that must fit what they are taken from. */
const RIM = 6;
/** Pixels of the rim, and of the place itself, that are looked at, at most: at a glance, and closely. */
const GLANCE = { rim: 70, inside: 40 };
const CLOSELY = { rim: 420, inside: 200 };
/** Shifts that are looked at closely. */
const PROMISING = 400;
/** Share of the rim that must be there where it is taken from. */
const ENOUGH = 0.75;
/** What a stop² costs by which the rim there is brighter or darker as a whole: it is made to fit. */
const BRIGHTER = 0.05;
/** Likewise of another colour. */
const OTHER_TINT = 0.6;
/** What it costs where the place there is rougher, or smoother, than the rim here. */
const ROUGHER = 0.03;
const SMOOTHER = 0.008;
const STILL = 0.02;
/** What it costs to come from as far away as the picture is wide. */
const FAR = 0.004;

const every = (places: readonly number[], most: number): Int32Array => {
  const step = Math.max(1, places.length / most);
  return Int32Array.from({ length: Math.min(places.length, Math.floor(places.length / step)) }, (_, k) => places[Math.floor(k * step)]);
};

/** What is compared for every shift. */
class RimComparison {
  private readonly rim: Int32Array;
  private readonly inside: Int32Array;
  private readonly places: Int32Array;
  private readonly weights: Float32Array;
  private readonly rimRough: number;
  readonly box: Box;

  constructor(private readonly features: HealFeatures, private readonly hole: Uint8Array, private readonly open: Uint8Array, most: typeof CLOSELY) {
    const { width, height, rough } = features;
    const distance = distanceFrom(createPlane(width, height, Float32Array.from(hole))).data;
    this.rim = every(placesOf(Uint8Array.from(distance, (d, i) => (d > 0 && d <= RIM && open[i] ? 1 : 0))), most.rim);
    const places = placesOf(hole);
    this.places = Int32Array.from(places);
    this.inside = every(places, most.inside);
    this.weights = Float32Array.from(this.rim, (i) => 1 / (1 + distance[i]));
    // Next to the place itself, roughness is that of its edge.
    const calm = this.rim.filter((i) => distance[i] > 3);
    this.rimRough = calm.reduce((sum, i) => sum + rough[i], 0) / Math.max(1, calm.length);
    this.box = boxAround(places, width);
  }

  get isEmpty(): boolean {
    return this.rim.length === 0 || this.inside.length === 0;
  }

  /** How badly a shift fits; Infinity: it cannot be taken. */
  costOf(dx: number, dy: number): number {
    const { rim, inside, weights, open, hole, features: { width, height, logs: [lr, lg, lb], rough } } = this;
    const { left, right, top, bottom } = this.box;
    if (left + dx < 0 || right + dx >= width || top + dy < 0 || bottom + dy >= height) return Infinity;
    const off = dy * width + dx;
    let roughness = 0;
    for (let k = 0; k < inside.length; k++) {
      const i = inside[k] + off;
      if (!open[i] || hole[i]) return Infinity;
      roughness += rough[i];
    }
    let n = 0, all = 0, sr = 0, sg = 0, sb = 0, q = 0;
    for (let k = 0; k < rim.length; k++) {
      const i = rim[k];
      const w = weights[k];
      all += w;
      const x = (i % width) + dx;
      const j = i + off;
      if (x < 0 || x >= width || j < 0 || j >= open.length || !open[j]) continue;
      const r = lr[j] - lr[i];
      const g = lg[j] - lg[i];
      const b = lb[j] - lb[i];
      n += w;
      sr += w * r;
      sg += w * g;
      sb += w * b;
      q += w * (r * r + g * g + b * b);
    }
    if (n < ENOUGH * all) return Infinity;
    const bright = ((sr + sg + sb) / (3 * n)) ** 2;
    const tint = (sr * sr + sg * sg + sb * sb) / (n * n) - 3 * bright;
    const t = Math.log2((roughness / inside.length + STILL) / (this.rimRough + STILL));
    return q / n - 3 * bright * (1 - BRIGHTER) - tint * (1 - OTHER_TINT) + (t > 0 ? ROUGHER : SMOOTHER) * t * t + (FAR * Math.hypot(dx, dy)) / width;
  }

  /** Whether all of the place can be taken from there. */
  isWhole(dx: number, dy: number): boolean {
    const { hole, open, places, features: { width, height } } = this;
    for (let k = 0; k < places.length; k++) {
      const x = (places[k] % width) + dx;
      const y = Math.floor(places[k] / width) + dy;
      if (x < 0 || y < 0 || x >= width || y >= height || !open[y * width + x] || hole[y * width + x]) return false;
    }
    return true;
  }
}

/**
 * Where a whole place is best taken from: shifts by which its rim fits what lies about that other place, brightness as a whole aside, and by which
 * the other place is about as rough as the rim here.
 * @returns the best, no two near each other; none where nothing is large enough.
 */
export function rimShifts(features: HealFeatures, hole: Uint8Array, open: Uint8Array, count: number): Shift[] {
  const glance = new RimComparison(features, hole, open, GLANCE);
  if (glance.isEmpty) return [];
  const rim = new RimComparison(features, hole, open, CLOSELY);
  const { width, height } = features;
  const seen: Shift[] = [];
  const { left, right, top, bottom } = rim.box;
  for (let dy = -top; dy + bottom < height; dy++) {
    for (let dx = -left; dx + right < width; dx++) {
      const cost = glance.costOf(dx, dy);
      if (cost < Infinity) seen.push({ dx, dy, cost });
    }
  }
  const byCost = (a: Shift, b: Shift): number => a.cost - b.cost;
  const costs = seen.sort(byCost).slice(0, PROMISING).map((shift) => ({ ...shift, cost: rim.costOf(shift.dx, shift.dy) })).filter(({ cost }) => cost < Infinity).sort(byCost);
  const apart = Math.max(3, 0.5 * Math.min(right - left, bottom - top));
  const best: Shift[] = [];
  for (const shift of costs) {
    if (best.length === count) break;
    if (best.every(({ dx, dy }) => Math.hypot(dx - shift.dx, dy - shift.dy) >= apart) && rim.isWhole(shift.dx, shift.dy)) best.push(shift);
  }
  return best;
}

/** The same shifts on a grid twice as fine: each where it fits best, within a few pixels. */
export function finerShifts(features: HealFeatures, hole: Uint8Array, open: Uint8Array, shifts: readonly Shift[]): Shift[] {
  const rim = new RimComparison(features, hole, open, CLOSELY);
  return shifts.flatMap((coarse): Shift[] => {
    let best: Shift | null = null;
    for (let dy = coarse.dy * 2 - 2; dy <= coarse.dy * 2 + 2; dy++) {
      for (let dx = coarse.dx * 2 - 2; dx <= coarse.dx * 2 + 2; dx++) {
        const cost = rim.costOf(dx, dy);
        if ((!best || cost < best.cost) && cost < Infinity && rim.isWhole(dx, dy)) best = { dx, dy, cost };
      }
    }
    return best ? [best] : [];
  });
}
