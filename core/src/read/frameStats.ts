import type { Pixels } from '../image/plane';

/** Cells of the grid on which exposure is read, along the longer and the shorter side of a 3:2 picture. */
const LONG = 24;

/** What a frame's picture says of its exposure and sharpness, small enough to keep. */
export interface FrameStats {
  readonly columns: number;
  readonly rows: number;
  /** Mean encoded luma of each cell, 0..255, row by row. */
  readonly level: readonly number[];
  /** Share of each cell that is clipped, per cent. */
  readonly clipped: readonly number[];
  /** How much of the contrast between neighbours two pixels apart is there between direct neighbours already; falls with blur. */
  readonly sharpness: number;
}

const CLIPPED = 250;
/** Grey steps between neighbours that count as structure. */
const STEP = 24;

const luma = (data: Pixels['data'], p: number): number => 0.3 * data[p] + 0.6 * data[p + 1] + 0.1 * data[p + 2];

/** Steps of row y: over three pixels where there are any, and the largest over one within each. */
function stepsOfRow({ width, data }: Pixels, y: number): readonly [near: number, far: number] {
  let near = 0;
  let far = 0;
  for (let x = 2; x < width - 2; x += 2) {
    const p = (y * width + x) * 3;
    const [before, here, next, after] = [luma(data, p - 3), luma(data, p), luma(data, p + 3), luma(data, p + 6)];
    const step = Math.abs(after - before);
    if (step < STEP) continue;
    far += step;
    near += Math.max(Math.abs(here - before), Math.abs(next - here), Math.abs(after - next));
  }
  return [near, far];
}

/** Ratio of steps over one pixel to steps over three, where there are steps: about 0.5 for sharp edges, 1/3 for ramps. */
function sharpnessOf(proxy: Pixels): number {
  let near = 0;
  let far = 0;
  for (let y = 2; y < proxy.height - 2; y += 3) {
    const steps = stepsOfRow(proxy, y);
    near += steps[0];
    far += steps[1];
  }
  return far > 50 * STEP ? near / far : 0;
}

/** Mean luma and clipped share, per cent, of some pixels of a cell. */
function cellOf({ width, data }: Pixels, left: number, top: number, right: number, bottom: number): readonly [level: number, clipped: number] {
  let sum = 0;
  let high = 0;
  let count = 0;
  for (let y = top; y < bottom; y += 3) {
    for (let x = left; x < right; x += 3) {
      const p = (y * width + x) * 3;
      sum += luma(data, p);
      if (data[p] >= CLIPPED || data[p + 1] >= CLIPPED || data[p + 2] >= CLIPPED) high++;
      count++;
    }
  }
  return [Math.round(sum / Math.max(1, count)), Math.round((100 * high) / Math.max(1, count))];
}

/** Reads a proxy (8-bit RGB). Sharpness is 0 where there is no structure to tell by. */
export function frameStats(proxy: Pixels): FrameStats {
  const { width, height } = proxy;
  const scale = Math.max(width, height) / LONG;
  const columns = Math.max(1, Math.round(width / scale));
  const rows = Math.max(1, Math.round(height / scale));
  const level: number[] = [];
  const clipped: number[] = [];
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const cell = cellOf(proxy, Math.floor((column * width) / columns), Math.floor((row * height) / rows), Math.floor(((column + 1) * width) / columns), Math.floor(((row + 1) * height) / rows));
      level.push(cell[0]);
      clipped.push(cell[1]);
    }
  }
  return { columns, rows, level, clipped, sharpness: Math.round(1000 * sharpnessOf(proxy)) / 1000 };
}
