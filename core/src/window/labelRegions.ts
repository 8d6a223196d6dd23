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
  const visit = (next: number, pixels: number[]): void => {
    if (seen[next] || !(data[next] > 0)) return;
    seen[next] = 1;
    pixels.push(next);
  };
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || !(data[start] > 0)) continue;
    const pixels = [start];
    seen[start] = 1;
    let [left, top, right, bottom] = [w, h, 0, 0];
    for (let k = 0; k < pixels.length; k++) {
      const i = pixels[k];
      const x = i % w;
      const y = (i - x) / w;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
      if (x > 0) visit(i - 1, pixels);
      if (x < w - 1) visit(i + 1, pixels);
      if (y > 0) visit(i - w, pixels);
      if (y < h - 1) visit(i + w, pixels);
    }
    regions.push({ pixels, left, top, right, bottom });
  }
  return regions;
}
