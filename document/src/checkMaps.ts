import { InvalidMix } from './invalidMix';
import type { MixDocument } from './mixDocument';
import type { HealPass } from './pass/healPass';
import type { FrameUse, Matrix3 } from './values';

/** The largest picture, pixels: what can be delivered. */
const MAX_PIXELS = 130_000_000;
/** A map may send the picture's corners this many picture sizes away, and change areas by this factor; more is nobody's wish. */
const FARTHEST = 4;
const GREATEST_SCALE = 64;
/** The picture must show at least this share of the area that it could, so that it is a picture of something. */
const LEAST_SHOWN = 1e-4;
/** Area that a healed piece has at least, longer sides of the reference. */
const LEAST_PIECE = 1e-9;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Corners of a picture under a map, or null where the map folds it over or sends a part of it to infinity. */
function mappedCorners(m: Matrix3, { width, height }: Size): [number, number][] | null {
  const corners: [number, number][] = [];
  for (const [x, y] of [[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]]) {
    const w = m[6] * x + m[7] * y + m[8];
    if (!(w / m[8] > 1e-3)) return null;
    corners.push([(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w]);
  }
  return corners.every((c) => c.every(Number.isFinite)) ? corners : null;
}

/** Area of a polygon, positive where it runs as the picture's corners do (shoelace formula). */
const areaOf = (p: readonly (readonly [number, number])[]): number => p.reduce((sum, [x, y], i) => sum + (x * p[(i + 1) % p.length][1] - p[(i + 1) % p.length][0] * y) / 2, 0);

/** Whether a map takes a picture to somewhere sensible near another. */
function isSensible(m: Matrix3, from: Size, to: Size): boolean {
  const corners = mappedCorners(m, from);
  if (!corners) return false;
  const reach = FARTHEST * Math.max(to.width, to.height);
  if (!corners.every(([x, y]) => x > -reach && y > -reach && x < to.width + reach && y < to.height + reach)) return false;
  const growth = areaOf(corners) / Math.max(1, to.width * to.height);
  return growth > 1 / GREATEST_SCALE && growth < GREATEST_SCALE && turnsOneWay(corners);
}

/** Whether a four-sided shape is convex and not mirrored. */
function turnsOneWay(p: readonly (readonly [number, number])[]): boolean {
  return p.every(([x, y], i) => {
    const [bx, by] = p[(i + 1) % 4];
    const [cx, cy] = p[(i + 2) % 4];
    return (bx - x) * (cy - by) - (by - y) * (cx - bx) > 0;
  });
}

/** @throws InvalidMix when a frame would lie folded, mirrored, or far off its picture. */
export function checkFrameMap(map: Matrix3, use: FrameUse, reference: FrameUse, whose: string): void {
  if (!isSensible(map, reference, use)) throw new InvalidMix(`The alignment of ${whose} sends it away from the picture or folds it over. Move it less far.`);
}

/** Whether four corners are those of a piece of a picture, not mirrored: convex, and no line. */
const isPiece = (corners: readonly (readonly [number, number])[]): boolean => turnsOneWay(corners) && areaOf(corners) > LEAST_PIECE;

/** @throws InvalidMix when a piece that is healed, or what it is taken from, is folded, has no size, or is blown up beyond use. */
export function checkPatches({ name, patches }: HealPass): void {
  for (const { to, from } of patches) {
    // What it is taken from may be mirrored.
    const way = isPiece(from) ? from : [...from].reverse();
    const growth = areaOf(way) / areaOf(to);
    if (!isPiece(to) || !isPiece(way) || growth > GREATEST_SCALE || growth < 1 / GREATEST_SCALE) throw new InvalidMix(`A piece of “${name}” is folded over, or is taken from a place of another size altogether. Choose its source anew.`);
  }
}

/** @throws InvalidMix when the output would show nothing of the reference, or could never be delivered. */
export function checkGeometry({ geometry, width, height, frames, reference }: MixDocument): void {
  if (width * height > MAX_PIXELS) throw new InvalidMix(`A picture may have at most ${MAX_PIXELS / 1e6} megapixels.`);
  const home = frames[reference];
  const corners = mappedCorners(geometry, { width, height });
  if (!corners || !turnsOneWay(corners)) throw new InvalidMix('The geometry folds the picture over or sends it away.');
  const xs = corners.map(([x]) => Math.min(home.width - 1, Math.max(0, x)));
  const ys = corners.map(([, y]) => Math.min(home.height - 1, Math.max(0, y)));
  const shown = (Math.max(...xs) - Math.min(...xs)) * (Math.max(...ys) - Math.min(...ys));
  if (!(shown >= LEAST_SHOWN * home.width * home.height) || areaOf(corners) > 16 * home.width * home.height) throw new InvalidMix('The crop lies outside the frame. Move it back onto the picture.');
}
