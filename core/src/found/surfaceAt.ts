import { closeMask } from '../image/closeMask';
import { createPlane, quantile, type Plane } from '../image/plane';
import { spreadMask } from '../image/spreadMask';
import { labelRegions } from '../window/labelRegions';
import { likeOnePaint, type PaintTolerance } from './onePaint';
import type { SeenView } from './straightView';

/** Guide pixels about a place that surely belong to its surface, and about it that tell how rough it looks. */
const SEED = 3;
const ABOUT = 12;
/** Places of a surface from which on it tells by itself what it looks like. */
const FEW = 500;
/** Tolerances of the smoothest and of the roughest surface, stops, and what of its spread they are. */
const SMOOTH: PaintTolerance = { light: 0.12, colour: 0.04 };
const ROUGH: PaintTolerance = { light: 0.4, colour: 0.1 };
const OF_SPREAD = 1.5;
/** Rounds of growing, how far each reaches in the side of what there is already, and at least, guide pixels; and by what share the last one grows less. */
const ROUNDS = 24;
const REACH = { share: 0.35, least: 4 } as const;
const DONE = 0.004;
/** Guide pixels of joints, grain and noise that a surface goes on across. */
const JOINTS = 1;

/** Places of a view within some pixels of one. */
function disc({ width, height }: SeenView, [cx, cy]: readonly [number, number], radius: number): number[] {
  const places: number[] = [];
  for (let y = Math.max(0, Math.ceil(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
    for (let x = Math.max(0, Math.ceil(cx - radius)); x <= Math.min(width - 1, cx + radius); x++) if ((x - cx) ** 2 + (y - cy) ** 2 <= radius * radius) places.push(y * width + x);
  }
  return places;
}

/** Half of the distance between quartiles. */
const spread = (values: Float32Array, of: readonly number[]): number => {
  const own = of.map((i) => values[i]);
  return (quantile(own, 0.75) - quantile(own, 0.25)) / 2;
};

/** How far a surface lies off what is smooth, by what is about one of its places in the light that shows that most calmly. */
function toleranceAbout(view: SeenView, about: readonly number[], takes: number): PaintTolerance {
  const clear = view.lights.filter(({ mute }) => about.filter((i) => mute[i] === 0).length > about.length / 2);
  const of = (pick: (light: SeenView['lights'][number]) => Float32Array): number => Math.min(...(clear.length > 0 ? clear : view.lights).map((light) => spread(pick(light), about)));
  const within = (v: number, key: 'light' | 'colour'): number => takes * Math.max(SMOOTH[key], Math.min(ROUGH[key], OF_SPREAD * v));
  return { light: within(of(({ y }) => y), 'light'), colour: within(Math.max(of(({ red }) => red), of(({ blue }) => blue)), 'colour'), spared: true };
}

/** Places no further than some pixels from those of a region, by squares. */
function around(region: readonly number[], { width, height }: SeenView, reach: number): number[] {
  const own = new Uint8Array(width * height);
  for (const i of region) own[i] = 1;
  const near = spreadMask(own, width, height, reach, 1);
  const places: number[] = [];
  for (let i = 0; i < near.length; i++) if (near[i] > 0) places.push(i);
  return places;
}

/** What hangs together with a seed among places that look like it, across joints. */
function hangingTogether({ width, height }: SeenView, places: readonly number[], seed: readonly number[]): number[] {
  const own = createPlane(width, height);
  for (const i of places) own.data[i] = 1;
  for (const i of seed) own.data[i] = 1;
  const [first] = seed;
  const region = labelRegions(closeMask(own, JOINTS)).find(({ pixels }) => pixels.includes(first));
  return region ? region.pixels : [...seed];
}

/**
 * The surface that a place belongs to: what hangs together with it and has, under each light by itself, light and colour that change smoothly from there on.
 * It grows from the place outward, and what is smooth is told anew each time, as far as it is known (after Besl and Jain, "Segmentation through variable-order
 * surface fitting", PAMI 1988); how rough the place looks tells how smooth the rest has to be.
 * @param view as the camera stood, see `unturnedView` @param at its pixel @param takes how unlike the place something may be that belongs to it; 1: as it tells by itself @returns 0 or 1; all 0 beyond the picture
 */
export function surfaceAt(view: SeenView, at: readonly [number, number], takes = 1): Plane {
  const found = createPlane(view.width, view.height);
  if (!(at[0] >= 0 && at[1] >= 0 && at[0] <= view.width - 1 && at[1] <= view.height - 1)) return found;
  const seed = disc(view, at, SEED);
  const about = disc(view, at, ABOUT);
  const tolerance = toleranceAbout(view, about, takes);
  let region = seed;
  for (let round = 0; round < ROUNDS; round++) {
    const within = around(region, view, Math.max(REACH.least, Math.round(REACH.share * Math.sqrt(region.length))));
    const like = likeOnePaint(view, region.length > FEW ? region : about, tolerance, within);
    const grown = hangingTogether(view, within.filter((i) => like[i] > 0), seed);
    const [before, now] = [region.length, grown.length];
    region = grown;
    if (round > 3 && Math.abs(now - before) < DONE * before) break;
  }
  for (const i of region) found.data[i] = 1;
  return found;
}
