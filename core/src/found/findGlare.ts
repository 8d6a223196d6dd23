import { createPlane, quantile } from '../image/plane';
import { flashLight, type FlashLight } from '../light/flashLight';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';
import { labelRegions, type Region } from '../window/labelRegions';

/** A flash that is seen in its own frame, directly or mirrored. */
export interface Glare {
  readonly frame: FrameId;
  /** How many places. */
  readonly count: number;
  /** Share of the picture, 0..1. */
  readonly share: number;
  /** Middle of the largest, guide pixels. */
  readonly where: readonly [number, number];
  /** Each of them: its pixels at half the guide's size, row by row, the largest first. */
  readonly places: readonly (readonly number[])[];
}

/** Linear light below which nothing is compared. */
const LEAST = 0.002;
/** Stops by which a clipped place must outshine its rim beyond what the surface's own brightness there explains. */
const OUTSHINES = 0.8;
/** Distance of the rim, half-guide pixels: beyond the glow of a highlight. */
const RIM = 3;
/** Pixels at half the guide's size: smaller is a glint, larger is a lit surface close to the flash. */
const SMALLEST = 5;
const LARGEST_SHARE = 0.04;

const logOf = (light: FlashLight): Float32Array => light.g.map((g, i) => Math.log2(0.2627 * light.r[i] + 0.678 * g + 0.0593 * light.b[i]));

/** Places a little way out from a region, all round. */
function rimAround(region: Region, width: number, height: number): number[] {
  const inside = new Set(region.pixels);
  const rim = new Set<number>();
  for (const i of region.pixels) {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (const [dx, dy] of [[RIM, 0], [-RIM, 0], [0, RIM], [0, -RIM]]) {
      if (x + dx < 0 || y + dy < 0 || x + dx >= width || y + dy >= height) continue;
      const at = i + dy * width + dx;
      if (!inside.has(at)) rim.add(at);
    }
  }
  return [...rim];
}

const median = (log: Float32Array, places: readonly number[]): number => {
  const known = places.map((i) => log[i]).filter((v) => !Number.isNaN(v));
  return known.length > 0 ? quantile(known, 0.5) : NaN;
};

/**
 * Flash heads in the picture, and their mirror images in glass, looking glasses, screens and varnish: clipped places of a
 * flash frame that stand out from what is about them by more than the same places do under every other light of the
 * shot. (A highlight moves with its light, a white surface does not.)
 * @param stops exposure of each frame; @param flashes frames by flash.
 * @returns at most one entry a frame, the largest first.
 */
export function findGlare(guides: GuideSet, stops: Readonly<Record<FrameId, number>>, flashes: readonly FrameId[]): Glare[] {
  const lights = flashes.map((id) => flashLight(guides, id, stops[id], LEAST));
  if (lights.length === 0) return [];
  const { width, height } = lights[0];
  const logs = lights.map(logOf);
  const room = new Float32Array(width * height);
  for (let i = 0; i < room.length; i++) {
    const at = 2 * Math.floor(i / width) * guides.width + 2 * (i % width);
    room[i] = Math.log2(Math.max(1e-4, 0.2627 * guides.merge.r[at] + 0.678 * guides.merge.g[at] + 0.0593 * guides.merge.b[at]));
  }
  const out: Glare[] = [];
  flashes.forEach((frame, k) => {
    const clipped = createPlane(width, height, Float32Array.from(lights[k].clipped));
    const places = labelRegions(clipped).filter((region) => {
      if (region.pixels.length < SMALLEST || region.pixels.length > LARGEST_SHARE * clipped.data.length) return false;
      const rim = rimAround(region, width, height);
      const own = median(logs[k], region.pixels) - median(logs[k], rim);
      return [room, ...logs.filter((_, j) => j !== k)].every((other) => !(own - (median(other, region.pixels) - median(other, rim)) < OUTSHINES)) && own > OUTSHINES;
    }).sort((a, b) => b.pixels.length - a.pixels.length);
    if (places.length === 0) return;
    out.push({ frame, count: places.length, share: places.reduce((sum, r) => sum + r.pixels.length, 0) / clipped.data.length, where: [places[0].left + places[0].right, places[0].top + places[0].bottom], places: places.map((r) => r.pixels) });
  });
  return out.sort((a, b) => b.share - a.share);
}
