import { createFlowGrid, gridCut } from '../image/gridCut';
import { boxAround, placesOf, type Box, type PlaneSize } from './healLook';

/** Whole capacities to a stop of difference. */
const UNITS = 256;
/** What a seam costs a pixel, however little it shows. */
const SHORT = 6;
/** What a pixel costs that is rougher or smoother than it is hereabouts by a factor of two, and one that is brighter or darker by a stop, or of another colour. */
const ROUGH = 10;
const STRANGE = 5;
/** Stops by which it shows where one of two is not to be had. */
const MISSING = 4;
/** What it costs to take what is not to be had. */
const NEVER = 1 << 22;
/** Pixels about a seam within which it may move on a finer grid. */
const BAND = 3;

/** What is to be expected in a hole, by what lies about it: log light, a plane a colour, and log2 of roughness. */
export interface Usual {
  readonly logs: readonly Float32Array[];
  readonly rough: Float32Array;
}

/** A picture with a hole, and what is told of it. */
export interface HolePicture {
  readonly size: PlaneSize;
  /** What must fit, a plane a colour, and log2 of roughness. */
  readonly logs: readonly [Float32Array, Float32Array, Float32Array];
  readonly rough: Float32Array;
  readonly usual: Usual;
  readonly hole: Uint8Array;
  readonly open: Uint8Array;
}

/** Which of some offsets each pixel of a hole is taken by, so that what meets fits: a labelling by expansion moves (Boykov, Veksler, Zabih, "Fast Approximate Energy Minimization via Graph Cuts", 2001). */
export class PatchLabels {
  /** Pixels of the hole, and the place of each among them, -1 outside. */
  private readonly places: Int32Array;
  private readonly numbers: Int32Array;
  /** Labels of the places. */
  private readonly labels: Int16Array;
  /** Of each label and place: the pixel that it is taken from, -1: there is none; and what that costs by itself. */
  private readonly sources: Int32Array;
  private readonly costs: Int32Array;
  /** The part of the grid that holds the hole: nothing else is cut. */
  private readonly box: Box;
  /** 1 where a place may change its label. */
  private readonly free: Uint8Array;

  /** @param start labels of pixels in the beginning, as a coarser grid had them: only those near seams are looked at once more (Lombaert et al., "A Multilevel Banded Graph Cuts Method", 2005); null: the first label, or the first that a pixel can have */
  constructor(private readonly picture: HolePicture, private readonly offsets: readonly { readonly dx: number; readonly dy: number }[], start: Int16Array | null) {
    const { size: { width }, hole } = picture;
    this.places = Int32Array.from(placesOf(hole));
    this.numbers = new Int32Array(hole.length).fill(-1);
    this.places.forEach((i, k) => (this.numbers[i] = k));
    this.box = boxAround(this.places, width);
    const n = this.places.length;
    this.sources = new Int32Array(offsets.length * n);
    this.costs = new Int32Array(offsets.length * n);
    for (let label = 0; label < offsets.length; label++) for (let k = 0; k < n; k++) this.sources[label * n + k] = this.sourceOf(this.places[k], label);
    for (let label = 0; label < offsets.length; label++) for (let k = 0; k < n; k++) this.costs[label * n + k] = this.alone(k, label);
    this.labels = new Int16Array(n);
    for (let k = 0; k < n; k++) {
      let label = start ? start[this.places[k]] : 0;
      for (let other = 0; this.sources[label * n + k] < 0 && other < offsets.length; other++) label = other;
      this.labels[k] = label;
    }
    this.free = start ? this.nearSeams(start) : new Uint8Array(n).fill(1);
  }

  /** Places with others near them that have another label, or none. */
  private nearSeams(start: Int16Array): Uint8Array {
    const { width, height } = this.picture.size;
    return Uint8Array.from(this.places, (i, k) => {
      if (start[i] !== this.labels[k]) return 1;
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let v = Math.max(0, y - BAND); v <= Math.min(height - 1, y + BAND); v++) for (let q = v * width + Math.max(0, x - BAND); q <= v * width + Math.min(width - 1, x + BAND); q++) if (start[q] !== start[i]) return 1;
      return 0;
    });
  }

  /** The pixel that another is taken from under a label, -1: there is none. */
  private sourceOf(i: number, label: number): number {
    const { size: { width, height }, open, hole } = this.picture;
    const { dx, dy } = this.offsets[label];
    const x = (i % width) + dx;
    const y = Math.floor(i / width) + dy;
    if (x < 0 || y < 0 || x >= width || y >= height) return -1;
    const j = y * width + x;
    return open[j] && !hole[j] ? j : -1;
  }

  /** The pixel to the right (0), below (1), to the left (2), above (3); -1: the picture ends. */
  private neighbour(i: number, way: number): number {
    const { width, height } = this.picture.size;
    const x = i % width;
    if (way === 0) return x + 1 < width ? i + 1 : -1;
    if (way === 2) return x > 0 ? i - 1 : -1;
    if (way === 1) return i + width < width * height ? i + width : -1;
    return i >= width ? i - width : -1;
  }

  private apart(i: number, j: number): number {
    if (i < 0 || j < 0) return MISSING;
    const { logs } = this.picture;
    return Math.abs(logs[0][i] - logs[0][j]) + Math.abs(logs[1][i] - logs[1][j]) + Math.abs(logs[2][i] - logs[2][j]);
  }

  /** How much it shows that two places side by side are taken by these labels. */
  private seam(p: number, q: number, a: number, b: number): number {
    if (a === b) return 0;
    const { sources, places: { length: n } } = this;
    return SHORT + Math.round(UNITS * (this.apart(sources[a * n + p], sources[b * n + p]) + this.apart(sources[a * n + q], sources[b * n + q])));
  }

  /** What it costs a place to have a label: how strange that is there, and what it shows at the rim. */
  private alone(k: number, label: number): number {
    const { logs, rough, usual, hole, open } = this.picture;
    const own = this.sources[label * this.places.length + k];
    if (own < 0) return NEVER;
    const p = this.places[k];
    const strange = Math.abs(logs[0][own] - usual.logs[0][p]) + Math.abs(logs[1][own] - usual.logs[1][p]) + Math.abs(logs[2][own] - usual.logs[2][p]);
    let cost = Math.round(ROUGH * Math.abs(rough[own] - usual.rough[p]) + STRANGE * strange);
    for (let way = 0; way < 4; way++) {
      const q = this.neighbour(p, way);
      if (q < 0 || hole[q] || !open[q]) continue;
      cost += SHORT + Math.round(2 * UNITS * this.apart(q, this.sourceOf(q, label)));
    }
    return cost;
  }

  /** Lets pixels take a label where that makes the whole show less. @returns whether any did */
  private expand(label: number): boolean {
    const { labels, costs, numbers, places, free, picture: { size: { width } } } = this;
    const n = places.length;
    const { left, top, right, bottom } = this.box;
    const across = right - left + 1;
    const grid = createFlowGrid(across, bottom - top + 1);
    const inBox = (i: number): number => (Math.floor(i / width) - top) * across + (i % width) - left;
    const pay = (i: number, cost: number): void => {
      if (cost > 0) grid.sink[i] += cost;
      else grid.source[i] -= cost;
    };
    for (let k = 0; k < n; k++) {
      if (!free[k]) continue;
      const p = places[k];
      const at = inBox(p);
      pay(at, costs[label * n + k] - costs[labels[k] * n + k]);
      for (let way = 0; way < 4; way++) {
        const next = this.neighbour(p, way);
        const m = next < 0 ? -1 : numbers[next];
        if (m < 0 || (labels[k] === label && labels[m] === label)) continue;
        if (!free[m]) {
          pay(at, this.seam(k, m, label, labels[m]) - this.seam(k, m, labels[k], labels[m]));
          continue;
        }
        if (way > 1) continue;
        const other = inBox(next);
        const now = this.seam(k, m, labels[k], labels[m]);
        const taken = this.seam(k, m, labels[k], label);
        const taking = this.seam(k, m, label, labels[m]);
        pay(at, taking - now);
        pay(other, -taking);
        grid.ways[other * 4 + way + 2] += Math.max(0, taken + taking - now);
      }
    }
    // The source's side is the least that takes it: what gains nothing stays as it is.
    const takes = gridCut(grid);
    let changed = false;
    for (let k = 0; k < n; k++) {
      if (!takes[inBox(places[k])] || labels[k] === label) continue;
      labels[k] = label;
      changed = true;
    }
    return changed;
  }

  /** The label of each pixel of the picture, -1 outside the hole. @param rounds how often each is tried, at most */
  solve(rounds: number): Int16Array {
    for (let round = 0; round < rounds; round++) {
      let changed = false;
      for (let label = 0; label < this.offsets.length; label++) if (this.expand(label)) changed = true;
      if (!changed) break;
    }
    const all = new Int16Array(this.numbers.length).fill(-1);
    this.places.forEach((i, k) => (all[i] = this.labels[k]));
    return all;
  }

  /** Whether every pixel is taken from somewhere. */
  isWhole(): boolean {
    const n = this.places.length;
    return this.labels.every((label, k) => this.sources[label * n + k] >= 0);
  }
}
