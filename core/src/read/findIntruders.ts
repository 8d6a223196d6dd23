import { boxBlur } from '../image/boxBlur';
import { createPlane, quantile, type Light, type Plane } from '../image/plane';
import { flashLight, type FlashLight } from '../light/flashLight';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '../mix/mix';
import { labelRegions } from '../window/labelRegions';
import type { Change } from './findChanges';

/** Linear light of a flash below which its colour is noise. */
const LEAST = 0.006;
/** Distance of log2 chromaticities from which on two flashes show two things; tinted light of walls stays below. */
const OTHER = 0.6;
/** Share of the room's own light below which something stands before it; half-guide light that is told from noise. */
const COVERED = 0.8;
const UNCOVERED = 1.3;
const TOLD = 0.004;
/** Share of the picture below which a place is nothing to speak of. */
const THING = 0.0012;
/** How much worse a frame must agree with the room's own light in structure to be the one that has the thing. */
const WORSE = 0.08;
/** Half-guide pixels round a place that its outline takes. */
const RIM = 3;

/** How far apart the colours of two flashes' light are, whatever the flashes' own colours; NaN where one is not known. */
function chromaticDistance(a: FlashLight, b: FlashLight): Float32Array {
  const n = a.r.length;
  const u = new Float32Array(n);
  const v = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const known = !a.clipped[i] && !b.clipped[i];
    u[i] = known ? Math.log2((a.r[i] * b.g[i]) / (a.g[i] * b.r[i])) : NaN;
    v[i] = known ? Math.log2((a.b[i] * b.g[i]) / (a.g[i] * b.b[i])) : NaN;
  }
  const middle = (values: Float32Array): number => quantile(values.filter((x, i) => i % 3 === 0 && !Number.isNaN(x)), 0.5);
  const [mu, mv] = [middle(u), middle(v)];
  for (let i = 0; i < n; i++) u[i] = Math.hypot(u[i] - mu, v[i] - mv);
  return u;
}

/** Where a frame has less light than the room alone gives in its exposure, and another flash frame has not: light only adds. */
function isCovered(own: Plane, others: readonly Plane[], room: Plane, share: number, shares: readonly number[], i: number): boolean {
  const expected = share * 2 ** room.data[i];
  if (!(expected >= TOLD && 2 ** own.data[i] < COVERED * expected)) return false;
  return others.some((other, k) => 2 ** other.data[i] > UNCOVERED * shares[k] * 2 ** room.data[i]);
}

/** Correlation of the gradients of two log luminances over some places: 1 the same structure, 0 something else. */
function sameStructure(a: Plane, b: Plane, places: readonly number[]): number {
  const { width } = a;
  let [ab, aa, bb] = [0, 0, 0];
  for (const i of places) {
    for (const by of [1, width]) {
      const da = a.data[i + by] - a.data[i - by];
      const db = b.data[i + by] - b.data[i - by];
      if (Number.isNaN(da + db)) continue;
      ab += da * db;
      aa += da * da;
      bb += db * db;
    }
  }
  return ab / Math.max(1e-9, Math.sqrt(aa * bb));
}

/** log2 luminance at half the guide's size; NaN where the frame does not have the place. */
function logPlane(light: Light, cover: Plane | null, guides: GuideSet): Plane {
  const [width, height] = [guides.width >> 1, guides.height >> 1];
  const out = new Float32Array(width * height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const i = 2 * y * guides.width + 2 * x;
      let sum = 0;
      for (const at of [i, i + 1, i + guides.width, i + guides.width + 1]) sum += cover?.data[at] === 0 ? NaN : 0.2627 * light.r[at] + 0.678 * light.g[at] + 0.0593 * light.b[at];
      out[k] = Math.log2(Math.max(1e-4, sum / 4));
    }
  }
  return createPlane(width, height, out);
}

/** The places of a region and a little round it that lie within the picture. */
function withRim(pixels: readonly number[], { width, height }: { width: number; height: number }): number[] {
  const mask = createPlane(width, height);
  for (const i of pixels) mask.data[i] = 1;
  const grown = boxBlur(mask, RIM).data;
  const places: number[] = [];
  for (let i = width; i < grown.length - width; i++) if (grown[i] > 1e-6 && i % width > 0 && i % width < width - 1) places.push(i);
  return places;
}

/**
 * The person with the flash, a stand, a prop: what one flash frame shows and the others do not. The light of each flash
 * alone has the colour of the surfaces that it falls on, wherever it comes from and whatever it leaves in shadow; where one
 * flash frame has another colour than all others, and does not have the structure that the room's own light shows there,
 * something stands before it. (Colour constancy of diffuse reflection under a single light: Finlayson, Drew, Funt 1994.)
 * @param stops exposure of each frame; @param flashes frames by flash, two at least; @param ignore where not to look (the view), guide size.
 * @returns at most one change a frame, the largest first; none for a single flash, with which there is nothing to compare.
 */
export function findIntruders(guides: GuideSet, stops: Readonly<Record<FrameId, number>>, flashes: readonly FrameId[], ignore: Plane): Change[] {
  if (flashes.length < 2) return [];
  const lights = flashes.map((id) => flashLight(guides, id, stops[id], LEAST));
  const { width, height } = lights[0];
  const room = logPlane(guides.merge, null, guides);
  const logs = flashes.map((id) => logPlane(guides.frames.get(id)!.light, guides.frames.get(id)!.cover, guides));
  const shares = flashes.map((id) => 2 ** stops[id]);
  const distances = new Map<string, Float32Array>();
  const between = (a: number, b: number): Float32Array => {
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    let found = distances.get(key);
    if (!found) distances.set(key, (found = chromaticDistance(lights[a], lights[b])));
    return found;
  };
  const changes: Change[] = [];
  flashes.forEach((frame, k) => {
    const others = flashes.map((_, j) => j).filter((j) => j !== k);
    const apart = createPlane(width, height);
    const distancesToOthers = others.map((j) => between(k, j));
    const otherLogs = others.map((j) => logs[j]);
    const otherShares = others.map((j) => shares[j]);
    for (let i = 0; i < apart.data.length; i++) {
      let [least, told] = [Infinity, 0];
      for (const distance of distancesToOthers) {
        const d = distance[i];
        if (Number.isNaN(d)) continue;
        told++;
        least = Math.min(least, d);
      }
      const other = (told > 0 && least > OTHER) || isCovered(logs[k], otherLogs, room, shares[k], otherShares, i);
      if (other && ignore.data[2 * Math.floor(i / width) * guides.width + 2 * (i % width)] < 0.2) apart.data[i] = 1;
    }
    const solid = createPlane(width, height, boxBlur(apart, 1).data.map((v) => (v > 0.55 ? 1 : 0)));
    const things = labelRegions(solid).filter((r) => {
      if (r.pixels.length < THING * solid.data.length) return false;
      const places = withRim(r.pixels, solid);
      const own = sameStructure(logs[k], room, places);
      return own < Math.max(...others.map((j) => sameStructure(logs[j], room, places))) - WORSE;
    }).sort((a, b) => b.pixels.length - a.pixels.length);
    if (things.length === 0) return;
    changes.push({ frame, what: 'shows', share: things.reduce((sum, r) => sum + r.pixels.length, 0) / solid.data.length, where: [things[0].left + things[0].right, things[0].top + things[0].bottom] });
  });
  return changes.sort((a, b) => b.share - a.share);
}
