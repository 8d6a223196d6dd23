import { boxBlur } from '../image/boxBlur';
import { log2Of, log2Plane } from '../image/log2Of';
import { LUMA, bilinear, createPlane, luminance, quantile, type Light, type Plane } from '../image/plane';

/** How the colour of light goes over a picture: stops of red and of blue against green, more (positive) or less than its painted surfaces have on the whole. On a coarse grid over the same picture. */
export interface CastField {
  readonly red: Plane;
  readonly blue: Plane;
}

/** Guide pixels to a cell of the grid: light on paint is smooth. */
const CELL = 4;
/** Share of places that are too dark to tell, and stops about the light's own rough texture that is no paint. */
const DARK = 0.25;
const ROUGH = 0.05;
/** Stops above which something shines by itself, about middle grey. */
const SHINES = 0.18 * 2 ** 2.4;
/** Stops off the usual paint within which a place is held to be that paint; and beyond which no lamp colours it, so that it tells nothing of light. */
const USUAL = 0.5;
const COLOURABLE = 1.2;
/** Steps of colour, and of brightness, from cell to cell that are paint and edges rather than light, stops. */
const PAINT_STEP = 0.03;
const EDGE_STEP = 0.25;
/** How smoothly light goes where no paint tells, and how much paint all over is held to be one, against what paint tells. */
const SMOOTH = 0.02;
const ONE_PAINT = 0.0005;
/** Stops off neutral of the usual paint from which on a room has no white or light paint to go by. */
const COLOURED = 0.5;
/** Of so many places one is looked at for the usual paint. */
const SAMPLED = 7;
/** The coarse grid against the fine one, and rounds of conjugate gradients on either. */
const COARSE = 4;
const COARSE_STEP = 2;
const COARSE_ROUNDS = 150;
const ROUNDS = 60;
const ENOUGH = 1e-5;

/** Places of the guide that may be light paint, and their chroma: stops of red and of blue against green. */
export interface LikelyPaint {
  readonly weight: Float32Array;
  readonly red: Float32Array;
  readonly blue: Float32Array;
  readonly logY: Float32Array;
}

/** Where light, calm paint may be, and its chroma. @param mask where it is looked for, 0..1; null: everywhere */
export function likelyPaint(light: Light, mask: Plane | null): LikelyPaint {
  const y = luminance(light).data;
  const logY = log2Plane(createPlane(light.width, light.height, y), 1e-4);
  const calm = boxBlur(logY, 2).data;
  const dark = quantile(y, DARK);
  const [weight, red, blue] = [new Float32Array(y.length), new Float32Array(y.length), new Float32Array(y.length)];
  for (let i = 0; i < y.length; i++) {
    const green = log2Of(Math.max(light.g[i], 1e-5));
    red[i] = log2Of(Math.max(light.r[i], 1e-5)) - green;
    blue[i] = log2Of(Math.max(light.b[i], 1e-5)) - green;
    if (y[i] <= dark || y[i] > SHINES) continue;
    const off = (logY.data[i] - calm[i]) / ROUGH;
    weight[i] = (mask ? mask.data[i] : 1) / (1 + off * off);
  }
  return { weight, red, blue, logY: logY.data };
}

/** Chroma that most light paint has: mean shift (Comaniciu, Meer 2002) with a kernel that narrows. */
export function usualPaint({ weight, red, blue }: LikelyPaint): readonly [number, number] {
  let [a, b] = [0, 0];
  for (let round = 0, width = 0.4; round < 12; round++, width = Math.max(0.12, width * 0.8)) {
    let [sum, p, q] = [1e-9, 0, 0];
    for (let i = 0; i < weight.length; i += SAMPLED) {
      const w = weight[i] * Math.exp(-((red[i] - a) ** 2 + (blue[i] - b) ** 2) / (2 * width * width));
      sum += w;
      p += w * red[i];
      q += w * blue[i];
    }
    [a, b] = [p / sum, q / sum];
  }
  return [a, b];
}

/** Cells of the grid: how much of each is calm enough to tell light by, how much is the usual paint, and what its colour and brightness are. */
interface Cells {
  readonly columns: number;
  readonly rows: number;
  readonly calm: Float32Array;
  readonly paint: Float32Array;
  readonly red: Float32Array;
  readonly blue: Float32Array;
  readonly logY: Float32Array;
}

/** Sums over cells, not divided yet, and how many places each has. */
interface CellSums extends Cells {
  readonly count: Float32Array;
}
const NUMBERS = ['count', 'calm', 'paint', 'red', 'blue', 'logY'] as const;
function emptySums(columns: number, rows: number): CellSums {
  const plane = (): Float32Array => new Float32Array(columns * rows);
  return { columns, rows, count: plane(), calm: plane(), paint: plane(), red: plane(), blue: plane(), logY: plane() };
}

function sumsOf({ weight, red, blue, logY }: LikelyPaint, width: number, height: number, [usualRed, usualBlue]: readonly [number, number]): CellSums {
  const [columns, rows] = [Math.max(2, Math.round(width / CELL)), Math.max(2, Math.round(height / CELL))];
  const sums = emptySums(columns, rows);
  for (let y = 0; y < height; y++) {
    const row = Math.min(rows - 1, Math.floor((y * rows) / height)) * columns;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const at = row + Math.min(columns - 1, Math.floor((x * columns) / width));
      const p = red[i] - usualRed;
      const q = blue[i] - usualBlue;
      const off = p * p + q * q;
      const near = Math.max(0, 1 - off / USUAL ** 2);
      const lit = Math.max(0, 1 - off / COLOURABLE ** 2);
      const w = weight[i] * lit * lit;
      sums.count[at]++;
      sums.logY[at] += logY[i];
      sums.calm[at] += w;
      sums.paint[at] += weight[i] * near * near;
      sums.red[at] += w * p;
      sums.blue[at] += w * q;
    }
  }
  return sums;
}

/** The same on a coarser grid: each cell counts for the one that its middle lies in. */
function coarser(fine: CellSums, times: number): CellSums {
  const [columns, rows] = [Math.max(2, Math.round(fine.columns / times)), Math.max(2, Math.round(fine.rows / times))];
  const sums = emptySums(columns, rows);
  for (let y = 0; y < fine.rows; y++) {
    for (let x = 0; x < fine.columns; x++) {
      const at = Math.floor(((y + 0.5) * rows) / fine.rows) * columns + Math.floor(((x + 0.5) * columns) / fine.columns);
      for (const each of NUMBERS) sums[each][at] += fine[each][y * fine.columns + x];
    }
  }
  return sums;
}

function meansOf({ columns, rows, count, calm, paint, red, blue, logY }: CellSums): Cells {
  const coloured = (sum: Float32Array): Float32Array => sum.map((v, k) => (calm[k] > 0 ? v / calm[k] : v));
  const share = (sum: Float32Array): Float32Array => sum.map((v, k) => v / count[k]);
  return { columns, rows, calm: share(calm), paint: share(paint), red: coloured(red), blue: coloured(blue), logY: share(logY) };
}

/** How much each step from a cell to its right, and to the one below, is a step of light: both are calm, and it is small. */
function stepsOfLight({ columns, rows, calm, red, blue, logY }: Cells, paintStep: number): { readonly right: Float32Array; readonly down: Float32Array } {
  const [right, down] = [new Float32Array(columns * rows), new Float32Array(columns * rows)];
  const share = (i: number, j: number): number => {
    const step = ((red[j] - red[i]) ** 2 + (blue[j] - blue[i]) ** 2) / paintStep ** 2 + ((logY[j] - logY[i]) / EDGE_STEP) ** 2;
    return Math.min(calm[i], calm[j]) * Math.exp(-step);
  };
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      const i = y * columns + x;
      if (x + 1 < columns) right[i] = share(i, i + 1);
      if (y + 1 < rows) down[i] = share(i, i + columns);
    }
  }
  return { right, down };
}

/** The system to solve: how firmly each cell is held to its right neighbour, to the one below, and to nothing at all. */
interface System {
  readonly columns: number;
  readonly right: Float32Array;
  readonly down: Float32Array;
  readonly held: Float32Array;
}

/** Steps of light are kept, elsewhere it goes smoothly, and paint all over is a little held to be one. */
function systemOf({ columns, rows, paint }: Cells, right: Float32Array, down: Float32Array, onePaint: number): System {
  const within = (i: number, by: number): boolean => (by === 1 ? (i + 1) % columns !== 0 : i + columns < columns * rows);
  return { columns, right: right.map((v, i) => (within(i, 1) ? v + SMOOTH : 0)), down: down.map((v, i) => (within(i, columns) ? v + SMOOTH : 0)), held: paint.map((v) => onePaint * v) };
}

/**
 * Applies the system's matrix. What is held to nothing has a share of 0. Vectors have a row of zeros before and behind, so that every
 * cell has neighbours. @returns the product of `x` and what comes out
 */
function applySystem({ columns, right, down, held }: System, x: Float64Array, out: Float64Array): number {
  const size = held.length;
  let product = 0;
  for (let i = 0, k = columns; i < size; i++, k++) {
    const v = x[k];
    const above = i < columns ? 0 : down[i - columns] * (v - x[k - columns]);
    const before = i < 1 ? 0 : right[i - 1] * (v - x[k - 1]);
    const image = held[i] * v + before + above + right[i] * (v - x[k + 1]) + down[i] * (v - x[k + columns]);
    out[k] = image;
    product += v * image;
  }
  return product;
}

/** What the system is to give: steps of light as they are, and held cells at their own chroma. */
function wantedOf({ columns, held }: System, right: Float32Array, down: Float32Array, chroma: Float32Array): Float64Array {
  const wanted = new Float64Array(held.length + 2 * columns);
  const step = (i: number, by: number, share: number): void => {
    if (share === 0) return;
    const d = share * (chroma[i + by] - chroma[i]);
    wanted[columns + i + by] += d;
    wanted[columns + i] -= d;
  };
  for (let i = 0; i < held.length; i++) {
    wanted[columns + i] += held[i] * chroma[i];
    step(i, 1, right[i]);
    step(i, columns, down[i]);
  }
  return wanted;
}

const dot = (a: Float64Array, b: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
};

/** Light that has the given steps, by conjugate gradients (Hestenes, Stiefel 1952). @param right,down how much each step is one of light @param x what to begin with; changed in its place */
function integrate(system: System, right: Float32Array, down: Float32Array, chroma: Float32Array, x: Float64Array, rounds: number): void {
  const { columns } = system;
  const residual = wantedOf(system, right, down, chroma);
  const enough = ENOUGH * ENOUGH * dot(residual, residual);
  const [direction, image] = [new Float64Array(residual.length), new Float64Array(residual.length)];
  direction.set(x, columns);
  applySystem(system, direction, image);
  for (let i = 0; i < residual.length; i++) residual[i] -= image[i];
  direction.set(residual);
  let length = dot(residual, residual);
  for (let round = 0; round < rounds && length > enough; round++) {
    const along = length / applySystem(system, direction, image);
    let next = 0;
    for (let i = 0, k = columns; i < x.length; i++, k++) {
      x[i] += along * direction[k];
      const rest = residual[k] - along * image[k];
      residual[k] = rest;
      next += rest * rest;
    }
    const keep = next / length;
    for (let k = columns; k < columns + x.length; k++) direction[k] = residual[k] + keep * direction[k];
    length = next;
  }
}

/** Stops of red and of blue that light has at each cell. */
type Solved = readonly [Float64Array, Float64Array];

/** @param step steps of colour that are paint, stops @param onePaint how much paint all over is held to be one @param start changed in its place */
function solve(cells: Cells, step: number, onePaint: number, start: Solved, rounds: number): Solved {
  const { right, down } = stepsOfLight(cells, step);
  const system = systemOf(cells, right, down, onePaint);
  [cells.red, cells.blue].forEach((chroma, k) => integrate(system, right, down, chroma, start[k], rounds));
  return start;
}

/** What was solved on a coarse grid, on a finer one. */
function carried(values: Float64Array, { columns, rows }: Cells, fine: Cells): Float64Array {
  const plane = createPlane(columns, rows, Float32Array.from(values));
  return Float64Array.from({ length: fine.columns * fine.rows }, (_, i) => bilinear(plane, (((i % fine.columns) + 0.5) * columns) / fine.columns - 0.5, ((Math.floor(i / fine.columns) + 0.5) * rows) / fine.rows - 0.5));
}

/**
 * How the colour of light goes over painted surfaces: mixed lamps and daylight, colour that floors and textiles throw onto ceilings. Paint
 * has one colour over a surface and changes in steps; light goes smoothly. So small steps of chroma between neighbouring places of
 * light, calm paint are integrated as light, large ones left out as paint (retinex: Land and McCann, "Lightness and Retinex Theory", 1971; Horn,
 * "Determining Lightness from an Image", 1974, as least squares), and what lies between is filled smoothly. Paint stays what it is: the mean is 0.
 * @param light working light on the guide. @param mask where paint is looked for, 0..1; null: everywhere
 */
export function castField(light: Light, mask: Plane | null): CastField {
  const paint = likelyPaint(light, mask);
  const usual = usualPaint(paint);
  const sums = sumsOf(paint, light.width, light.height, usual);
  // How light goes from end to end is found on a coarse grid, where steps between neighbours are larger.
  const [coarse, fine] = [meansOf(coarser(sums, COARSE)), meansOf(sums)];
  const size = coarse.columns * coarse.rows;
  const first = solve(coarse, COARSE_STEP * PAINT_STEP, COARSE ** 2 * ONE_PAINT, [new Float64Array(size), new Float64Array(size)], COARSE_ROUNDS);
  const solved = solve(fine, PAINT_STEP, ONE_PAINT, [carried(first[0], coarse, fine), carried(first[1], coarse, fine)], ROUNDS);
  // A room of wood all over has no light paint: what varies there is the wood.
  const trust = Math.exp(-(((usual[0] ** 2 + usual[1] ** 2) / COLOURED ** 2) ** 2));
  const weights = Float64Array.from(fine.paint);
  const area = weights.reduce((sum, w) => sum + w, 1e-9);
  const [red, blue] = solved.map((values): Plane => {
    const mean = dot(weights, values) / area;
    return createPlane(fine.columns, fine.rows, Float32Array.from(values, (v) => trust * (v - mean)));
  });
  return { red, blue };
}


/** By how much gains lie above 1 that take a share of a cast away; a grey keeps its luminance. A plane a colour. */
export function gainsAgainst({ red, blue }: CastField, share: number): readonly [Plane, Plane, Plane] {
  const planes = [0, 1, 2].map(() => createPlane(red.width, red.height)) as unknown as [Plane, Plane, Plane];
  for (let i = 0; i < red.data.length; i++) {
    const [r, b] = [2 ** (-share * red.data[i]), 2 ** (-share * blue.data[i])];
    const y = r * LUMA[0] + LUMA[1] + b * LUMA[2];
    planes[0].data[i] = r / y - 1;
    planes[1].data[i] = 1 / y - 1;
    planes[2].data[i] = b / y - 1;
  }
  return planes;
}
