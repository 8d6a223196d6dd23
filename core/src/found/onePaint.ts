import { solveCholesky } from '../geometry/solveCholesky';
import { quantile } from '../image/plane';
import type { StraightView } from './straightView';

/** How far the light and the colour of one painted surface may lie off what is smooth, stops. */
export interface PaintTolerance {
  readonly light: number;
  readonly colour: number;
}

/** Places that a fit is made of, at most, and its rounds. */
const SAMPLES = 1500;
const ROUNDS = 8;
/** Fewest places that tell what a surface looks like. */
const FEWEST = 60;
/** The first scale of a fit, in tolerances, and by what it narrows from round to round. */
const FIRST_SCALE = 4;
const NARROWS = 0.7;
/** Terms of a plane, and with its curvature. */
const FLAT = 3;
const TERMS = 6;
/** What holds curvature back, a sample. */
const STIFF = 1e-3;

/** Terms of a smooth field at some places, one row each: plane, and curvature, of which a plane alone takes the first three. */
function termsAt(places: readonly number[], { width, height, middle, horizon }: StraightView): Float64Array {
  const rows = new Float64Array(places.length * TERMS);
  places.forEach((i, k) => {
    const x = (2 * ((i % width) - middle)) / width;
    const y = (2 * (Math.floor(i / width) - horizon)) / height;
    rows.set([1, x, y, x * x, x * y, y * y], k * TERMS);
  });
  return rows;
}

/** Adds one place to the normal equations, below their diagonal. @param at where its terms are */
function addPlace(a: Float64Array, b: Float64Array, n: number, rows: Float64Array, at: number, weight: number, value: number): void {
  for (let q = 0; q < n; q++) {
    const w = weight * rows[at + q];
    b[q] += w * value;
    for (let z = 0; z <= q; z++) a[q * n + z] += w * rows[at + z];
  }
}

/** A smooth field through most of some values, by weights of Geman and McClure (1987) whose scale narrows. @param n its terms @returns its coefficients */
function smoothFit(values: Float32Array, rows: Float64Array, n: number, tolerance: number): Float64Array {
  let found = new Float64Array(n);
  found[0] = quantile(values, 0.5);
  let scale = FIRST_SCALE * tolerance;
  for (let round = 0; round < ROUNDS; round++, scale = Math.max(tolerance, scale * NARROWS)) {
    const [a, b] = [new Float64Array(n * n), new Float64Array(n)];
    for (let k = 0, at = 0; k < values.length; k++, at += TERMS) {
      let off = values[k];
      for (let q = 0; q < n; q++) off -= found[q] * rows[at + q];
      const narrow = 1 + (off / scale) * (off / scale);
      addPlace(a, b, n, rows, at, 1 / (narrow * narrow), values[k]);
    }
    for (let q = 0; q < n; q++) {
      a[q * n + q] += (q > 2 ? STIFF : 1e-6) * values.length;
      for (let z = 0; z < q; z++) a[z * n + q] = a[q * n + z];
    }
    if (!solveCholesky(a, b, n)) break;
    found = b;
  }
  return found;
}

/**
 * How much each place looks like the paint of some others: one surface of one paint has, under each light by itself, light and colour that change
 * smoothly over it. @param of places that are taken for it, most of them rightly. @param within places that are told of; all where left out
 * @returns 1 where a place is what is expected under every light, down to -1 where it is something else, 0 where no light tells
 */
export function likeOnePaint(view: StraightView, of: readonly number[], tolerance: PaintTolerance, within?: readonly number[]): Float32Array {
  const { width, height, middle, horizon } = view;
  const [sum, told] = [new Float32Array(width * height), new Uint8Array(width * height)];
  for (const light of view.lights) {
    const clear = of.filter((i) => light.mute[i] === 0);
    if (clear.length < FEWEST) continue;
    const step = Math.max(1, Math.floor(clear.length / SAMPLES));
    const used = clear.filter((_, k) => k % step === 0);
    const rows = termsAt(used, view);
    const there = (values: Float32Array): Float32Array => Float32Array.from(used, (i) => values[i]);
    const [y, red, blue] = [smoothFit(there(light.y), rows, TERMS, tolerance.light), smoothFit(there(light.red), rows, FLAT, tolerance.colour), smoothFit(there(light.blue), rows, FLAT, tolerance.colour)];
    const look = (i: number): void => {
      if (light.mute[i] > 0) return;
      const u = (2 * ((i % width) - middle)) / width;
      const v = (2 * (Math.floor(i / width) - horizon)) / height;
      const off = (light.y[i] - (y[0] + y[1] * u + y[2] * v + y[3] * u * u + y[4] * u * v + y[5] * v * v)) / (2 * tolerance.light);
      const warm = (light.red[i] - (red[0] + red[1] * u + red[2] * v)) / (2 * tolerance.colour);
      const cool = (light.blue[i] - (blue[0] + blue[1] * u + blue[2] * v)) / (2 * tolerance.colour);
      sum[i] += Math.max(-1, 1 - off * off - warm * warm - cool * cool);
      told[i]++;
    };
    if (within) within.forEach(look);
    else for (let i = 0; i < sum.length; i++) look(i);
  }
  return sum.map((v, i) => (told[i] > 0 ? v / told[i] : 0));
}
