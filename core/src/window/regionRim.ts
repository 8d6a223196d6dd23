import { quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FlashEvidence } from './flashEvidence';
import type { Region } from './labelRegions';

/** Guide pixels from the rim at which inside and outside are read. */
const INWARD = 2;
const OUTWARD = 3;
/** Guide pixels from the rim beyond which bars, cords and pipes have ended. */
const BEYOND = 9;
/** Stops within which two places show the same surface. */
const SAME = 0.3;
/** Fewer pairs than this say nothing of a side. */
const ENOUGH = 10;

/** Pairs of pixels across the rim of a region, for each of its four sides. */
export interface Rim {
  readonly sides: readonly { readonly inner: readonly number[]; readonly outer: readonly number[] }[];
}

/** @param width, height of the guide. */
export function rimOf(region: Region, width: number, height: number): Rim {
  const inside = new Uint8Array(width * height);
  for (const i of region.pixels) inside[i] = 1;
  const sides = [-1, 1, -width, width].map((by) => {
    const inner: number[] = [];
    const outer: number[] = [];
    for (const i of region.pixels) {
      const near = i - INWARD * by;
      const far = i + OUTWARD * by;
      if (far < 0 || far >= inside.length || near < 0 || near >= inside.length || inside[i + by] || !inside[near] || inside[far]) continue;
      // A row ends at the border.
      if (Math.abs(by) === 1 && Math.floor(far / width) !== Math.floor(i / width)) continue;
      inner.push(near);
      outer.push(far);
    }
    return { inner, outer };
  });
  return { sides };
}

/** How much more a place inside looks like outside, by flash, than one beyond the rim, to end a view where neither is known without flash. */
const LESS_OUTSIDE = 0.25;

/** Whether one side of a rim is told by flashes alone: what lies beyond it is as unknown without them, and looks less like outside. */
function endsByFlash({ inner, outer }: Rim['sides'][number], known: Uint8Array, outside: Plane): boolean {
  const pairs = outer.map((far, k) => [inner[k], far] as const).filter(([near, far]) => !known[near] && !known[far] && !Number.isNaN(outside.data[far]));
  return pairs.length > ENOUGH && pairs.length > outer.length / 2 && quantile(pairs.map(([near, far]) => outside.data[near] - outside.data[far]), 0.5) > LESS_OUTSIDE;
}

/**
 * How sharply a region ends, in stops: for each side the median step of brightness across its rim, in whichever frame
 * shows that side unclipped and sharpest, less what it falls by within, at the same distance; the least of the sides. Joinery
 * ends a view all round; light that fades along a wall or a ceiling leaves a side without end. Sides that flashes alone end count as sharp. Infinity where nothing can be read.
 * @param known 1 where a frame without flash shows the place; @param outside how much a place looks like outside, by flash.
 */
export function rimStep({ sides }: Rim, guides: GuideSet, known: Uint8Array, outside: Plane): number {
  let least = Infinity;
  for (const side of sides) {
    const { inner, outer } = side;
    if (endsByFlash(side, known, outside)) continue;
    let best = NaN;
    for (const { light, top, cover } of guides.frames.values()) {
      const steps: number[] = [];
      const within: number[] = [];
      let clipped = 0;
      const log = (i: number): number => Math.log2(Math.max(0.002, light.g[i]));
      for (let k = 0; k < inner.length; k++) {
        if (cover.data[outer[k]] === 0) continue;
        // As far inwards as the step goes outwards.
        const deeper = 2 * inner[k] - outer[k];
        if (deeper >= 0 && deeper < light.g.length && top.data[deeper] <= 0.97) within.push(log(deeper) - log(inner[k]));
        if (top.data[inner[k]] > 0.97) clipped++;
        else steps.push(Math.abs(log(inner[k]) - log(outer[k])));
      }
      const fades = within.length > ENOUGH ? Math.abs(quantile(within, 0.5)) : 0;
      if (steps.length > ENOUGH && clipped < 2 * steps.length) best = Math.max(Number.isNaN(best) ? 0 : best, quantile(steps, 0.5) - fades);
    }
    if (!Number.isNaN(best)) least = Math.min(least, best);
  }
  return least;
}

/**
 * Whether what lies in a region goes on past something thin, a cord or a pipe, in a region that is no view: on one side
 * every frame that is not clipped there shows about the same beyond. So does a bright part of a ceiling between hanging lamps.
 * @param fading 1 where regions lie that are no views.
 */
export function goesOn(region: Region, guides: GuideSet, fading: Uint8Array): boolean {
  const { width, height } = guides;
  const inside = new Uint8Array(width * height);
  for (const i of region.pixels) inside[i] = 1;
  return [[-1, 0], [1, 0], [0, -1], [0, 1]].some(([dx, dy]) => {
    const by = dx + dy * width;
    let length = 0;
    const pairs: [number, number][] = [];
    for (const i of region.pixels) {
      const [x, y] = [(i % width) + BEYOND * dx, Math.floor(i / width) + BEYOND * dy];
      if (x < 0 || y < 0 || x >= width || y >= height || inside[i + by]) continue;
      length++;
      if (inside[i - INWARD * by] && fading[y * width + x]) pairs.push([i - INWARD * by, y * width + x]);
    }
    return pairs.length > ENOUGH && pairs.length > length / 2 && alike(pairs, guides);
  });
}

/** Whether all frames that are not clipped at these pairs of places show about the same at both, and some frame tells. */
function alike(pairs: readonly (readonly [number, number])[], guides: GuideSet): boolean {
  let most = Infinity;
  for (const { light, top, cover } of guides.frames.values()) {
    const steps = pairs.filter(([near, far]) => top.data[near] <= 0.97 && cover.data[far] !== 0).map(([near, far]) => Math.abs(Math.log2(Math.max(0.002, light.g[near]) / Math.max(0.002, light.g[far]))));
    if (steps.length <= ENOUGH) continue;
    const step = quantile(steps, 0.5);
    most = most === Infinity ? step : Math.max(most, step);
  }
  return most < SAME;
}

/** Median of the known values of a plane at some pixels; NaN where too few are known. */
function medianAt(plane: Plane, pixels: readonly number[]): number {
  const known = pixels.map((i) => plane.data[i]).filter((v) => !Number.isNaN(v));
  return known.length > ENOUGH ? quantile(known, 0.5) : NaN;
}

/**
 * Flash light just inside a region as a share of that just outside: the median over the flashes that can tell. A pane
 * drops to little; sunlight or lamplight on a surface leaves it at about 1. NaN where no flash can tell.
 */
export function flashAcrossRim({ sides }: Rim, evidence: readonly FlashEvidence[]): number {
  const inner = sides.flatMap((side) => side.inner);
  const outer = sides.flatMap((side) => side.outer);
  const shares: number[] = [];
  for (const { added, doubt } of evidence) {
    // Where the frame is clipped inside, how much was added is not known.
    const readable = inner.filter((i) => !Number.isNaN(doubt.data[i]));
    if (readable.length < inner.length / 3) continue;
    const around = medianAt(added, outer);
    const within = medianAt(added, readable);
    const unsure = medianAt(doubt, readable);
    if (around > 2 * (unsure + 0.01)) shares.push(Math.max(0, within) / around);
  }
  return quantile(shares, 0.5);
}
