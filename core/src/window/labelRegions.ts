import type { Plane } from '../image/plane';

/** Connected guide pixels. */
export interface Region {
  readonly pixels: number[];
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Regions of pixels above 0 that touch at sides, by flood filling. */
export function labelRegions(plane: Plane): Region[] {
  const { width: w, height: h, data } = plane;
  const seen = new Uint8Array(w * h);
  const regions: Region[] = [];
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || data[start] <= 0) continue;
    const pixels = [start];
    seen[start] = 1;
    let [left, top, right, bottom] = [w, h, 0, 0];
    for (let k = 0; k < pixels.length; k++) {
      const i = pixels[k];
      const x = i % w;
      const y = (i - x) / w;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      for (const next of [x > 0 ? i - 1 : -1, x < w - 1 ? i + 1 : -1, y > 0 ? i - w : -1, y < h - 1 ? i + w : -1]) {
        if (next < 0 || seen[next] || data[next] <= 0) continue;
        seen[next] = 1;
        pixels.push(next);
      }
    }
    regions.push({ pixels, left, top, right, bottom });
  }
  return regions;
}
