import type { Plane } from '../image/plane';

/** A part of the reference, whole pixels. */
export interface Rectangle {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Ragged edges up to this share of the picture are left: they are faded out, and cutting costs picture. */
const TOLERABLE = 0.006;
/** Scales that are told apart when the largest rectangle is looked for. */
const STEPS = 9;

/** Sums of a plane over all rectangles that start at the top left (Crow 1984); one row and column larger than the plane. */
function summedArea(width: number, height: number, value: (i: number) => number): Int32Array {
  const sums = new Int32Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += value(y * width + x);
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  }
  return sums;
}

/** Missing pixels in the w x h rectangle at (x, y). */
function missingWithin(sums: Int32Array, width: number, x: number, y: number, w: number, h: number): number {
  const stride = width + 1;
  const p = y * stride + x;
  return sums[p + h * stride + w] - sums[p + w] - sums[p + h * stride] + sums[p];
}

/** The place of a w x h rectangle without missing pixels that lies nearest the middle, or null. */
function placeWithin(missing: Int32Array, width: number, height: number, w: number, h: number): { x: number; y: number } | null {
  let best: { x: number; y: number } | null = null;
  let nearest = Infinity;
  for (let y = 0; y + h <= height; y++) {
    for (let x = 0; x + w <= width; x++) {
      if (missingWithin(missing, width, x, y, w, h) > 0) continue;
      const distance = Math.abs(2 * x + w - width) + Math.abs(2 * y + h - height);
      if (distance < nearest) {
        nearest = distance;
        best = { x, y };
      }
    }
  }
  return best;
}

/**
 * The largest rectangle of the picture's own ratio inside what all frames cover, or null where next to nothing is ragged.
 * @param covers planes of 0 and 1 on the guide; @param width, height full size of the reference.
 */
export function coveredRectangle(covers: readonly Plane[], width: number, height: number): Rectangle | null {
  if (covers.length === 0) return null;
  const guide = covers[0];
  const missing = summedArea(guide.width, guide.height, (i) => (covers.some((plane) => plane.data[i] < 0.5) ? 1 : 0));
  const margin = Math.ceil(TOLERABLE * guide.width);
  const [inner, tall] = [guide.width - 2 * margin, guide.height - 2 * margin];
  if (missingWithin(missing, guide.width, margin, margin, inner, tall) === 0) return null;
  let low = 0.3;
  let high = 1;
  let best = placeWithin(missing, guide.width, guide.height, Math.floor(guide.width * low), Math.floor(guide.height * low));
  if (!best) return null;
  for (let step = 0; step < STEPS; step++) {
    const scale = (low + high) / 2;
    const place = placeWithin(missing, guide.width, guide.height, Math.floor(guide.width * scale), Math.floor(guide.height * scale));
    if (place) {
      low = scale;
      best = place;
    } else high = scale;
  }
  const full = width / guide.width;
  const factor = Math.min((Math.floor(guide.width * low) * full - 2) / width, (Math.floor(guide.height * low) * full - 2) / height);
  const size = { width: Math.floor(width * factor), height: Math.floor(height * factor) };
  return { x: Math.ceil(best.x * full) + 1, y: Math.ceil(best.y * full) + 1, ...size };
}
