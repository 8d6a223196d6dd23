import { solveCholesky } from '../geometry/solveCholesky';
import { quantile } from '../image/plane';
import type { StraightLight, SeenView } from './straightView';

/** How far the light and the colour of one painted surface may lie off what is smooth, stops. */
export interface PaintTolerance {
  readonly light: number;
  readonly colour: number;
  /** Where three lights or more tell, the one that agrees least is left aside: gloss and shadows are of one light. */
  readonly spared?: boolean;
}

/** Places that a fit is made of, at most, and its rounds. */
const SAMPLES = 1500;
const ROUNDS = 8;
/** Fewest places that tell what a surface looks like. */
const FEWEST = 60;
/** The first scale of a fit, in tolerances, and by what it narrows from round to round. */
const FIRST_SCALE = 4;
const NARROWS = 0.7;
/** Lights of which one may be left aside. */
const MANY = 3;
/** Terms of a plane, and with its curvature. */
const FLAT = 3;
const TERMS = 6;
/** What holds curvature back, a sample. */
const STIFF = 1e-3;

/** Powers of x and y in each term. */
const POWERS = [[0, 0], [1, 0], [0, 1], [2, 0], [1, 1], [0, 2]] as const;

/** Where places lie, across and down, from the middle and the horizon, halves of the picture. */
interface Where {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

const across = ({ width, middle }: SeenView, x: number): number => (2 * (x - middle)) / width;
const down = ({ height, horizon }: SeenView, y: number): number => (2 * (y - horizon)) / height;

/** Weighted sums of powers of x and y over places, by the power of y and then of x, and of their products with values, by term. */
interface Moments {
  readonly powers: Float64Array;
  readonly values: Float64Array;
}
const ORDERS = 5;

/** Sums over places by how far their values lie off a field. @param curved whether curvature is asked for, too */
function momentsOf(values: Float32Array, { x: xs, y: ys }: Where, found: Float64Array, curved: boolean, scale: number): Moments {
  const [f0, f1, f2, f3, f4, f5] = found;
  let [s, sx, sy, sxx, sxy, syy, sxxx, sxxy, sxyy, syyy, sxxxx, sxxxy, sxxyy, sxyyy, syyyy] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [v0, vx, vy, vxx, vxy, vyy] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < values.length; k++) {
    const [value, x, y] = [values[k], xs[k], ys[k]];
    const [xx, xy, yy] = [x * x, x * y, y * y];
    const off = (value - (f0 + f1 * x + f2 * y + (curved ? f3 * xx + f4 * xy + f5 * yy : 0))) / scale;
    const narrow = 1 + off * off;
    const w = 1 / (narrow * narrow);
    const v = w * value;
    s += w; sx += w * x; sy += w * y; sxx += w * xx; sxy += w * xy; syy += w * yy;
    v0 += v; vx += v * x; vy += v * y;
    if (!curved) continue;
    const [wxx, wyy] = [w * xx, w * yy];
    sxxx += wxx * x; sxxy += wxx * y; sxyy += wyy * x; syyy += wyy * y;
    sxxxx += wxx * xx; sxxxy += wxx * xy; sxxyy += wxx * yy; sxyyy += wyy * xy; syyyy += wyy * yy;
    vxx += v * xx; vxy += v * xy; vyy += v * yy;
  }
  return {
    powers: Float64Array.of(s, sx, sxx, sxxx, sxxxx, sy, sxy, sxxy, sxxxy, 0, syy, sxyy, sxxyy, 0, 0, syyy, sxyyy, 0, 0, 0, syyyy, 0, 0, 0, 0),
    values: Float64Array.of(v0, vx, vy, vxx, vxy, vyy),
  };
}

/** A smooth field through most of some values, by weights of Geman and McClure (1987) whose scale narrows. @param n its terms, a plane's or with curvature @returns its coefficients */
function smoothFit(values: Float32Array, where: Where, n: typeof FLAT | typeof TERMS, tolerance: number): Float64Array {
  let found: Float64Array = new Float64Array(TERMS);
  found[0] = quantile(values, 0.5);
  let scale = FIRST_SCALE * tolerance;
  for (let round = 0; round < ROUNDS; round++, scale = Math.max(tolerance, scale * NARROWS)) {
    const { powers, values: b } = momentsOf(values, where, found, n > FLAT, scale);
    const a = new Float64Array(n * n);
    for (let q = 0; q < n; q++) {
      for (let z = 0; z < n; z++) a[q * n + z] = powers[(POWERS[q][1] + POWERS[z][1]) * ORDERS + POWERS[q][0] + POWERS[z][0]];
      a[q * n + q] += (q >= FLAT ? STIFF : 1e-6) * values.length;
    }
    if (!solveCholesky(a, b, n)) break;
    found = b;
  }
  return found;
}

/** What one light shows of a paint, as smooth fields: light, red and blue. */
interface Paint {
  readonly light: StraightLight;
  readonly y: Float64Array;
  readonly red: Float64Array;
  readonly blue: Float64Array;
}

/** What lights show of the paint of some places; those that show too few of them are left out. */
function paintOf(view: SeenView, of: readonly number[], tolerance: PaintTolerance): Paint[] {
  return view.lights.flatMap((light): Paint[] => {
    const clear = of.filter((i) => light.mute[i] === 0);
    if (clear.length < FEWEST) return [];
    const step = Math.max(1, Math.floor(clear.length / SAMPLES));
    const used = clear.filter((_, k) => k % step === 0);
    const where: Where = { x: Float64Array.from(used, (i) => across(view, i % view.width)), y: Float64Array.from(used, (i) => down(view, Math.floor(i / view.width))) };
    const there = (values: Float32Array): Float32Array => Float32Array.from(used, (i) => values[i]);
    return [{ light, y: smoothFit(there(light.y), where, TERMS, tolerance.light), red: smoothFit(there(light.red), where, FLAT, tolerance.colour), blue: smoothFit(there(light.blue), where, FLAT, tolerance.colour) }];
  });
}

/** How much a place looks like a paint under one light, up to 1, and -1 at least. */
function likeness({ light, y, red, blue }: Paint, i: number, u: number, v: number, tolerance: PaintTolerance): number {
  const off = (light.y[i] - (y[0] + y[1] * u + y[2] * v + y[3] * u * u + y[4] * u * v + y[5] * v * v)) / (2 * tolerance.light);
  const warm = (light.red[i] - (red[0] + red[1] * u + red[2] * v)) / (2 * tolerance.colour);
  const cool = (light.blue[i] - (blue[0] + blue[1] * u + blue[2] * v)) / (2 * tolerance.colour);
  return Math.max(-1, 1 - off * off - warm * warm - cool * cool);
}

/**
 * How much each place looks like the paint of some others: one surface of one paint has, under each light by itself, light and colour that change
 * smoothly over it. @param of places that are taken for it, most of them rightly. @param within places that are told of; all where left out
 * @returns 1 where a place is what is expected under every light, down to -1 where it is something else, 0 where no light tells
 */
export function likeOnePaint(view: SeenView, of: readonly number[], tolerance: PaintTolerance, within?: readonly number[]): Float32Array {
  const { width, height } = view;
  const out = new Float32Array(width * height);
  const paints = paintOf(view, of, tolerance);
  const look = (i: number, u: number, v: number): void => {
    let [sum, told, least] = [0, 0, Infinity];
    for (let k = 0; k < paints.length; k++) {
      if (paints[k].light.mute[i] > 0) continue;
      const like = likeness(paints[k], i, u, v, tolerance);
      sum += like;
      if (like < least) least = like;
      told++;
    }
    if (tolerance.spared && told >= MANY) out[i] = (sum - least) / (told - 1);
    else if (told > 0) out[i] = sum / told;
  };
  if (within) for (const i of within) look(i, across(view, i % width), down(view, Math.floor(i / width)));
  else for (let y = 0, i = 0; y < height; y++) for (let x = 0, v = down(view, y); x < width; x++, i++) look(i, across(view, x), v);
  return out;
}
