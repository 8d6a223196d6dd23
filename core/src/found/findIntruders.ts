import { boxBlur } from '../image/boxBlur';
import { log2Of } from '../image/log2Of';
import { createPlane, quantile, type Plane } from '../image/plane';
import { flashLight, type FlashLight } from '../light/flashLight';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';
import { labelRegions } from '../window/labelRegions';
import type { Change } from './findChanges';
import { halfLog } from './halfLog';

/** Linear light of a flash below which its colour is noise. */
const LEAST = 0.006;
/** Distance of log2 chromaticities from which on two flashes show two things; tinted light of walls stays below. */
const OTHER = 0.6;
/** Stops against the room's own light below which something stands before it, and above which nothing does; log2 light that is told from noise. */
const COVERED = Math.log2(0.8);
const UNCOVERED = Math.log2(1.3);
const TOLD = Math.log2(0.004);
/** Share of the picture below which a place is nothing to speak of. */
const THING = 0.0012;
/** How much worse a frame must agree with the room's own light in structure to be the one that has the thing. */
const WORSE = 0.08;
/** A small place, down to this share of a thing, counts where a frame agrees so much worse: another thing stands there beyond doubt. */
const SMALL = 0.3;
const FAR_WORSE = 0.7;
/** Half-guide pixels round a place that its outline takes. */
const RIM = 3;

/** log2 of red and of blue over green; NaN where a flash's light is not known. */
interface Chroma {
  readonly u: Float32Array;
  readonly v: Float32Array;
}

function chromaOf({ r, g, b, clipped }: FlashLight): Chroma {
  const u = new Float32Array(r.length);
  const v = new Float32Array(r.length);
  for (let i = 0; i < u.length; i++) {
    const known = !clipped[i] && g[i] === g[i];
    const green = known ? log2Of(g[i]) : NaN;
    u[i] = known ? log2Of(r[i]) - green : NaN;
    v[i] = known ? log2Of(b[i]) - green : NaN;
  }
  return { u, v };
}

/** Places from one that is looked at for the middle colour to the next. */
const STRIDE = 3;

/** How far apart the colours of two flashes' light are, whatever the flashes' own colours; NaN where one is not known. */
function chromaticDistance(a: Chroma, b: Chroma): Float32Array {
  const some = (p: Float32Array, q: Float32Array): Float32Array => {
    const out = new Float32Array(Math.floor(p.length / STRIDE));
    for (let k = 0; k < out.length; k++) out[k] = p[STRIDE * k] - q[STRIDE * k];
    return out;
  };
  const [mu, mv] = [quantile(some(a.u, b.u), 0.5), quantile(some(a.v, b.v), 0.5)];
  const distance = new Float32Array(a.u.length);
  for (let i = 0; i < distance.length; i++) {
    const u = a.u[i] - b.u[i] - mu;
    const v = a.v[i] - b.v[i] - mv;
    distance[i] = Math.sqrt(u * u + v * v);
  }
  return distance;
}

/** Where a frame has less light than the room alone gives in its exposure, and another flash frame has not: light only adds. */
function isCovered(own: Plane, others: readonly Plane[], room: Plane, stops: number, otherStops: readonly number[], i: number): boolean {
  const expected = stops + room.data[i];
  if (!(expected >= TOLD && own.data[i] < COVERED + expected)) return false;
  for (let k = 0; k < others.length; k++) if (others[k].data[i] > UNCOVERED + otherStops[k] + room.data[i]) return true;
  return false;
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
  const chromas = flashes.map((id) => chromaOf(flashLight(guides, id, stops[id], LEAST)));
  const room = halfLog(guides.merge, null, guides);
  const { width, height } = room;
  const logs = flashes.map((id) => halfLog(guides.frames.get(id)!.light, guides.frames.get(id)!.cover, guides));
  const distances = new Map<string, Float32Array>();
  const between = (a: number, b: number): Float32Array => {
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    let found = distances.get(key);
    if (!found) distances.set(key, (found = chromaticDistance(chromas[a], chromas[b])));
    return found;
  };
  const changes: Change[] = [];
  flashes.forEach((frame, k) => {
    const others = flashes.map((_, j) => j).filter((j) => j !== k);
    const apart = createPlane(width, height);
    const distancesToOthers = others.map((j) => between(k, j));
    const otherLogs = others.map((j) => logs[j]);
    const otherStops = others.map((j) => stops[flashes[j]]);
    for (let i = 0; i < apart.data.length; i++) {
      let least = Infinity;
      for (let j = 0; j < distancesToOthers.length; j++) if (distancesToOthers[j][i] < least) least = distancesToOthers[j][i];
      const other = (least < Infinity && least > OTHER) || isCovered(logs[k], otherLogs, room, stops[frame], otherStops, i);
      if (other && ignore.data[2 * Math.floor(i / width) * guides.width + 2 * (i % width)] < 0.2) apart.data[i] = 1;
    }
    const solid = createPlane(width, height, boxBlur(apart, 1).data.map((v) => (v > 0.55 ? 1 : 0)));
    const things = labelRegions(solid).filter((r) => {
      const share = r.pixels.length / (THING * solid.data.length);
      if (share < SMALL) return false;
      const places = withRim(r.pixels, solid);
      const own = sameStructure(logs[k], room, places);
      return own < Math.max(...others.map((j) => sameStructure(logs[j], room, places))) - (share < 1 ? FAR_WORSE : WORSE);
    }).sort((a, b) => b.pixels.length - a.pixels.length);
    if (things.length === 0) return;
    changes.push({ frame, what: 'shows', share: things.reduce((sum, r) => sum + r.pixels.length, 0) / solid.data.length, where: [things[0].left + things[0].right, things[0].top + things[0].bottom], places: things.map((r) => r.pixels) });
  });
  return changes.sort((a, b) => b.share - a.share);
}
