import { createPlane, type Plane } from './plane';

/** Larger than any squared distance in a picture. */
const FAR = 1e12;

/** Squared distances along one line: the lower envelope of parabolas over `f`. */
function alongLine(f: Float64Array, n: number, apex: Int32Array, bound: Float64Array, out: Float64Array): void {
  let k = 0;
  apex[0] = 0;
  bound[0] = -Infinity;
  bound[1] = Infinity;
  for (let q = 1; q < n; q++) {
    let s = (f[q] + q * q - (f[apex[k]] + apex[k] * apex[k])) / (2 * q - 2 * apex[k]);
    while (s <= bound[k]) {
      k--;
      s = (f[q] + q * q - (f[apex[k]] + apex[k] * apex[k])) / (2 * q - 2 * apex[k]);
    }
    apex[++k] = q;
    bound[k] = s;
    bound[k + 1] = Infinity;
  }
  k = 0;
  for (let q = 0; q < n; q++) {
    while (bound[k + 1] < q) k++;
    out[q] = (q - apex[k]) ** 2 + f[apex[k]];
  }
}

/**
 * Distance of every pixel, in pixels, from the nearest one that is set (above 0.5); 0 at those, a great number where none is.
 * Felzenszwalb, Huttenlocher, "Distance Transforms of Sampled Functions", Theory of Computing 2012.
 */
export function distanceFrom(set: Plane): Plane {
  const { width, height, data } = set;
  const most = Math.max(width, height);
  const [line, out, bound, apex] = [new Float64Array(most), new Float64Array(most), new Float64Array(most + 1), new Int32Array(most)];
  const squares = new Float64Array(width * height);
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) line[y] = data[y * width + x] > 0.5 ? 0 : FAR;
    alongLine(line, height, apex, bound, out);
    for (let y = 0; y < height; y++) squares[y * width + x] = out[y];
  }
  const distance = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) line[x] = squares[y * width + x];
    alongLine(line, width, apex, bound, out);
    for (let x = 0; x < width; x++) distance.data[y * width + x] = Math.sqrt(out[x]);
  }
  return distance;
}
