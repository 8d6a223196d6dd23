/** A part of a picture that a layer covers: RGBA of 16 bits, colour not multiplied by coverage. */
export interface LayerPixels {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
  /** Of the whole layer, 0..1. */
  readonly opacity: number;
}

const FULL = 65535;

/** Least coverage by which a colour within 0..1 can bring one encoded value to another. */
function leastCoverage(before: number, after: number): number {
  if (after > before) return (after - before) / (FULL - before);
  return after < before ? (before - after) / before : 0;
}

/**
 * What, laid over `before` by its coverage (W3C Compositing, source over, in the encoded values), makes `after`: coverage is the mask, more where
 * no colour would do with that little, since light is mixed as light and layers are mixed as encoded values.
 * @param before,after RGB, 16 bit, row by row @param mask 16 bit @param opacity of the pass, kept apart where that can be @param room where its pixels may lie: four numbers for each of the picture's
 * @returns null: it changes nothing
 */
export function layerPixels(before: Uint16Array, after: Uint16Array, mask: Uint16Array, width: number, opacity: number, room: Uint16Array = new Uint16Array(mask.length * 4)): LayerPixels | null {
  const needed = (i: number): number => Math.max(leastCoverage(before[3 * i], after[3 * i]), leastCoverage(before[3 * i + 1], after[3 * i + 1]), leastCoverage(before[3 * i + 2], after[3 * i + 2]));
  let [left, top, right, bottom] = [width, Infinity, -1, -1];
  let most = 0;
  for (let i = 0; i < mask.length; i++) {
    const least = needed(i);
    if (least === 0 && mask[i] === 0) continue;
    most = Math.max(most, least);
    const x = i % width;
    const y = (i - x) / width;
    [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), y];
  }
  if (bottom < 0 || (opacity === 0 && most === 0)) return null;
  // Coverage beyond the layer's opacity there is none: where that is not enough, all of it lies in the pixels.
  const apart = most <= opacity ? opacity : 1;
  const own = opacity / apart;
  const [w, h] = [right - left + 1, bottom - top + 1];
  const data = room.subarray(0, w * h * 4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (top + y) * width + left + x;
      const cover = Math.round(Math.min(1, Math.max((mask[i] / FULL) * own, needed(i) / apart)) * FULL) / FULL;
      const p = (y * w + x) * 4;
      data[p + 3] = Math.round(cover * FULL);
      for (let c = 0; c < 3; c++) {
        const there = before[3 * i + c];
        data[p + c] = cover === 0 ? after[3 * i + c] : Math.min(FULL, Math.max(0, Math.round(there + (after[3 * i + c] - there) / (cover * apart))));
      }
    }
  }
  return { x: left, y: top, width: w, height: h, data, opacity: apart };
}
