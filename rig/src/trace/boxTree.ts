/** A tree of boxes about triangles, two children a node. */
export interface BoxNode {
  /** Least x, y, z, then greatest. */
  readonly box: Float64Array;
  readonly children: readonly [BoxNode, BoxNode] | null;
  /** Triangles of a leaf: a range of `order`. */
  readonly from: number;
  readonly to: number;
}

export interface BoxTree {
  readonly root: BoxNode;
  /** Numbers of the triangles, those of a leaf beside each other. */
  readonly order: Int32Array;
}

const BINS = 16;
const INSIDE_OUT = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];

function widen(box: Float64Array, at: number, by: Float64Array, from: number): void {
  for (let k = 0; k < 3; k++) {
    if (by[from + k] < box[at + k]) box[at + k] = by[from + k];
    if (by[from + 3 + k] > box[at + 3 + k]) box[at + 3 + k] = by[from + 3 + k];
  }
}

/** Half the surface of a box. */
export function halfSurface(box: Float64Array, at = 0): number {
  const [x, y, z] = [box[at + 3] - box[at], box[at + 4] - box[at + 1], box[at + 5] - box[at + 2]];
  return x < 0 ? 0 : x * y + y * z + z * x;
}

/** Boxes about single triangles, 6 numbers each. @param positions nine numbers a triangle */
function boxesOf(positions: ArrayLike<number>): Float64Array {
  const count = positions.length / 9;
  const boxes = new Float64Array(count * 6);
  for (let t = 0; t < count; t++) {
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [positions[t * 9 + k], positions[t * 9 + 3 + k], positions[t * 9 + 6 + k]];
      boxes[t * 6 + k] = Math.min(a, b, c);
      boxes[t * 6 + 3 + k] = Math.max(a, b, c);
    }
  }
  return boxes;
}

interface Split {
  readonly axis: number;
  /** Twice the place of the plane that parts the triangles' middles. */
  readonly plane: number;
}

/** Chooses planes by the surface area heuristic, in bins (Wald 2007). */
class Splitter {
  private readonly binBoxes = new Float64Array(BINS * 6);
  private readonly binCounts = new Int32Array(BINS);
  private readonly below = new Float64Array(BINS);
  private readonly side = new Float64Array(6);

  constructor(private readonly boxes: Float64Array, private readonly order: Int32Array) {}

  /** The best plane for a range, or null where all middles fall together. @param middles least and greatest of twice the middles */
  best(from: number, to: number, middles: Float64Array): Split | null {
    let found: Split | null = null;
    let least = Infinity;
    for (let axis = 0; axis < 3; axis++) {
      const [low, span] = [middles[axis], middles[axis + 3] - middles[axis]];
      if (span <= 0) continue;
      this.fill(from, to, axis, low, BINS / span);
      const bin = this.cheapest();
      if (!bin || bin.cost >= least) continue;
      least = bin.cost;
      found = { axis, plane: low + (bin.at * span) / BINS };
    }
    return found;
  }

  private fill(from: number, to: number, axis: number, low: number, scale: number): void {
    this.binCounts.fill(0);
    for (let b = 0; b < BINS; b++) this.binBoxes.set(INSIDE_OUT, b * 6);
    for (let i = from; i < to; i++) {
      const p = this.order[i] * 6;
      const b = Math.min(BINS - 1, Math.floor((this.boxes[p + axis] + this.boxes[p + 3 + axis] - low) * scale));
      this.binCounts[b]++;
      widen(this.binBoxes, b * 6, this.boxes, p);
    }
  }

  private cheapest(): { at: number; cost: number } | null {
    this.side.set(INSIDE_OUT);
    for (let b = 0, count = 0; b < BINS - 1; b++) {
      widen(this.side, 0, this.binBoxes, b * 6);
      count += this.binCounts[b];
      this.below[b] = halfSurface(this.side) * count;
    }
    this.side.set(INSIDE_OUT);
    let best: { at: number; cost: number } | null = null;
    for (let b = BINS - 1, count = 0; b > 0; b--) {
      widen(this.side, 0, this.binBoxes, b * 6);
      count += this.binCounts[b];
      const cost = this.below[b - 1] + halfSurface(this.side) * count;
      if (count > 0 && this.below[b - 1] > 0 && (!best || cost < best.cost)) best = { at: b, cost };
    }
    return best;
  }
}

/** Builds the tree. @param positions nine numbers a triangle; @param leaf triangles of a leaf, at most */
export function buildBoxTree(positions: ArrayLike<number>, leaf: number): BoxTree {
  const boxes = boxesOf(positions);
  const order = Int32Array.from({ length: boxes.length / 6 }, (_, t) => t);
  const splitter = new Splitter(boxes, order);
  const build = (from: number, to: number): BoxNode => {
    const box = Float64Array.from(INSIDE_OUT);
    const middles = Float64Array.from(INSIDE_OUT);
    for (let i = from; i < to; i++) {
      const p = order[i] * 6;
      widen(box, 0, boxes, p);
      for (let k = 0; k < 3; k++) {
        const middle = boxes[p + k] + boxes[p + 3 + k];
        if (middle < middles[k]) middles[k] = middle;
        if (middle > middles[k + 3]) middles[k + 3] = middle;
      }
    }
    if (to - from <= leaf) return { box, children: null, from, to };
    const split = splitter.best(from, to, middles);
    let at = split ? partition(from, to, split) : from;
    // Middles that fall together are simply halved.
    if (at === from || at === to) at = (from + to) >> 1;
    return { box, children: [build(from, at), build(at, to)], from, to };
  };
  const partition = (from: number, to: number, { axis, plane }: Split): number => {
    let [i, j] = [from, to - 1];
    while (i <= j) {
      const t = order[i];
      if (boxes[t * 6 + axis] + boxes[t * 6 + 3 + axis] < plane) i++;
      else {
        order[i] = order[j];
        order[j--] = t;
      }
    }
    return i;
  };
  return { root: build(0, order.length), order };
}
