import { solveCholesky } from '../geometry/solveCholesky';
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
/** What holds curvature back, a sample. */
const STIFF = 1e-3;

/** Terms of a smooth field at a place: plane, or plane and curvature. */
const terms = (x: number, y: number, curved: boolean): number[] => (curved ? [1, x, y, x * x, x * y, y * y] : [1, x, y]);

/** A smooth field through most of some values, by weights of Geman and McClure (1987) whose scale narrows. @returns its coefficients */
function smoothFit(values: Float32Array, places: readonly number[], at: (i: number) => readonly [number, number], curved: boolean, tolerance: number): Float64Array {
  const n = curved ? 6 : 3;
  const rows = places.map((i) => terms(...at(i), curved));
  let found = new Float64Array(n);
  found[0] = places.map((i) => values[i]).sort((a, b) => a - b)[places.length >> 1];
  let scale = FIRST_SCALE * tolerance;
  for (let round = 0; round < ROUNDS; round++, scale = Math.max(tolerance, scale * NARROWS)) {
    const [a, b] = [new Float64Array(n * n), new Float64Array(n)];
    for (let k = 0; k < rows.length; k++) {
      const row = rows[k];
      let off = values[places[k]];
      for (let q = 0; q < n; q++) off -= found[q] * row[q];
      const weight = 1 / (1 + (off / scale) ** 2) ** 2;
      for (let q = 0; q < n; q++) {
        b[q] += weight * row[q] * values[places[k]];
        for (let z = 0; z < n; z++) a[q * n + z] += weight * row[q] * row[z];
      }
    }
    for (let q = 0; q < n; q++) a[q * n + q] += (q > 2 ? STIFF : 1e-6) * rows.length;
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
  const at = (i: number): readonly [number, number] => [(2 * ((i % width) - middle)) / width, (2 * (Math.floor(i / width) - horizon)) / height];
  const [sum, told] = [new Float32Array(width * height), new Uint8Array(width * height)];
  for (const light of view.lights) {
    const clear = of.filter((i) => light.mute[i] === 0);
    if (clear.length < FEWEST) continue;
    const step = Math.max(1, Math.floor(clear.length / SAMPLES));
    const used = clear.filter((_, k) => k % step === 0);
    const [y, red, blue] = [smoothFit(light.y, used, at, true, tolerance.light), smoothFit(light.red, used, at, false, tolerance.colour), smoothFit(light.blue, used, at, false, tolerance.colour)];
    const look = (i: number): void => {
      if (light.mute[i] > 0) return;
      const [u, v] = at(i);
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
