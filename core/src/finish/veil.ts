import { boxBlur } from '../image/boxBlur';
import { bilinear, createPlane, quantile, type Plane } from '../image/plane';

/** Tiles along the longer side, of each of which the darkest is looked at. */
const TILES = 24;
/** Share of a tile's pixels that may be darker: single ones are noise. */
const DARKEST = 0.01;
/** Tiles to either side among which the darkest counts: a pale wall by itself tells nothing of a veil. */
const REACH = 2;
/** Share of the darkest that is taken for veil: the darkest things of a room are not black. */
const BELIEVED = 0.85;
/** Veil beyond which nothing is believed, share of white. */
const MOST = 0.5;

function tilesOf({ width, height, data }: Plane): Plane {
  const size = Math.max(2, Math.ceil(Math.max(width, height) / TILES));
  const tiles = createPlane(Math.ceil(width / size), Math.ceil(height / size));
  for (let ty = 0; ty < tiles.height; ty++) {
    for (let tx = 0; tx < tiles.width; tx++) {
      const values: number[] = [];
      for (let y = ty * size; y < Math.min(height, (ty + 1) * size); y++) for (let x = tx * size; x < Math.min(width, (tx + 1) * size); x++) values.push(data[y * width + x]);
      tiles.data[ty * tiles.width + tx] = 2 ** quantile(values, DARKEST);
    }
  }
  return tiles;
}

function darkestAround({ width, height, data }: Plane): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let least = Infinity;
      for (let j = Math.max(0, y - REACH); j <= Math.min(height - 1, y + REACH); j++) for (let i = Math.max(0, x - REACH); i <= Math.min(width - 1, x + REACH); i++) least = Math.min(least, data[j * width + i]);
      out.data[y * width + x] = least;
    }
  }
  return out;
}

/**
 * Light that haze, or flare of a window, lays over a picture, as far as its darkest places tell: the lower envelope of luminance, smooth
 * (the dark channel of He, Sun, Tang, "Single Image Haze Removal", 2009, over neighbourhoods so broad that a pale wall is not taken for
 * veil). @param logY log2 luminance @returns luminance, 0..0.5, of the same size
 */
export function veilOver(logY: Plane): Plane {
  const envelope = boxBlur(boxBlur(darkestAround(tilesOf(logY)), REACH), 1);
  const [kx, ky] = [envelope.width / logY.width, envelope.height / logY.height];
  const veil = createPlane(logY.width, logY.height);
  for (let y = 0; y < veil.height; y++) {
    for (let x = 0; x < veil.width; x++) veil.data[y * veil.width + x] = Math.min(MOST, BELIEVED * bilinear(envelope, (x + 0.5) * kx - 0.5, (y + 0.5) * ky - 0.5));
  }
  return veil;
}

interface Removal {
  readonly share: number;
  readonly taken: Plane;
  readonly grown: Plane;
}
/** What took a share away last, while other values of a pass move. */
const removals = new WeakMap<Plane, Removal>();

/** What takes a share of a veil away: what is subtracted from light, and by how much the gain lies above 1 that brings what is left back to its white. */
export function veilRemoval(veil: Plane, share: number): Removal {
  const known = removals.get(veil);
  if (known?.share === share) return known;
  const taken = createPlane(veil.width, veil.height, veil.data.map((v) => v * share));
  const removal = { share, taken, grown: createPlane(veil.width, veil.height, taken.data.map((v) => v / (1 - v))) };
  removals.set(veil, removal);
  return removal;
}
