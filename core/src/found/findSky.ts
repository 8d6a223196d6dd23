import type { FrameId } from '@zaddle/document';
import { estimateNeutral } from '../colour/estimateNeutral';
import { boxBlur } from '../image/boxBlur';
import { closeMask } from '../image/closeMask';
import { createPlane, luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { labelRegions } from '../window/labelRegions';
import { CLIPPED } from '../window/ownRadiance';
import { seesSky } from './seesSky';

/** Stops by which sky changes from one guide pixel to the next, in brightness and in blue over red, at most. */
const STEP = 0.07;
const COLOUR_STEP = 0.1;
/** The same over some guide pixels: an edge that is soft is one, too. */
const SPAN = 3;
const SPAN_STEP = 0.16;
const SPAN_COLOUR = 0.25;
/** Stops under the brightest sky down to which what it goes round is a cloud. */
const CLOUD = 1.5;
/** Stops of texture that what sky begins with has at most, and by how many it may lie under the middle of what it is seen in. */
const CALM = 0.08;
const DARKER = 0.4;
/** Share of what sky may begin with that is no bluer than sky, and stops by which it may be warmer: what a lamp lights is warmer by far. */
const MOST_BLUE = 0.8;
const WARMER = 1.2;
/** Stops that sky may lie below its brightest. */
const RANGE = 3.5;
/** Rows under an upper edge that sky may begin in: a bar or a blind may throw its shadow there. */
const BEGINS = 4;
/** Guide pixels of a bar that sky may go on behind, and how many steps may lie behind it. */
const BAR = 14;
const BEHIND = 4;
/** Share of the picture of a piece of sky, at least. */
const SMALLEST = 0.0008;
/** Guide pixels of gaps within it that are closed: birds, wires. */
const GAPS = 2;
/** Guide pixels beside a frame that are mixed with it. */
const RIM = 2;
/** Linear light below which nothing is told. */
const DARK = 0.002;

/** The frame in which most of some places is neither clipped nor dark. */
function shows(guides: GuideSet, where: Plane): FrameId {
  const told = (id: FrameId): number => {
    const { top, cover, light } = guides.frames.get(id)!;
    return where.data.reduce((sum, v, i) => sum + (v > 0 && cover.data[i] === 1 && top.data[i] < CLIPPED && light.g[i] > 4 * DARK ? 1 : 0), 0);
  };
  return [...guides.frames.keys()].map((id) => ({ id, told: told(id) })).reduce((best, each) => (each.told > best.told ? each : best)).id;
}

/** What lies outside, as one frame shows it: even log2 of luminance and of blue over red, and stops of texture. */
class Outside {
  readonly even: Float32Array;
  readonly hue: Float32Array;
  readonly unrest: Float32Array;
  private readonly cover: Float32Array;
  readonly width: number;
  readonly count: number;

  constructor(guides: GuideSet, readonly where: Plane) {
    const { light, cover } = guides.frames.get(shows(guides, where))!;
    const log = mapPlane(luminance(light), (v) => Math.log2(Math.max(DARK, v)));
    this.even = boxBlur(log, 1).data;
    this.hue = boxBlur(createPlane(light.width, light.height, light.b.map((v, i) => Math.log2(Math.max(DARK, v) / Math.max(DARK, light.r[i])))), 1).data;
    this.unrest = boxBlur(mapPlane(log, (v, i) => Math.abs(v - this.even[i])), 2).data;
    this.cover = cover.data;
    this.width = where.width;
    this.count = where.data.length;
  }

  has(i: number): boolean {
    return i >= 0 && i < this.count && this.where.data[i] > 0 && this.cover[i] > 0;
  }

  /** Neighbours of a place that are outside, too. */
  beside(at: number): number[] {
    const { width } = this;
    const x = at % width;
    return [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width].filter((to) => this.has(to));
  }

  /** Whether one place goes on from another that lies so many steps away. */
  goesOn(from: number, to: number, steps: number): boolean {
    return Math.abs(this.even[to] - this.even[from]) <= steps * STEP && Math.abs(this.hue[to] - this.hue[from]) <= steps * COLOUR_STEP;
  }

  /** Whether an edge lies there that is too soft for single steps: hills in haze. */
  isEdge(i: number): boolean {
    const { even, hue } = this;
    return [SPAN, SPAN * this.width].some((by) => this.has(i - by) && this.has(i + by) && (Math.abs(even[i + by] - even[i - by]) > SPAN_STEP || Math.abs(hue[i + by] - hue[i - by]) > SPAN_COLOUR));
  }
}

/** Where sky begins: a calm and bright place near the upper edge of each column, unless it is far warmer than the others. */
function beginnings(outside: Outside): number[] {
  const { width, count, even, hue, unrest, where } = outside;
  const middle = quantile(even.filter((_, i) => where.data[i] > 0), 0.5);
  const begins: number[] = [];
  for (let x = 0; x < width; x++) {
    let top = x;
    while (top < count && !outside.has(top)) top += width;
    // The rows next to a frame are mixed with it.
    for (let at = top + (BEGINS - 1) * width; at >= top; at -= width) {
      if (!outside.has(at) || unrest[at] > CALM || even[at] < middle - DARKER) continue;
      begins.push(at);
      break;
    }
  }
  const bluest = quantile(begins.map((i) => hue[i]), MOST_BLUE);
  return begins.filter((i) => hue[i] > bluest - WARMER);
}

/** All that goes on from where sky begins: 1, else 0. */
function grown(outside: Outside, begins: readonly number[], darkest: number): Uint8Array {
  const { width, even, unrest } = outside;
  const sky = new Uint8Array(outside.count);
  const waiting = [...begins];
  for (const at of begins) sky[at] = 1;
  const isNext = (from: number, to: number, steps: number): boolean => sky[to] === 0 && even[to] >= darkest && outside.goesOn(from, to, steps);
  const take = (at: number): void => {
    sky[at] = 1;
    waiting.push(at);
  };
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    for (const to of outside.beside(at)) if (isNext(at, to, 1) && !outside.isEdge(to)) take(to);
    // Behind a bar it goes on, if it is the same there; beside it both are mixed with it.
    let below = at + width;
    while (below < at + (RIM + 1) * width && outside.has(below)) below += width;
    while (below < at + BAR * width && !outside.has(below)) below += width;
    below += RIM * width;
    if (outside.has(below) && unrest[below] <= CALM && isNext(at, below, BEHIND)) take(below);
  }
  // Up to an edge it goes by single steps, no further than edges are looked for.
  let rim = [...sky.keys()].filter((i) => sky[i] > 0);
  for (let k = 0; k <= SPAN; k++) {
    rim = rim.flatMap((at) => outside.beside(at).filter((to) => {
      if (!isNext(at, to, 1)) return false;
      sky[to] = 1;
      return true;
    }));
  }
  return sky;
}

/** Clouds, and what a frame is mixed with beside it, are sky, too; specks are none. */
function tidied(outside: Outside, sky: Uint8Array, brightest: number): Plane {
  const { where, even, count } = outside;
  const mask = mapPlane(where, (_, i) => sky[i]);
  const [near, within] = [boxBlur(mask, RIM).data, boxBlur(where, RIM).data];
  const whole = mapPlane(closeMask(mask, GAPS), (v, i) => ((v > 0 || (near[i] > 0 && within[i] < 1)) && outside.has(i) ? 1 : 0));
  // What it goes round and is as bright is a cloud, whatever its edge.
  for (const { pixels } of labelRegions(mapPlane(whole, (v, i) => (v === 0 && outside.has(i) ? 1 : 0)))) {
    if (pixels.every((i) => outside.beside(i).length === 4) && quantile(pixels.map((i) => even[i]), 0.5) > brightest - CLOUD) for (const i of pixels) whole.data[i] = 1;
  }
  const out = createPlane(where.width, where.height);
  for (const { pixels } of labelRegions(whole)) if (pixels.length > SMALLEST * count) for (const i of pixels) out.data[i] = 1;
  return out;
}

/**
 * The sky: what is bright and calm at the upper edge of the outside, whether through windows or because the picture was taken there,
 * and whatever goes on from it without an edge in brightness or hue, as clouds and the light of a low sun do (region growing: Adams,
 * Bischof, "Seeded region growing", 1994). @param glass the view outside, 0..1 @returns 0 or 1
 */
export function findSky(guides: GuideSet, glass: Plane): Plane {
  const rough = estimateNeutral(guides.merge, mapPlane(glass, (v) => 1 - v));
  const balanced: Light = { ...guides.merge, r: guides.merge.r.map((v) => v * rough[0]), b: guides.merge.b.map((v) => v * rough[2]) };
  const where = seesSky(balanced, glass) ? mapPlane(glass, () => 1) : mapPlane(glass, (v) => (v > 0.5 ? 1 : 0));
  if (where.data.every((v) => v === 0)) return createPlane(glass.width, glass.height);
  const outside = new Outside(guides, where);
  const begins = beginnings(outside);
  const brightest = begins.reduce((most, i) => Math.max(most, outside.even[i]), -Infinity);
  return tidied(outside, grown(outside, begins, brightest - RANGE), brightest);
}
