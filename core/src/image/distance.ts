import { createPlane, type Plane } from './plane';

/** Larger than any squared distance in a picture. */
const FAR = 1e12;
/** More rows than any picture has. */
const NONE = 1 << 24;

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

/** Rows up or down to the nearest pixel of the column that is set; NONE where there is none. */
function downColumns({ width, height, data }: Plane): Int32Array {
  const rows = new Int32Array(width * height);
  for (let x = 0; x < width; x++) rows[x] = data[x] > 0.5 ? 0 : NONE;
  for (let i = width; i < rows.length; i++) rows[i] = data[i] > 0.5 ? 0 : Math.min(NONE, rows[i - width] + 1);
  for (let i = rows.length - width - 1; i >= 0; i--) if (rows[i + width] + 1 < rows[i]) rows[i] = rows[i + width] + 1;
  return rows;
}

/**
 * Distance of every pixel, in pixels, from the nearest one that is set (above 0.5); 0 at those, a great number where none is.
 * Felzenszwalb, Huttenlocher, "Distance Transforms of Sampled Functions", Theory of Computing 2012.
 */
export function distanceFrom(set: Plane): Plane {
  const { width, height } = set;
  const [line, out, bound, apex] = [new Float64Array(width), new Float64Array(width), new Float64Array(width + 1), new Int32Array(width)];
  const rows = downColumns(set);
  const distance = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let nearest = Infinity;
    for (let x = 0; x < width; x++) {
      const d = rows[row + x];
      if (d < nearest) nearest = d;
      line[x] = d < NONE ? d * d : FAR;
    }
    // Where no column has any, no row has.
    if (nearest === NONE) distance.data.fill(Math.sqrt(FAR), row, row + width);
    else {
      alongLine(line, width, apex, bound, out);
      for (let x = 0; x < width; x++) distance.data[row + x] = Math.sqrt(out[x]);
    }
  }
  return distance;
}
