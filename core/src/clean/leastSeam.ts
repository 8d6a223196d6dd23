import { createPlane, type Light, type Plane } from '../image/plane';

/** Whole capacities to a stop of difference: flows are counted without rounding. */
const UNITS = 512;
/** What any step across costs: of two seams that show as little, the shorter. */
const SHORT = 6;
/** Stops by which an edge that both pictures have makes a seam along it show less. */
const EDGE = 0.15;

/** Neighbours: right, down, left, up; `d ^ 2` is the way back. */
const WAYS = 4;

/** How much a seam shows between each pixel and its right (0) and lower (1) neighbour. */
function seamCosts(first: Light, second: Light, floor: number): [Int32Array, Int32Array] {
  const { width, height } = first;
  const n = width * height;
  const logs = [first, second].map((light) => [light.r, light.g, light.b].map((channel) => channel.map((v) => Math.log2(Math.max(floor, v)))));
  const apart = new Float32Array(n);
  for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) apart[i] = Math.max(apart[i], Math.abs(logs[0][c][i] - logs[1][c][i]));
  const cost = (i: number, j: number): number => {
    const step = (k: number): number => Math.abs(logs[k][1][i] - logs[k][1][j]);
    return SHORT + Math.round((UNITS * (apart[i] + apart[j])) / (1 + Math.min(step(0), step(1)) / EDGE));
  };
  const [right, down] = [new Int32Array(n), new Int32Array(n)];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x + 1 < width) right[i] = cost(i, i + 1);
      if (y + 1 < height) down[i] = cost(i, i + width);
    }
  }
  return [right, down];
}

/**
 * Greatest flow over a grid from pixels that must be inside to pixels that must be outside (Dinic, "Algorithm for solution of a problem of
 * maximum flow in networks with power estimation", 1970): levels by breadth first search, blocking flows by depth first search with a pointer a node.
 */
class GridFlow {
  private readonly left: Int32Array;
  private readonly level: Int32Array;
  private readonly next: Uint8Array;
  private readonly queue: Int32Array;
  private readonly path: Int32Array;
  /** Sources with a neighbour that is none. */
  private readonly rim: readonly number[];

  /** @param fixed 1: source, 2: sink, 0: in between */
  constructor(private readonly width: number, private readonly fixed: Uint8Array, right: Int32Array, down: Int32Array) {
    const n = fixed.length;
    this.left = new Int32Array(n * WAYS);
    this.level = new Int32Array(n);
    this.next = new Uint8Array(n);
    this.queue = new Int32Array(n);
    this.path = new Int32Array(n + 1);
    for (let i = 0; i < n; i++) {
      this.left[i * WAYS] = right[i];
      this.left[i * WAYS + 1] = down[i];
      if (i % width > 0) this.left[i * WAYS + 2] = right[i - 1];
      if (i >= width) this.left[i * WAYS + 3] = down[i - width];
    }
    this.rim = Array.from({ length: n }, (_, i) => i).filter((i) => fixed[i] === 1 && [0, 1, 2, 3].some((way) => this.left[i * WAYS + way] > 0 && fixed[this.neighbour(i, way)] !== 1));
  }

  private neighbour(i: number, way: number): number {
    return way === 0 ? i + 1 : way === 1 ? i + this.width : way === 2 ? i - 1 : i - this.width;
  }

  /** Steps from the sources that something can still flow along, -1 where nothing can, or nothing as short as the way to a sink. @returns whether a sink is reached */
  private findLevels(): boolean {
    const { level, queue, fixed, left, rim } = this;
    for (let i = 0; i < level.length; i++) level[i] = fixed[i] === 1 ? 0 : -1;
    queue.set(rim);
    let end = rim.length;
    let reached = Infinity;
    for (let k = 0; k < end; k++) {
      const i = queue[k];
      if (level[i] >= reached) break;
      for (let way = 0; way < WAYS; way++) {
        if (left[i * WAYS + way] <= 0) continue;
        const to = this.neighbour(i, way);
        if (level[to] >= 0) continue;
        level[to] = level[i] + 1;
        if (fixed[to] === 2) reached = level[to];
        queue[end++] = to;
      }
    }
    return reached < Infinity;
  }

  /** Sends all that can flow along rising levels from one source. */
  private drain(source: number): void {
    const { level, next, path, fixed, left } = this;
    let [depth, i] = [0, source];
    for (;;) {
      if (fixed[i] === 2) {
        let least = Infinity;
        for (let k = 0; k < depth; k++) least = Math.min(least, left[path[k]]);
        let full = 0;
        for (let k = depth - 1; k >= 0; k--) {
          const edge = path[k];
          left[edge] -= least;
          left[this.neighbour(edge >> 2, edge & 3) * WAYS + ((edge & 3) ^ 2)] += least;
          if (left[edge] === 0) full = k;
        }
        depth = full;
        i = path[depth] >> 2;
        continue;
      }
      let moved = false;
      for (; next[i] < WAYS; next[i]++) {
        const way = next[i];
        if (left[i * WAYS + way] <= 0) continue;
        const to = this.neighbour(i, way);
        if (level[to] !== level[i] + 1) continue;
        path[depth++] = i * WAYS + way;
        i = to;
        moved = true;
        break;
      }
      if (moved) continue;
      if (depth === 0) return;
      level[i] = -1;
      i = path[--depth] >> 2;
    }
  }

  /** What still hangs together with the sources once no more can flow: the inner side of the least cut. */
  inside(): Uint8Array {
    while (this.findLevels()) {
      this.next.fill(0);
      for (const source of this.rim) this.drain(source);
    }
    return Uint8Array.from(this.level, (v) => (v >= 0 ? 1 : 0));
  }
}

/**
 * The seam between two pictures of a place that shows least: a least cut over how far they differ on either side of it, less where both have an
 * edge there (Kwatra et al., "Graphcut Textures: Image and Video Synthesis Using Graph Cuts", 2003).
 * @param first what lies around; @param second what is inserted; linear light of one size; @param inner above 0.5: surely inserted;
 * @param outer above 0.5: surely not. The picture's own edge is no limit. @param floor linear light that is taken for black
 * @returns 1 where the second picture is taken, else 0.
 */
export function leastSeam(first: Light, second: Light, inner: Plane, outer: Plane, floor: number): Plane {
  const { width, height } = inner;
  const fixed = Uint8Array.from(inner.data, (v, i) => (v > 0.5 ? 1 : outer.data[i] > 0.5 ? 2 : 0));
  if (!fixed.includes(1)) return createPlane(width, height);
  const [right, down] = seamCosts(first, second, floor);
  return createPlane(width, height, Float32Array.from(new GridFlow(width, fixed, right, down).inside()));
}
