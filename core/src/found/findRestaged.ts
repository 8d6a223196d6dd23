import { boxBlur } from '../image/boxBlur';
import { closeMask } from '../image/closeMask';
import { distanceFrom } from '../image/distance';
import { createPlane, placesAbove, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';
import { smoothstep } from '../image/smoothstep';
import { labelRegions } from '../window/labelRegions';
import { halfLog } from './halfLog';

/** A place that several flash frames show otherwise than the room's own light and the other flashes do. */
export interface Restaged {
  readonly frames: readonly FrameId[];
  /** Pixels at half the guide's size. */
  readonly pixels: readonly number[];
}

/** log2 of linear light below which nothing is told. */
const DARK = Math.log2(0.004);
/** Stops across a place beyond which an edge is an edge: how strong it is tells nothing. */
const STRONGEST = 1;
/** Half-guide pixels about a place whose structure is compared, and the mean square of steps from which on there is some. */
const WINDOW = 3;
const STRUCTURE = 0.12 ** 2;
/** Correlation of steps below which two frames show two things at a place. */
const OTHER = 0.35;
/** The same over a whole place, among frames that show one thing; between those that do and those that do not; and of edges, whichever side of them is brighter. */
const AMONG = 0.7;
const BETWEEN = 0.2;
const LIKE_ROOM = 0.75;
const EDGES = 0.15;
/** Flashes that must show what the room does. */
const WITNESSES = 2;
/** Share of the picture below which a place is nothing to speak of; that of a place that only two frames show, which may be two shadows alike. */
const THING = 0.0012;
const THING_OF_TWO = 0.006;
/** Half-guide pixels from a told place within which less tells that it goes on. */
const NEAR = 16;
/** Half-guide pixels between edges of a thing that it may have no structure over. */
const BETWEEN_EDGES = 6;

/** Steps of log luminance across each place; 0 where nothing is told. */
interface Steps {
  readonly x: Float32Array;
  readonly y: Float32Array;
}

const limited = (step: number): number => (step === step ? Math.max(-STRONGEST, Math.min(STRONGEST, step)) : 0);

function stepsOf({ width, height, data }: Plane): Steps {
  const told = data.map((v) => (v > DARK ? v : NaN));
  const steps = { x: new Float32Array(data.length), y: new Float32Array(data.length) };
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      steps.x[i] = limited(told[i + 1] - told[i - 1]);
      steps.y[i] = limited(told[i + width] - told[i - width]);
    }
  }
  return steps;
}

/** Mean product of two fields of steps about each place. */
function product(a: Steps, b: Steps, { width, height }: Plane): Float32Array {
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = a.x[i] * b.x[i] + a.y[i] * b.y[i];
  return boxBlur(plane, WINDOW).data;
}

/** Where a frame has other structure about it than the room's own light shows: 1, else 0. */
function otherThan(home: Steps, homeEnergy: Float32Array, own: Steps, grid: Plane): Uint8Array {
  const [energy, both] = [product(own, own, grid), product(own, home, grid)];
  const other = new Uint8Array(energy.length);
  for (let i = 0; i < other.length; i++) {
    if (Math.max(energy[i], homeEnergy[i]) < STRUCTURE) continue;
    if (both[i] < OTHER * Math.sqrt(Math.max(energy[i], STRUCTURE / 4) * Math.max(homeEnergy[i], STRUCTURE / 4))) other[i] = 1;
  }
  return other;
}

/** Correlation of steps over some places. */
function correlation(a: Steps, b: Steps, places: readonly number[]): number {
  let [ab, aa, bb] = [0, 0, 0];
  for (const i of places) {
    ab += a.x[i] * b.x[i] + a.y[i] * b.y[i];
    aa += a.x[i] * a.x[i] + a.y[i] * a.y[i];
    bb += b.x[i] * b.x[i] + b.y[i] * b.y[i];
  }
  return ab / Math.max(1e-9, Math.sqrt(aa * bb));
}

/** The same for edges, whichever side of them light falls on: of steps by their doubled angle. */
function edgeCorrelation(a: Steps, b: Steps, places: readonly number[]): number {
  let [ab, aa, bb] = [0, 0, 0];
  for (const i of places) {
    const [ma, mb] = [Math.hypot(a.x[i], a.y[i]), Math.hypot(b.x[i], b.y[i])];
    aa += ma * ma;
    bb += mb * mb;
    if (ma === 0 || mb === 0) continue;
    // cos 2(α - β) from cos(α - β)
    const along = (a.x[i] * b.x[i] + a.y[i] * b.y[i]) / (ma * mb);
    ab += ma * mb * (2 * along * along - 1);
  }
  return ab / Math.max(1e-9, Math.sqrt(aa * bb));
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
const pairs = <T>(of: readonly T[], with_: readonly T[] | null = null): [T, T][] => of.flatMap((a, k) => (with_ ?? of.slice(k + 1)).map((b): [T, T] => [a, b]));

interface Told {
  readonly showing: readonly number[];
  readonly pixels: readonly number[];
}

/** Places that the same frames show, together. */
function byFrames(told: readonly Told[]): Told[] {
  const groups = new Map<string, Told>();
  for (const { showing, pixels } of told) {
    const key = showing.join();
    groups.set(key, { showing, pixels: [...(groups.get(key)?.pixels ?? []), ...pixels] });
  }
  return [...groups.values()];
}

/** Told places with what is near them, legs and rungs, where most of the frames that show something else there do, and most others do not; and what lies between. */
function goneOn(pixels: readonly number[], showing: readonly number[], others: readonly Uint8Array[], { width, height }: Plane): number[] {
  const thing = createPlane(width, height);
  for (const i of pixels) thing.data[i] = 1;
  const distance = distanceFrom(thing).data;
  for (let i = 0; i < distance.length; i++) {
    if (distance[i] > NEAR) continue;
    let [having, against] = [0, 0];
    for (const k of showing) having += others[k][i];
    for (const other of others) against += other[i];
    against -= having;
    if (2 * having > showing.length && 2 * against < others.length - showing.length) thing.data[i] = 1;
  }
  return [...placesAbove(closeMask(thing, BETWEEN_EDGES), 0.5)];
}

/**
 * What was put elsewhere while flashes were fired: chairs set aside, a prop changed, a helper who stands in several frames. Another light leaves edges
 * where they are, since reflectance multiplies it, though the brighter side of a form may be the other one then; another thing has edges of its own. A place
 * is told where two frames at least agree on such edges, while the room’s own light and two flashes at least agree on others.
 * What a single frame shows is for `findIntruders`. @param flashes frames by flash; @param ignore where not to look (the view), guide size.
 * @returns the largest first; none for fewer than four flashes.
 */
export function findRestaged(guides: GuideSet, flashes: readonly FrameId[], ignore: Plane): Restaged[] {
  if (flashes.length < WITNESSES + 2) return [];
  const grid = halfLog(guides.merge, null, guides);
  const home = stepsOf(grid);
  const homeEnergy = product(home, home, grid);
  const steps = flashes.map((id) => stepsOf(halfLog(guides.frames.get(id)!.light, guides.frames.get(id)!.cover, guides)));
  const others = steps.map((own) => otherThan(home, homeEnergy, own, grid));
  const several = createPlane(grid.width, grid.height);
  for (let i = 0; i < several.data.length; i++) {
    let count = 0;
    for (const other of others) count += other[i];
    if (count >= 2 && ignore.data[2 * Math.floor(i / grid.width) * guides.width + 2 * (i % grid.width)] < 0.2) several.data[i] = 1;
  }
  const solid = createPlane(grid.width, grid.height, boxBlur(several, 1).data.map((v) => (v > 0.55 ? 1 : 0)));
  const all = flashes.map((_, k) => k);
  const told = labelRegions(solid).flatMap(({ pixels }): Told[] => {
    const share = pixels.length / solid.data.length;
    if (share < THING) return [];
    const showing = all.filter((k) => pixels.reduce((sum, i) => sum + others[k][i], 0) > pixels.length / 2);
    const like = all.filter((k) => correlation(steps[k], home, pixels) > LIKE_ROOM);
    if (showing.length < 2 || like.length < WITNESSES || share < (showing.length === 2 ? THING_OF_TWO : THING)) return [];
    const one = mean(pairs(showing).map(([a, b]) => correlation(steps[a], steps[b], pixels)));
    const two = mean(pairs(showing, like).map(([a, b]) => correlation(steps[a], steps[b], pixels)));
    const edges = mean(showing.map((k) => edgeCorrelation(steps[k], home, pixels)));
    return one > AMONG && two < BETWEEN && edges < EDGES ? [{ showing, pixels }] : [];
  });
  return byFrames(told).map(({ showing, pixels }) => ({ frames: showing.map((k) => flashes[k]), pixels: goneOn(pixels, showing, others, grid) })).sort((a, b) => b.pixels.length - a.pixels.length);
}

/** Guide pixels about a place that was restaged where the frames that show it are not used: its outline is soft, and it throws a shadow; and over which they come to be. */
const GROWN = 4;
const SOFTLY = 20;

/** How far each guide pixel is clear of such a place, 0..1. */
export function clearOf(pixels: readonly number[], { width, height }: { readonly width: number; readonly height: number }): Float32Array {
  const place = createPlane(width, height);
  const half = width >> 1;
  for (const i of pixels) {
    const at = 2 * Math.floor(i / half) * width + 2 * (i % half);
    place.data[at] = place.data[at + 1] = place.data[at + width] = place.data[at + width + 1] = 1;
  }
  return distanceFrom(place).data.map((v) => smoothstep(GROWN, GROWN + SOFTLY, v));
}
