import type { StraightView } from './straightView';

/** A line that the edge of a ceiling may follow, on a straightened view: it leads to one of the room's two vanishing points on the horizon. */
interface LevelLine {
  readonly slope: number;
  /** Column at which it meets the horizon. */
  readonly meets: number;
  /** Which side of that it lies on: -1 or 1; 0: both. */
  readonly side: -1 | 0 | 1;
}

/** Where a ceiling ends, column by column. */
export interface Outline {
  /** Row of its edge; above the picture where it has none there. */
  readonly edge: Float32Array;
  /** The line that the edge follows, by its number: where it changes, another wall begins. */
  readonly wall: Int32Array;
  /** Share of columns whose edge lies in the picture, how much of an edge is there, 0..1, and how often it leaps. */
  readonly within: number;
  readonly contrast: number;
  readonly leaps: number;
  /** What it costs: the less, the better it fits. */
  readonly cost: number;
}

/** Lines along the faced wall, and on either side away from it. */
const FACED = 320;
const AWAY = 120;
/** How far above the picture lines are followed, heights. */
const ABOVE = 0.35;
/** Rows above the horizon that no ceiling comes below. */
const OVER_HORIZON = 2;
/** Steepest and flattest of lines that lead away, degrees. */
const FLATTEST = 2;
const STEEPEST = 86;
/** What a row counts that looks like the ceiling above its edge, and as what share of that one that does not: lamps and beams hang before it. */
const ROW = 0.06;
const HANGS = 0.1;
/** What a clear edge counts a column, and stops a pixel at which it counts half. */
const EDGE = 0.6;
const HALF_EDGE = 0.12;
/** What a corner costs, and a leap to somewhere else. */
const CORNER = 4;
const LEAP = 60;
/** Rows between columns that are a leap. */
const LEAPS = 6;
const NEVER = 1e9;
/** Row of a line where no ceiling ends along it: at the horizon, or on its other side. */
const BELOW = -2;
/** How high a camera hangs over the floor, in what a ceiling is higher than it. */
const RATIOS = { from: 0.6, to: 1.8, step: 0.01 } as const;

const rowAt = ({ slope, meets, side }: LevelLine, horizon: number, x: number): number => (side === 0 || (x - meets) * side > 0 ? horizon + slope * (x - meets) : NEVER);

function linesOf({ height, horizon, middle, focal }: StraightView, yaw: number): LevelLine[] {
  const turn = (yaw * Math.PI) / 180;
  const lines: LevelLine[] = [];
  // Nearly level ones meet the horizon far away.
  const far = Math.abs(Math.tan(turn)) < 1e-3 ? middle + 1e7 : middle + focal / Math.tan(turn);
  for (let k = 0; k < FACED; k++) {
    const row = -ABOVE * height + (k / FACED) * (horizon - OVER_HORIZON + ABOVE * height);
    lines.push({ slope: (row - horizon) / (middle - far), meets: far, side: 0 });
  }
  const near = middle - focal * Math.tan(turn);
  for (const side of [-1, 1] as const) for (let k = 0; k < AWAY; k++) lines.push({ slope: -side * Math.tan(((FLATTEST + ((STEEPEST - FLATTEST) * k) / AWAY) * Math.PI) / 180), meets: near, side });
  return lines;
}

/** Slopes of log luminance of each light, stops a pixel. */
function slopesOf({ width, height, lights }: StraightView): { gx: Float32Array; gy: Float32Array }[] {
  return lights.map(({ y: data }) => {
    const [gx, gy] = [new Float32Array(data.length), new Float32Array(data.length)];
    for (let y = 1; y < height - 1; y++) {
      for (let i = y * width + 1; i < (y + 1) * width - 1; i++) {
        const [across, down] = [(data[i + 1] - data[i - 1]) / 2, (data[i + width] - data[i - width]) / 2];
        gx[i] = Number.isFinite(across) ? across : 0;
        gy[i] = Number.isFinite(down) ? down : 0;
      }
    }
    return { gx, gy };
  });
}

/** Finds the outline of a ceiling, for what is told of how much places look like it. */
export class CeilingOutlines {
  private readonly lines: LevelLine[];
  private readonly slopes: { gx: Float32Array; gy: Float32Array }[];
  /** Of each line in each column, a column after the other: its row there (`BELOW` where no ceiling ends), the one between that column and the one before, counted from 1, and what an edge along it counts. */
  private readonly rows: Int16Array;
  private readonly slots: Int16Array;
  private readonly edges: Float32Array;

  /** @param yaw by how much walls are turned, degrees */
  constructor(private readonly view: StraightView, yaw: number) {
    this.lines = linesOf(view, yaw);
    this.slopes = slopesOf(view);
    const { width, height, horizon } = view;
    const count = this.lines.length;
    [this.rows, this.slots, this.edges] = [new Int16Array(count * width), new Int16Array(count * width), new Float32Array(count * width)];
    for (let x = 0, at = 0; x < width; x++) {
      for (let s = 0; s < count; s++, at++) {
        const line = this.lines[s];
        const exact = rowAt(line, horizon, x);
        const row = Math.max(-1, Math.min(height, Math.round(exact)));
        this.rows[at] = exact > horizon - OVER_HORIZON ? BELOW : row;
        this.slots[at] = Math.max(0, Math.min(height + 1, Math.round(rowAt(line, horizon, x - 0.5)) + 1));
        if (this.rows[at] !== BELOW && this.isWithin(x, row)) this.edges[at] = EDGE * this.edgeAt(line, x, row);
      }
    }
  }

  /** How clear an edge along a line is in a column, by the light that shows it best, 0..1. */
  private edgeAt({ slope }: LevelLine, x: number, row: number): number {
    const { width } = this.view;
    const length = Math.hypot(1, slope);
    let most = 0;
    for (const { gx, gy } of this.slopes) {
      for (let i = (row - 1) * width + x; i <= (row + 1) * width + x; i += width) {
        const clear = (Math.abs(gy[i] - slope * gx[i]) - Math.abs(gx[i] + slope * gy[i])) / length;
        if (clear > most) most = clear;
      }
    }
    return most / (most + HALF_EDGE);
  }

  private isWithin(x: number, row: number): boolean {
    return row > this.view.top[x] + 1 && row < this.view.height - 2;
  }

  /** How many rows of each column above one look like the ceiling, less those that do not. */
  private rowsAbove(like: Float32Array): Float32Array {
    const { width, height, outside } = this.view;
    const rows = new Float32Array((height + 1) * width);
    for (let i = 0; i < width * height; i++) rows[i + width] = rows[i] + (outside[i] > 0 ? 0 : like[i] < 0 ? HANGS * like[i] : like[i]);
    return rows;
  }

  /**
   * The outline that fits best: in each column the ceiling ends at one row, along a line of the room; edges of other lines follow at corners, and seldom
   * elsewhere. Exact by dynamic programming over columns (after Flint, Mei, Reid, Murray, "A dynamic programming approach to reconstructing building interiors", ECCV 2010).
   * @param like how much each place looks like the ceiling, -1..1
   */
  find(like: Float32Array): Outline {
    const { width, height } = this.view;
    const { rows, slots, edges } = this;
    const above = this.rowsAbove(like);
    const count = this.lines.length;
    let [before, now] = [new Float64Array(count), new Float64Array(count)];
    const from = new Int16Array(count * width);
    const [cheapest, whose] = [new Float64Array(height + 2), new Int16Array(height + 2)];
    for (let x = 0; x < width; x++) {
      const column = x * count;
      cheapest.fill(Infinity);
      let any = 0;
      for (let s = 0; s < count && x > 0; s++) {
        const at = slots[column + s];
        if (before[s] < cheapest[at]) {
          cheapest[at] = before[s];
          whose[at] = s;
        }
        if (before[s] < before[any]) any = s;
      }
      const leapt = before[any] + LEAP;
      for (let s = 0; s < count; s++) {
        const row = rows[column + s];
        from[column + s] = s;
        if (row === BELOW) {
          now[s] = NEVER;
          continue;
        }
        const own = -ROW * above[Math.max(0, row) * width + x] - edges[column + s];
        if (x === 0) {
          now[s] = own;
          continue;
        }
        let [least, origin] = leapt < before[s] ? [leapt, any] : [before[s], s];
        const at = slots[column + s];
        for (let near = Math.max(0, at - 1); near <= Math.min(height + 1, at + 1); near++) {
          if (cheapest[near] + CORNER >= least) continue;
          least = cheapest[near] + CORNER;
          origin = whose[near];
        }
        now[s] = least + own;
        from[column + s] = origin;
      }
      [before, now] = [now, before];
    }
    return this.traced(from, before);
  }

  private traced(from: Int16Array, costs: Float64Array): Outline {
    const { width, height, horizon, top } = this.view;
    let line = costs.reduce((best, cost, s) => (cost < costs[best] ? s : best), 0);
    const cost = costs[line];
    const [edge, wall] = [new Float32Array(width), new Int32Array(width)];
    let [within, contrast, leaps] = [0, 0, 0];
    for (let x = width - 1; x >= 0; x--) {
      edge[x] = rowAt(this.lines[line], horizon, x);
      wall[x] = line;
      const row = Math.round(edge[x]);
      if (this.isWithin(x, row) && row < height) {
        within++;
        contrast += this.edgeAt(this.lines[line], x, row);
      }
      if (x < width - 1 && Math.abs(edge[x] - edge[x + 1]) > LEAPS && Math.max(edge[x] - top[x], edge[x + 1] - top[x + 1]) > 0) leaps++;
      line = from[x * this.lines.length + line];
    }
    return { edge, wall, within: within / width, contrast: contrast / Math.max(1, within), leaps, cost };
  }

  /**
   * Where walls meet the floor: a ceiling and a floor that are level lie on one side each of the horizon, in one ratio all over the room (the planar homology of
   * Flint et al. 2010), which is told by where an edge of the floor shows. @returns its row in each column
   */
  floorUnder({ edge, wall }: Outline): Float32Array {
    const { horizon } = this.view;
    let [best, most] = [RATIOS.from, -1];
    for (let ratio = RATIOS.from; ratio <= RATIOS.to; ratio += RATIOS.step) {
      let clear = 0;
      for (let x = 0; x < edge.length; x += 2) {
        const row = Math.round(horizon + ratio * (horizon - edge[x]));
        if (this.isWithin(x, row)) clear += this.edgeAt({ ...this.lines[wall[x]], slope: -ratio * this.lines[wall[x]].slope }, x, row);
      }
      if (clear > most) [best, most] = [ratio, clear];
    }
    return edge.map((row) => horizon + best * (horizon - row));
  }
}
