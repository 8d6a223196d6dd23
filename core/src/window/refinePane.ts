import type { Point } from '@zaddle/document';
import { meetingLines } from '../geometry/meetingLines';
import { bilinear, createPlane, quantile, type Plane } from '../image/plane';
import type { Guide } from '../mix/guides';
import type { PaneQuad } from './fitPane';
import { CLIPPED } from './ownRadiance';

/** Pixels to either side of a side within which its edge is looked for, and steps. */
const REACH = 3.5;
const STEP = 0.25;
/** Pixels from the edge, at least, where the pane itself is read, and beyond it where its frame is. */
const PANE = 2.5;
/** Contrast of a pane and its frame, as a share of the brighter one, that tells where the edge is. */
const CONTRAST = 0.25;
/** Change a step, as a share of the steepest, where an edge has ended. */
const LEVELS_OFF = 0.2;
/** Places along a side. */
const ALONG = 40;
/** Pixels within which most frames must agree. */
const AGREE = 0.8;

const OFFSETS = Array.from({ length: Math.round((2 * REACH) / STEP) + 1 }, (_, k) => -REACH + k * STEP);

/** Means of a plane along lines parallel to a side, from inside the pane to outside; medians, so that what crosses the side does not count. */
function profile(plane: Plane, from: Point, to: Point): number[] {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  // Corners go round clockwise: outside is on the left of the way.
  const [nx, ny] = [(to[1] - from[1]) / length, -(to[0] - from[0]) / length];
  return OFFSETS.map((off) => {
    const values: number[] = [];
    for (let k = 0; k < ALONG; k++) {
      const t = 0.12 + (0.76 * (k + 0.5)) / ALONG;
      values.push(bilinear(plane, from[0] + t * (to[0] - from[0]) + off * nx, from[1] + t * (to[1] - from[1]) + off * ny));
    }
    return quantile(values, 0.5);
  });
}

/** Where, going outwards, the first edge has ended: a bar may be narrow, with something quite different beyond. */
function frameAt(values: readonly number[], pane: number, from: number): number {
  let steepest = 0;
  for (let k = from; k < values.length; k++) {
    const grown = Math.abs(values[k] - pane) - Math.abs(values[k - 1] - pane);
    if (grown > steepest) steepest = grown;
    else if (Math.abs(values[k] - pane) > CONTRAST * Math.max(values[k], pane) && grown < LEVELS_OFF * steepest) return k;
  }
  return values.length - 1;
}

/** Where a frame has the edge of a side, pixels outwards, and how much contrast there is; null where it does not tell. Half of a pixel's light comes from either side of it there. */
function edgeOf(light: Plane, top: Plane, from: Point, to: Point): { at: number; contrast: number } | null {
  const values = profile(light, from, to);
  const clipped = profile(top, from, to);
  const inside = OFFSETS.flatMap((off, k) => (off <= -PANE ? [k] : []));
  if (inside.some((k) => clipped[k] > CLIPPED)) return null;
  const pane = inside.reduce((sum, k) => sum + values[k], 0) / inside.length;
  const bar = frameAt(values, pane, inside.length);
  const contrast = Math.abs(values[bar] - pane) / Math.max(1e-4, values[bar], pane);
  if (contrast < CONTRAST || clipped[bar] > CLIPPED) return null;
  const half = (values[bar] + pane) / 2;
  for (let k = bar; k > 0; k--) {
    if ((values[k] - half) * (values[k - 1] - half) > 0) continue;
    return { at: OFFSETS[k - 1] + (STEP * (half - values[k - 1])) / (values[k] - values[k - 1] || 1), contrast };
  }
  return null;
}

/** By how much a side is to be moved outwards, pixels: what most frames say, by their contrast; 0 where they do not agree. */
function shiftOf(frames: readonly { light: Plane; top: Plane }[], from: Point, to: Point): number {
  const found = frames.map(({ light, top }) => edgeOf(light, top, from, to)).filter((edge) => edge !== null).sort((a, b) => a.at - b.at);
  const all = found.reduce((sum, { contrast }) => sum + contrast, 0);
  let sum = 0;
  const middle = found.find(({ contrast }) => (sum += contrast) >= all / 2);
  if (!middle) return 0;
  const agreeing = found.filter(({ at }) => Math.abs(at - middle.at) < AGREE).reduce((total, { contrast }) => total + contrast, 0);
  return agreeing > all / 2 ? middle.at : 0;
}

/** Where the lines through two sides meet; their common corner where they hardly do. */
const corner = (first: readonly [Point, Point], second: readonly [Point, Point]): Point => meetingLines(...first, ...second) ?? first[1];

/** Planes that are read to find where the sides of panes lie. */
export const edgePlanes = (frames: Iterable<Guide>): { light: Plane; top: Plane }[] => [...frames].map(({ light, top }) => ({ light: createPlane(light.width, light.height, light.g), top }));

/**
 * A pane with each side moved to where frames show its edge: where their light is half that of the pane and half that of what
 * frames it, to a part of a pixel.
 */
export function refinePane(quad: PaneQuad, frames: readonly { light: Plane; top: Plane }[]): PaneQuad {
  const sides = quad.map((from, k): readonly [Point, Point] => {
    const to = quad[(k + 1) % 4];
    const shift = shiftOf(frames, from, to);
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
    const by: Point = [(shift * (to[1] - from[1])) / length, (-shift * (to[0] - from[0])) / length];
    return [[from[0] + by[0], from[1] + by[1]], [to[0] + by[0], to[1] + by[1]]];
  });
  return [corner(sides[3], sides[0]), corner(sides[0], sides[1]), corner(sides[1], sides[2]), corner(sides[2], sides[3])];
}
