import type { HealPatch, Point, Quad } from '@zaddle/document';
import { traceOutline } from '../clean/traceOutline';
import { invert, mapPoint, type Homography } from '../geometry/homography';
import { createPlane } from '../image/plane';
import type { HealLabels } from './healLabels';
import { boxAround, placesOf } from './healLook';
import type { Offset } from './refineLabels';

/** How a grid lies on the reference. */
export interface HealGrid {
  /** Grid pixel to reference pixel. */
  readonly toReference: Homography;
  /** Reference pixels to one of it, where it lies straight; null: it follows a plane in perspective. */
  readonly pixel: number | null;
  /** Longer side of the reference. */
  readonly full: number;
  /** Grid pixels about a place within which its light is compared with that around: pieces reach so far. */
  readonly beyond: number;
}

/** Pixels of labels over which one piece gives way to another. */
export const SEAM = 2;
const TOLERANCE = 0.7;
const MOST_CORNERS = 200;
const MOST_RINGS = 12;

const rounded = (v: number): number => Math.round(v * 1e7) / 1e7;

/** Carries labels beyond the hole, to the nearest pixels, as far as its light is compared. */
function carriedOut(labels: Int16Array, width: number, steps: number): Int16Array {
  let edge: number[] = [];
  const out = Int16Array.from(labels);
  for (let i = 0; i < out.length; i++) if (out[i] >= 0) edge.push(i);
  for (let k = 0; k < steps && edge.length > 0; k++) {
    const next: number[] = [];
    for (const i of edge) {
      const x = i % width;
      for (const q of [x + 1 < width ? i + 1 : -1, x > 0 ? i - 1 : -1, i + width, i - width]) {
        if (q < 0 || q >= out.length || out[q] >= 0) continue;
        out[q] = out[i];
        next.push(q);
      }
    }
    edge = next;
  }
  return out;
}

/** A piece's pixels, and a little of what is laid over it, so that nothing shows through where one gives way to the other. @param after labels that are laid over it */
function pieceOf(labels: Int16Array, width: number, label: number, after: ReadonlySet<number>): Uint8Array {
  const height = labels.length / width;
  const piece = new Uint8Array(labels.length);
  for (let i = 0; i < labels.length; i++) {
    if (labels[i] !== label) continue;
    piece[i] = 1;
    const [x, y] = [i % width, Math.floor(i / width)];
    if (x > 0 && x + 1 < width && y > 0 && y + 1 < height && labels[i - 1] === label && labels[i + 1] === label && labels[i - width] === label && labels[i + width] === label) continue;
    for (let v = Math.max(0, y - SEAM); v <= Math.min(height - 1, y + SEAM); v++) for (let k = v * width + Math.max(0, x - SEAM); k <= v * width + Math.min(width - 1, x + SEAM); k++) if (after.has(labels[k])) piece[k] = 1;
  }
  return piece;
}

/** Outlines that a document takes: the longest, followed less closely where need be. */
function outlines(piece: Uint8Array, width: number): (readonly (readonly [number, number])[])[] {
  const plane = createPlane(width, piece.length / width, Float32Array.from(piece));
  for (let tolerance = TOLERANCE; ; tolerance *= 1.5) {
    const rings = traceOutline(plane, tolerance).sort((a, b) => b.length - a.length).slice(0, MOST_RINGS);
    if (rings.every(({ length }) => length <= MOST_CORNERS)) return rings;
  }
}

/** What a way to heal is in a document. */
export function healPatches({ labels, width, scale, offsets, gains }: HealLabels, grid: HealGrid): HealPatch[] {
  const { toReference, pixel, full, beyond } = grid;
  const carried = carriedOut(labels, width, Math.ceil(beyond / scale));
  // A pixel of labels is several of the grid; its middle lies between theirs.
  const placeOf = ([x, y]: readonly [number, number]): Point => {
    const [u, v] = mapPoint(toReference, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5);
    return [rounded(u / full), rounded(v / full)];
  };
  const back = invert(toReference);
  const sourceOf = ([x, y]: Point, { dx, dy }: Offset): Point => {
    // Where pixels are the reference's own, they are taken whole.
    if (pixel !== null) return [rounded(x + Math.round(dx * pixel) / full), rounded(y + Math.round(dy * pixel) / full)];
    const [u, v] = mapPoint(back, x * full, y * full);
    const [p, q] = mapPoint(toReference, u + dx, v + dy);
    return [rounded(p / full), rounded(q / full)];
  };
  const counts = offsets.map((_, label) => labels.reduce((n, own) => (own === label ? n + 1 : n), 0));
  const order = [...offsets.keys()].filter((label) => counts[label] > 0).sort((a, b) => counts[b] - counts[a]);
  return order.map((label, k): HealPatch => {
    const piece = pieceOf(carried, width, label, new Set(order.slice(k + 1)));
    const { left, right, top, bottom } = boxAround(placesOf(piece), width);
    const to = ([[left - 0.5, top - 0.5], [right + 0.5, top - 0.5], [right + 0.5, bottom + 0.5], [left - 0.5, bottom + 0.5]] as const).map(placeOf) as unknown as Quad;
    return { gains: gains[label], to, from: to.map((corner) => sourceOf(corner, offsets[label])) as unknown as Quad, rings: order.length === 1 ? [] : outlines(piece, width).map((ring) => ring.map(placeOf)) };
  });
}
