import type { Point } from '@zaddle/document';
import { paintLight } from '../colour/paintLight';
import type { Triple } from '../colour/primaries';
import { linearToSrgb } from '../colour/transfer';
import type { ToldStance } from '../geometry/estimateStance';
import { findStraightEdges } from '../geometry/findStraightEdges';
import type { GuideLevel } from '../graph/guideLevel';
import type { PreparedMix } from '../graph/prepareMix';
import { viewMasks, whereSeen } from '../graph/viewMasks';
import { boxBlur } from '../image/boxBlur';
import { createPlane, luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { leaningReading } from '../read/leaningReading';

/** What a picture looks like, as far as it is held against others of its set. */
export interface Look {
  /** Median of the room's light, stops about middle grey, before the display curve. */
  readonly light: number;
  /** Light of its pale surfaces, working primaries, luminance 1; null where there are none. */
  readonly paint: Triple | null;
  /** Stops by which the view outside lies over the room; null: there is none. */
  readonly view: number | null;
  /** Degrees by which vertical edges lean; null where they do not tell. */
  readonly leaning: number | null;
  /** Width over height. */
  readonly ratio: number;
  /** Where what is told shows most, in shares of width and height. Pictures that were measured before this was told have none. */
  readonly places?: Places;
}

/** Where the room's usual light lies broadly, its pale paint, the view, and the edge that leans and is longest. */
export type Places = Readonly<Partial<Record<'light' | 'paint' | 'view' | 'leaning', Point>>>;

/** Share of a mask from which on a place counts as outside, and below which as the room. */
const OUTSIDE = 0.7;
const INSIDE = 0.1;
/** Places of the view that tell its brightness, at least. */
const FEWEST = 60;

/** log2 of the median luminance where a place counts. */
function medianLight(y: Plane, counts: (index: number) => boolean): number | null {
  const values: number[] = [];
  for (let i = 0; i < y.data.length; i += 3) if (counts(i)) values.push(y.data[i]);
  return values.length < FEWEST ? null : Math.log2(Math.max(1e-4, quantile(values, 0.5)) / 0.18);
}

/** Share of the width about a place in which most of something lies. */
const BROAD = 0.05;
/** How much farther about it the rest is looked at. */
const WIDER = 3;
/** Stops about the usual light, and of chroma about the usual paint, that show it. */
const USUAL = 0.3;
const OF_PAINT = 0.15;
/** Stops under the usual light down to which paint counts as pale. */
const PALE = -0.3;

/** Where most of what counts lies together, in shares of width and height; undefined: nothing counts. */
function broadest(size: { readonly width: number; readonly height: number }, counts: (index: number) => boolean): Point | undefined {
  const { width, height } = size;
  const radius = Math.max(1, Math.round(BROAD * width));
  const plane = createPlane(width, height, Float32Array.from({ length: width * height }, (_, i) => (counts(i) ? 1 : 0)));
  // Where all about a place counts, more of it farther away decides; the picture's border is no place to point at.
  const [about, wide] = [boxBlur(plane, radius).data, boxBlur(plane, WIDER * radius).data];
  const inner = (i: number): number => Math.min(1, Math.min(i % width, width - 1 - (i % width), Math.floor(i / width), height - 1 - Math.floor(i / width)) / radius);
  const near = about.map((v, i) => (v + wide[i]) * inner(i));
  let best = 0;
  for (let i = 1; i < near.length; i++) if (near[i] > near[best]) best = i;
  return near[best] > 0 ? [((best % width) + 0.5) / width, (Math.floor(best / width) + 0.5) / height] : undefined;
}

/** Where the longest edge that stands plumb lies. */
function plumbEdge(y: Plane): Point | undefined {
  const edges = findStraightEdges(mapPlane(y, (v) => 255 * linearToSrgb(Math.min(1, v)))).filter((edge) => Math.abs(edge[edge.length - 1] - edge[1]) > 2 * Math.abs(edge[edge.length - 2] - edge[0]));
  if (edges.length === 0) return undefined;
  const longest = edges.reduce((best, edge) => (edge.length > best.length ? edge : best));
  const middle = 2 * (longest.length >> 2);
  return [longest[middle] / y.width, longest[middle + 1] / y.height];
}

/** Where what is told of a picture shows. */
function placesOf(picture: Light, view: Plane | null, { light, paint }: Pick<Look, 'light' | 'paint'>): Places {
  const y = luminance(picture);
  const stops = (i: number): number => Math.log2(Math.max(1e-4, y.data[i]) / 0.18) - light;
  const inRoom = (i: number): boolean => !view || view.data[i] <= INSIDE;
  const chroma = (c: 'r' | 'b', i: number): number => Math.log2(Math.max(1e-5, picture[c][i]) / Math.max(1e-5, picture.g[i]));
  const isPaint = (i: number): boolean => paint !== null && inRoom(i) && stops(i) > PALE && Math.hypot(chroma('r', i) - Math.log2(paint[0] / paint[1]), chroma('b', i) - Math.log2(paint[2] / paint[1])) < OF_PAINT;
  return { light: broadest(y, (i) => inRoom(i) && Math.abs(stops(i)) < USUAL), paint: broadest(y, isPaint), ...(view ? { view: broadest(y, (i) => view.data[i] > OUTSIDE) } : {}), leaning: plumbEdge(y) };
}

/** What is told of a picture of which the view's mask is known. @param view where the view outside is, 0..1; null: nowhere */
export function lookOfPicture(picture: Light, view: Plane | null): Pick<Look, 'light' | 'paint' | 'view' | 'places'> {
  const y = luminance(picture);
  const room = createPlane(y.width, y.height, Float32Array.from(y.data, (_, i) => (view && view.data[i] > INSIDE ? 0 : 1)));
  const light = medianLight(y, (i) => room.data[i] > 0) ?? medianLight(y, () => true) ?? 0;
  const outside = view && medianLight(y, (i) => view.data[i] > OUTSIDE);
  const paint = paintLight(picture, room);
  return { light, paint, view: outside === null ? null : outside - light, places: placesOf(picture, view, { light, paint }) };
}

/** Measures the picture of a mix on the guide. @param stance how its camera stood, where that is known @param picture where that is made already */
export function lookOf(level: GuideLevel, prepared: PreparedMix, stance: ToldStance | null, picture: Light = level.picture(prepared)): Look {
  const { mix } = prepared;
  return {
    ...lookOfPicture(picture, whereSeen(viewMasks(level, prepared))),
    leaning: (stance && leaningReading(mix, stance)?.value) ?? null, ratio: mix.width / mix.height,
  };
}
