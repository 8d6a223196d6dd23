import { estimateStance } from '../geometry/estimateStance';
import { findStraightEdges } from '../geometry/findStraightEdges';
import { NO_LENS } from '../geometry/lens';
import { seenLine } from '../geometry/stanceLines';
import { wallAzimuth } from '../geometry/wallAzimuth';
import { linearToSrgb } from '../colour/transfer';
import { closeMask } from '../image/closeMask';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import { luminanceOf } from '../mix/guideTones';
import { CeilingOutlines, type Outline } from './ceilingOutline';
import { labelRegions } from '../window/labelRegions';
import { likeOnePaint, type PaintTolerance } from './onePaint';
import { straightView, type GivenLight, type StraightView } from './straightView';

/** Painted surfaces of a room on the guide, 0 or 1; all 0 where nothing is sure. */
export interface Surfaces {
  readonly ceiling: Plane;
  /** Worked out when they are asked for. */
  readonly walls: () => Plane;
}

/** Guide pixels for one of the grid that is looked at. */
const SCALE = 2;
/** Most lights that are looked at. */
const MOST_LIGHTS = 4;
/** Where the strips begin that a ceiling may be told from, and how high they are, in heights of the picture: beams may lie before it. */
const STRIPS = [0, 0.05, 0.1, 0.16];
const STRIP = 0.05;
/** Share of a strip that looks like a ceiling which was found from another: it would be found again. */
const AGAIN = 0.6;
const ROUNDS = 4;
/** How little a place may look like the ceiling and still help to tell what that looks like. */
const SURELY_OTHER = -0.9;
/** Tolerances with which an outline is found, and surfaces are told by when that is known. */
const STRICT: PaintTolerance = { light: 0.15, colour: 0.05 };
const CEILING: PaintTolerance = { light: 0.25, colour: 0.1 };
const MAY_BE_CEILING: PaintTolerance = { light: 0.5, colour: 0.18 };
const WALL: PaintTolerance = { light: 0.45, colour: 0.1 };
const PAINT_ROUNDS = 3;
/** What a ceiling has at least: share of the picture, and of its columns; clearness of its edge times the difference between what lies above and below that; stops about the middle of the picture. */
const LEAST = { share: 0.01, within: 0.3, sure: 0.25, light: -1 } as const;
/** Rows from an edge that are held against each other. */
const BESIDE = [2, 4] as const;
/** Share of the width that a wall takes at least, rows under a ceiling's edge that are left out, and heights of the strip that it is told from. */
const NARROWEST = 0.04;
const RIM = 1;
const WALL_STRIP = 0.25;
/** Grid pixels of gaps in a surface that are closed. */
const GAPS = 1;

/** A ceiling that may be one. */
interface Candidate {
  readonly outline: Outline;
  readonly like: Float32Array;
  readonly value: number;
}

/** Places of a straightened view for which something holds. */
function placesWhere(view: StraightView, holds: (x: number, y: number, i: number) => boolean): number[] {
  const places: number[] = [];
  for (let i = 0; i < view.outside.length; i++) if (view.outside[i] === 0 && holds(i % view.width, Math.floor(i / view.width), i)) places.push(i);
  return places;
}

/** By how much more the places just above an edge look like a ceiling than those just below it. */
function difference({ width, height, outside }: StraightView, { edge }: Outline, like: Float32Array): number {
  let [sum, count] = [0, 0];
  for (let x = 0; x < width; x++) {
    for (let k = BESIDE[0]; k < BESIDE[1]; k++) {
      const [above, below] = [Math.round(edge[x]) - k, Math.round(edge[x]) + k];
      if (above < 0 || below >= height || outside[above * width + x] > 0) continue;
      sum += like[above * width + x] - like[below * width + x];
      count++;
    }
  }
  return sum / Math.max(1, count);
}

/** Follows what some places look like to the ceiling that they may be of. @param usual middle of the picture's log luminance */
function follow(view: StraightView, outlines: CeilingOutlines, strip: readonly number[], usual: number): Candidate | null {
  let [region, like, outline]: [readonly number[], Float32Array | null, Outline | null] = [strip, null, null];
  for (let round = 0; round < ROUNDS && region.length > 0; round++) {
    like = likeOnePaint(view, region, STRICT);
    const [told, found] = [like, outlines.find(like)];
    const same = outline !== null && found.edge.every((row, x) => Math.abs(row - outline!.edge[x]) < 1);
    outline = found;
    if (same) break;
    region = placesWhere(view, (x, y, i) => y < found.edge[x] - 1 && told[i] > SURELY_OTHER);
  }
  if (!outline || !like) return null;
  const [edge, told] = [outline.edge, like];
  const own = placesWhere(view, (x, y, i) => y < edge[x] && told[i] > 0 && view.lights[0].mute[i] === 0);
  const light = own.length === 0 ? -Infinity : own.reduce((sum, i) => sum + view.lights[0].y[i], 0) / own.length - usual;
  const differs = difference(view, outline, like);
  if (own.length < LEAST.share * view.outside.length || outline.within < LEAST.within || outline.contrast * differs < LEAST.sure || light < LEAST.light) return null;
  return { outline, like, value: (-outline.cost * outline.contrast * differs * Math.exp(Math.min(0, light))) / (1 + outline.leaps) };
}

/** Middle of the log luminance of a room. */
const usualLight = ({ lights: [first] }: StraightView): number => quantile(first.y.filter((_, i) => first.mute[i] === 0), 0.5);

function bestCeiling(view: StraightView, outlines: CeilingOutlines): Candidate | null {
  const usual = usualLight(view);
  let best: Candidate | null = null;
  for (const begins of STRIPS) {
    const strip = placesWhere(view, (x, y) => y >= view.top[x] + begins * view.height && y < view.top[x] + (begins + STRIP) * view.height);
    if (best !== null && strip.filter((i) => best!.like[i] > 0).length > AGAIN * strip.length) continue;
    const candidate = follow(view, outlines, strip, usual);
    if (candidate && (best === null || candidate.value > best.value)) best = candidate;
  }
  return best;
}

/** Those of some places that are of one paint with most of what it is told from. */
function ofOnePaint(view: StraightView, within: readonly number[], from: readonly number[], tolerance: PaintTolerance): readonly number[] {
  let own = from;
  for (let round = 0; round < PAINT_ROUNDS && own.length > 0; round++) {
    const like = likeOnePaint(view, own, tolerance, within);
    own = within.filter((i) => like[i] > 0);
  }
  return own;
}

/** Those of some places that hang together with what surely is of a paint and may be of it themselves: light from several sides is less smooth than one is asked for. */
function grownOn(view: StraightView, within: readonly number[], sure: readonly number[]): readonly number[] {
  const like = likeOnePaint(view, sure, MAY_BE_CEILING, within);
  const { width, height } = view;
  const may = createPlane(width, height);
  for (const i of within) if (like[i] > 0) may.data[i] = 1;
  for (const i of sure) may.data[i] = 1;
  const known = new Uint8Array(width * height);
  for (const i of sure) known[i] = 1;
  return labelRegions(may).flatMap(({ pixels }) => (pixels.some((i) => known[i] > 0) ? pixels : []));
}

/** A surface on the guide, small gaps closed. */
function asPlane(view: StraightView, places: readonly number[], within: (x: number, y: number) => boolean): Plane {
  const own = new Uint8Array(view.outside.length);
  for (const i of places) own[i] = 1;
  const { width, height } = view;
  const clamp = (v: number, most: number): number => Math.max(0, Math.min(most, Math.round(v)));
  return closeMask(view.onGuide((x, y) => (within(x, y) && own[clamp(y, height - 1) * width + clamp(x, width - 1)] > 0 ? 1 : 0)), GAPS * SCALE);
}

/** Painted walls under a ceiling's edge: each is told from what lies right under it. */
function findWalls(view: StraightView, { edge, wall }: Outline, floor: Float32Array): readonly number[] {
  const { width, height, top, lights } = view;
  const usual = usualLight(view);
  const found: number[] = [];
  for (let begins = 0, x = 1; x <= width; x++) {
    if (x < width && wall[x] === wall[x - 1]) continue;
    const ends = x;
    const [from, below] = [begins, (column: number): number => Math.max(top[column], edge[column]) + RIM];
    begins = x;
    if (ends - from < NARROWEST * width) continue;
    const own = placesWhere(view, (column, y) => column >= from && column < ends && y > below(column) && y < floor[column]);
    found.push(...ofOnePaint(view, own, own.filter((i) => Math.floor(i / width) < below(i % width) + WALL_STRIP * height && lights[0].y[i] > usual + LEAST.light), WALL));
  }
  return found;
}

/**
 * Ceiling and walls of a room as far as they are painted: how the camera stood and how walls are turned tell along which lines a flat ceiling ends; one
 * paint looks smooth under each light by itself; both are found by turns. Nothing is found where no ceiling ends clearly: under slopes, outside, or
 * where beams hide it.
 * @param lights on the guide, the room's own first. @param focal longer sides
 */
export function findSurfaces(lights: readonly GivenLight[], focal: number): Surfaces {
  const { light } = lights[0];
  const none = createPlane(light.width, light.height);
  const grey = mapPlane(luminanceOf(light), (v) => 255 * linearToSrgb(Math.min(1, v)));
  const edges = findStraightEdges(grey);
  const { plumb } = estimateStance(edges, grey, NO_LENS, focal);
  const yaw = plumb && wallAzimuth(edges.map((edge) => seenLine(edge, grey, NO_LENS, focal)), plumb);
  if (!plumb || yaw === null) return { ceiling: none, walls: () => none };
  const view = straightView(lights.slice(0, MOST_LIGHTS), plumb, focal, SCALE);
  const outlines = new CeilingOutlines(view, yaw);
  const ceiling = bestCeiling(view, outlines);
  if (!ceiling) return { ceiling: none, walls: () => none };
  const { edge } = ceiling.outline;
  const above = (x: number, y: number): boolean => y < edge[Math.max(0, Math.min(view.width - 1, Math.round(x)))];
  const own = placesWhere(view, above);
  return {
    ceiling: asPlane(view, grownOn(view, own, ofOnePaint(view, own, own.filter((i) => ceiling.like[i] > 0), CEILING)), above),
    walls: () => asPlane(view, findWalls(view, ceiling.outline, outlines.floorUnder(ceiling.outline)), (x, y) => !above(x, y)),
  };
}
