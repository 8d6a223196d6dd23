import type { HealPass, HealPatch, Point, Triple } from '@zaddle/document';
import { placeOutline, type PlacedOutline } from '../area/outlineEdges';
import { IDENTITY } from '../geometry/homography';
import { throughFour } from '../geometry/throughFour';
import { CHUNK } from '../kernels/kernels';
import { identity } from '../kind/keeper';
import type { BringingPass } from '../kind/passEvaluation';
import type { GridPart, PlacedPlane, Placing } from '../kind/placing';
import { applyGains, gainsOf } from './gains';
import { matchRow } from './matchRow';
import { placeAround } from './placeAround';

/** A piece, where it lies on the grid, and the picture below as it is where the piece is taken from. */
interface PlacedPatch {
  readonly part: GridPart;
  readonly outline: PlacedOutline;
  readonly elsewhere: number;
  /** Gains on red, green, blue, or null where they change nothing. */
  readonly gains: Triple | null;
}

interface PlacedHeal {
  readonly patches: readonly PlacedPatch[];
  readonly gains: Triple;
  readonly matching: readonly PlacedPlane[] | null;
}

const scaled = (points: readonly Point[], full: number): [number, number][] => points.map(([x, y]) => [x * full, y * full]);

/** The map that takes the place of a piece to that which it is taken from, reference pixels. */
const patchMap = ({ to, from }: HealPatch, full: number) => throughFour(scaled(to, full), scaled(from, full)) ?? IDENTITY;

/** Grid pixels that a shape may touch, in whole chunks, so that what is interpolated does not depend on the shape; null: none. */
function partOf(points: readonly Point[], softness: number, { shapes }: Placing): GridPart | null {
  const { full, toGrid: h, pixel, slack, width, height } = shapes;
  const places = scaled(points, full).map(([x, y]) => {
    const w = h[6] * x + h[7] * y + h[8];
    return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
  });
  const more = slack + 2 + (softness * full) / pixel;
  const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
  const left = Math.max(0, Math.floor((Math.min(...xs) - more) / CHUNK)) * CHUNK;
  const right = Math.min(width, Math.ceil((Math.max(...xs) + more) / CHUNK) * CHUNK);
  const [top, bottom] = [Math.max(0, Math.floor(Math.min(...ys) - more)), Math.min(height, Math.ceil(Math.max(...ys) + more))];
  return right > left && bottom > top ? { left, top, width: right - left, height: bottom - top } : null;
}

function placePatch(patch: HealPatch, softness: number, placing: Placing): PlacedPatch | null {
  const rings = patch.rings.length > 0 ? patch.rings : [patch.to];
  const part = partOf(rings.flat(), softness, placing);
  if (!part) return null;
  const elsewhere = placing.elsewhere(patchMap(patch, placing.shapes.full), part);
  if (elsewhere === null) return null;
  const gains = patch.gains.every((g) => g === 1) ? null : patch.gains;
  return { part, elsewhere, gains, outline: placeOutline(rings.map((ring) => ring.map((at) => ({ at, before: null, after: null }))), patch.rings.length > 0 ? softness : 0, placing) };
}

/**
 * Pieces of the picture below, seen elsewhere: each is that picture on a grid of its own, so that it is interpolated once and is as sharp
 * at every level as what it is taken from, and follows whatever changes below.
 */
export const healPass: BringingPass<HealPass, PlacedHeal> = {
  does: 'brings',
  gathers: false,
  fromAround: (pass) => (pass.matched && pass.mask.length > 0 ? 'gains' : null),
  place(pass, placing, around) {
    const patches = pass.patches.flatMap((patch) => placePatch(patch, pass.softness, placing) ?? []);
    return { placed: { patches, gains: gainsOf(pass), matching: around && placeAround(around, placing) }, key: around ? `${identity(around)}` : '' };
  },
  row({ patches, gains, matching }, work, y) {
    const { s, kernels } = work;
    const layer = s.pieces;
    work.clearRow(layer, 4);
    for (const { part, outline, elsewhere, gains: own } of patches) {
      if (y < part.top || y >= part.top + part.height) continue;
      work.referenceCoords(y);
      kernels.outlineRow(s.coords, work.width, outline.edges, outline.count, outline.width, s.area);
      const x = part.left * 4;
      const { at, plane } = work.elsewhere(elsewhere, y - part.top);
      if (own) kernels.balanceRow(at, plane, s.ones, part.width, own[0], own[1], own[2]);
      kernels.layerRow(layer + x, s.plane, at, at, plane, s.area + x, part.width, 1, 1);
    }
    work.copyRow(layer, s.source, 3);
    applyGains(gains, work);
    if (matching) matchRow(matching, work, y);
    return layer + s.plane * 3;
  },
};
