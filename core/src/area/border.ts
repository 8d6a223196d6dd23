import { matteEdges } from '../mask/matteEdges';
import { boxBlur } from '../image/boxBlur';
import { createPlane, mapPlane, type Plane } from '../image/plane';
import { distanceFrom } from '../image/distance';
import { rounded } from '../image/quantize';
import { cutPlane, partWhere, type Part } from '../image/nearMask';
import type { AreaBorder, FrameId } from '@zaddle/document';
import { identity } from '../kind/keeper';
import type { PlacedPlane, Placing } from '../kind/placing';
import type { RowWork } from '../kind/rowWork';
import { guidedEdgeRow, type PlacedGuidedEdge } from './guidedEdge';

/** A coverage whose border was changed: a plane, or a linear model over the log luminance of a frame. Planes cover the reference. */
export type Bordered = { readonly plane: Plane } | { readonly a: Plane; readonly b: Plane; readonly frame: FrameId };
export type PlacedBorder = { readonly plane: PlacedPlane } | PlacedGuidedEdge;

/** How far off a rough border may lie from the edge that it is to follow, shares of the longer side; and the neighbourhood that tells what inside and outside look like. */
const SNAP_BAND = 0.0075;
const SNAP_AROUND = 0.02;

/** Grown or shrunk by a distance, in pixels of the plane: a rim of one pixel keeps it smooth. */
function grown(coverage: Plane, by: number): Plane {
  const inside = distanceFrom(mapPlane(coverage, (v) => (v >= 0.5 ? 1 : 0)));
  const outside = distanceFrom(mapPlane(coverage, (v) => (v >= 0.5 ? 0 : 1)));
  return mapPlane(coverage, (_, i) => Math.min(1, Math.max(0, 0.5 + (inside.data[i] > 0 ? 0.5 - inside.data[i] : outside.data[i] - 0.5) + by)));
}

/** Three box blurs come close to a Gaussian (Wells 1986). */
function softened(coverage: Plane, width: number): Plane {
  const radius = Math.max(1, Math.round(width / 3));
  return boxBlur(boxBlur(boxBlur(coverage, radius), radius), radius);
}

/** Pixels about a coverage that a change of its border may look at, or reach. */
const reachOf = (border: AreaBorder, side: number): number => Math.ceil((Math.abs(border.grow) + (border.snap ? SNAP_BAND + SNAP_AROUND : 0) + border.soften) * side) + 4;

/** A part of a plane back in its place; nothing elsewhere. */
function inPlace(part: Plane, { left, top }: Part, width: number, height: number): Plane {
  const whole = createPlane(width, height);
  for (let y = 0; y < part.height; y++) whole.data.set(part.data.subarray(y * part.width, (y + 1) * part.width), (top + y) * width + left);
  return whole;
}

/** @param side longer side of the whole picture, pixels */
function changed(coverage: Plane, border: AreaBorder, guidance: Plane | null, side: number): Bordered {
  let plane = border.grow === 0 ? coverage : grown(coverage, border.grow * side);
  if (border.snap && guidance) {
    const { a, b } = matteEdges(guidance, mapPlane(plane, (v) => (v >= 0.5 ? 1 : 0)), Math.round(SNAP_BAND * side), Math.round(SNAP_AROUND * side));
    if (border.soften === 0) return { a, b, frame: border.snap };
    plane = createPlane(a.width, a.height, Float32Array.from(a.data, (v, i) => Math.min(1, Math.max(0, v * guidance.data[i] + b.data[i]))));
  }
  return { plane: border.soften === 0 ? plane : softened(plane, border.soften * side) };
}

/**
 * Changes the border of an area after the fact: grows or shrinks it, makes it follow the edges of a frame, softens it, in this
 * order. Only what lies near it is looked at. In as many bits as it is kept with.
 * @param coverage of the area, 0..1, on the guide. @param guidance log luminance of the frame to follow there
 */
export function changeBorder(coverage: Plane, border: AreaBorder, guidance: Plane | null): Bordered {
  const { width, height } = coverage;
  const side = Math.max(width, height);
  const part = partWhere(coverage, (v) => v > 0, reachOf(border, side));
  if (!part) return { plane: coverage };
  const bordered = changed(cutPlane(coverage, part), border, guidance && cutPlane(guidance, part), side);
  if ('plane' in bordered) return { plane: rounded(inPlace(bordered.plane, part, width, height)) };
  return { ...bordered, a: rounded(inPlace(bordered.a, part, width, height)), b: rounded(inPlace(bordered.b, part, width, height)) };
}

/** Names it. */
export const borderKey = (bordered: Bordered, placing: Placing): string => ('plane' in bordered ? `${identity(bordered.plane)}` : `${identity(bordered.a)} ${placing.frameKey(placing.frame(bordered.frame))} ${placing.mix.frames[bordered.frame].balance.join()}`);

export function placeBorder(bordered: Bordered, placing: Placing): PlacedBorder {
  if ('plane' in bordered) return { plane: placing.onReference(bordered.plane) };
  const frame = placing.frame(bordered.frame);
  return { a: placing.onReference(bordered.a), b: placing.onReference(bordered.b), frame, matrix: placing.frameMatrix(frame) };
}

/** Writes row y of it into the area's buffer. */
export function borderRow(placed: PlacedBorder, work: RowWork, y: number): void {
  if ('plane' in placed) work.plane(placed.plane, y, work.s.area);
  else guidedEdgeRow(placed, work, y);
}
