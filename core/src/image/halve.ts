import { createPlane, type Plane } from './plane';

/** Half the size, rounded up: means of two by two, of what there is of these at the right and the lower border. */
export function halve({ width, height, data }: Plane): Plane {
  const out = createPlane((width + 1) >> 1, (height + 1) >> 1);
  const inner = width >> 1;
  for (let y = 0; y < out.height; y++) {
    const upper = 2 * y * width;
    const lower = 2 * y + 1 < height ? upper + width : upper;
    const row = y * out.width;
    for (let x = 0; x < inner; x++) out.data[row + x] = 0.25 * (data[upper + 2 * x] + data[upper + 2 * x + 1] + data[lower + 2 * x] + data[lower + 2 * x + 1]);
    if (inner < out.width) out.data[row + inner] = 0.5 * (data[upper + width - 1] + data[lower + width - 1]);
  }
  return out;
}

/** A plane that `halve` made of one of this size, carried up again, linear between the middles of its places. */
export function unhalve(plane: Plane, width: number, height: number): Plane {
  const { width: w, height: h, data } = plane;
  const out = createPlane(width, height);
  const between = new Float32Array(w);
  for (let y = 0; y < height; y++) {
    const near = (y >> 1) * w;
    const far = Math.min(h - 1, Math.max(0, (y >> 1) + (y & 1 ? 1 : -1))) * w;
    for (let x = 0; x < w; x++) between[x] = 0.75 * data[near + x] + 0.25 * data[far + x];
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const k = x >> 1;
      out.data[row + x] = 0.75 * between[k] + 0.25 * between[Math.min(w - 1, Math.max(0, x & 1 ? k + 1 : k - 1))];
    }
  }
  return out;
}
