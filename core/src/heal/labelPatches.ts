import { createFlowGrid, gridCut } from '../image/gridCut';
import { boxAround, placesOf, type Box, type PlaneSize } from './healLook';

/** Whole capacities to a stop of difference. */
const UNITS = 256;
/** What a seam costs a pixel, however little it shows. */
const SHORT = 6;
/** What a pixel costs that is rougher or smoother than it is hereabouts by a factor of two, and one that is brighter or darker by a stop, or of another colour. */
const ROUGH = 5;
const STRANGE = 5;
/** Stops a pixel below which nothing is rough. */
const STILL = 0.03;
/** What it costs to take what is not to be had. */
const NEVER = 1 << 22;

/** What is to be expected in a hole, by what lies about it: log light, a plane a colour, and roughness. */
export interface Usual {
  readonly logs: readonly Float32Array[];
  readonly rough: Float32Array;
}

/** Which of some offsets each pixel of a hole is taken by, so that what meets fits: a labelling by expansion moves (Boykov, Veksler, Zabih, "Fast Approximate Energy Minimization via Graph Cuts", 2001). */
export class PatchLabels {
  private readonly labels: Int16Array;
  private readonly places: readonly number[];
  /** The part of the grid that holds the hole: nothing else is cut. */
  private readonly box: Box;

  /**
   * @param logs what must fit, a plane a colour; @param usual what is to be expected in the hole; @param first the label that all pixels have in the beginning, or the first that they can have
   */
  constructor(private readonly size: PlaneSize, private readonly logs: readonly Float32Array[], private readonly rough: Float32Array, private readonly usual: Usual, private readonly hole: Uint8Array, private readonly open: Uint8Array, private readonly offsets: readonly { readonly dx: number; readonly dy: number }[], first: number) {
    this.places = placesOf(hole);
    this.box = boxAround(this.places, size.width);
    this.labels = new Int16Array(hole.length).fill(-1);
    for (const i of this.places) {
      const possible = [first, ...offsets.keys()].find((label) => this.sourceOf(i, label) >= 0);
      this.labels[i] = possible ?? first;
    }
  }

  /** The pixel that another is taken from under a label, -1: there is none. */
  private sourceOf(i: number, label: number): number {
    const { width, height } = this.size;
    const { dx, dy } = this.offsets[label];
    const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
    if (x < 0 || y < 0 || x >= width || y >= height) return -1;
    const j = y * width + x;
    return this.open[j] && !this.hole[j] ? j : -1;
  }

  /** The pixel to the right (0), below (1), to the left (2), above (3); -1: the picture ends. */
  private neighbour(i: number, way: number): number {
    const { width, height } = this.size;
    const x = i % width;
    if (way === 0) return x + 1 < width ? i + 1 : -1;
    if (way === 2) return x > 0 ? i - 1 : -1;
    if (way === 1) return i + width < width * height ? i + width : -1;
    return i >= width ? i - width : -1;
  }

  private apart(i: number, j: number): number {
    const [r, g, b] = this.logs;
    return Math.abs(r[i] - r[j]) + Math.abs(g[i] - g[j]) + Math.abs(b[i] - b[j]);
  }

  /** How much it shows that two neighbours are taken by these labels. */
  private seam(p: number, q: number, a: number, b: number): number {
    if (a === b) return 0;
    const [pa, pb, qa, qb] = [this.sourceOf(p, a), this.sourceOf(p, b), this.sourceOf(q, a), this.sourceOf(q, b)];
    const at = (i: number, j: number): number => (i < 0 || j < 0 ? 4 : this.apart(i, j));
    return SHORT + Math.round(UNITS * (at(pa, pb) + at(qa, qb)));
  }

  /** What it costs a pixel to have a label: what it shows at the rim. */
  private alone(p: number, label: number): number {
    const own = this.sourceOf(p, label);
    if (own < 0) return NEVER;
    const { logs, rough } = this.usual;
    let cost = Math.round(ROUGH * Math.abs(Math.log2((this.rough[own] + STILL) / (rough[p] + STILL))) + STRANGE * this.logs.reduce((sum, log, c) => sum + Math.abs(log[own] - logs[c][p]), 0));
    for (let way = 0; way < 4; way++) {
      const q = this.neighbour(p, way);
      if (q < 0 || this.hole[q] || !this.open[q]) continue;
      const source = this.sourceOf(q, label);
      cost += source < 0 ? 4 * UNITS : SHORT + Math.round(2 * UNITS * this.apart(q, source));
    }
    return cost;
  }

  /** Lets pixels take a label where that makes the whole show less. @returns whether any did */
  private expand(label: number): boolean {
    const { width } = this.size;
    const { left, top, right, bottom } = this.box;
    const across = right - left + 1;
    const grid = createFlowGrid(across, bottom - top + 1);
    const inBox = (i: number): number => (Math.floor(i / width) - top) * across + (i % width) - left;
    const pay = (i: number, cost: number): void => {
      if (cost > 0) grid.sink[i] += cost;
      else grid.source[i] -= cost;
    };
    for (const p of this.places) {
      const at = inBox(p);
      pay(at, this.alone(p, label) - this.alone(p, this.labels[p]));
      for (const way of [0, 1]) {
        const q = this.neighbour(p, way);
        if (q < 0 || !this.hole[q]) continue;
        const [now, taken, taking] = [this.seam(p, q, this.labels[p], this.labels[q]), this.seam(p, q, this.labels[p], label), this.seam(p, q, label, this.labels[q])];
        const other = inBox(q);
        pay(at, taking - now);
        pay(other, -taking);
        grid.ways[other * 4 + way + 2] += Math.max(0, taken + taking - now);
      }
    }
    // The source's side is the least that takes it: what gains nothing stays as it is.
    const takes = gridCut(grid);
    let changed = false;
    for (const p of this.places) {
      if (!takes[inBox(p)] || this.labels[p] === label) continue;
      this.labels[p] = label;
      changed = true;
    }
    return changed;
  }

  /** The labels, -1 outside the hole. @param rounds how often each is tried, at most */
  solve(rounds: number): Int16Array {
    for (let round = 0; round < rounds; round++) {
      let changed = false;
      for (const label of this.offsets.keys()) if (this.expand(label)) changed = true;
      if (!changed) break;
    }
    return this.labels;
  }

  /** Whether every pixel is taken from somewhere. */
  isWhole(): boolean {
    return this.places.every((p) => this.sourceOf(p, this.labels[p]) >= 0);
  }
}
