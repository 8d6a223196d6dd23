/** Neighbours: right, down, left, up; `d ^ 2` is the way back. */
const WAYS = 4;

/** A grid whose pixels are to be parted in two: what each way from a pixel to its neighbour can carry, and what comes from the source and goes to the sink. Whole numbers. */
export interface FlowGrid {
  readonly width: number;
  readonly height: number;
  /** Four to a pixel: right, down, left, up. */
  readonly ways: Int32Array;
  readonly source: Int32Array;
  readonly sink: Int32Array;
}

export function createFlowGrid(width: number, height: number): FlowGrid {
  const n = width * height;
  return { width, height, ways: new Int32Array(n * WAYS), source: new Int32Array(n), sink: new Int32Array(n) };
}

/**
 * Greatest flow over a grid (Dinic, "Algorithm for solution of a problem of maximum flow in networks with power estimation", 1970):
 * levels by breadth first search, blocking flows by depth first search with a pointer a node.
 */
class GridFlow {
  private readonly level: Int32Array;
  private readonly next: Uint8Array;
  private readonly queue: Int32Array;
  private readonly path: Int32Array;
  /** Pixels that something comes from. */
  private readonly sources: Int32Array;

  constructor(private readonly grid: FlowGrid) {
    const { source, sink } = grid;
    const n = source.length;
    this.level = new Int32Array(n);
    this.next = new Uint8Array(n);
    this.queue = new Int32Array(n);
    this.path = new Int32Array(n + 1);
    // What comes in and goes out at one pixel needs no way.
    for (let i = 0; i < n; i++) {
      const through = Math.min(source[i], sink[i]);
      source[i] -= through;
      sink[i] -= through;
    }
    const sources: number[] = [];
    for (let i = 0; i < n; i++) if (source[i] > 0) sources.push(i);
    this.sources = Int32Array.from(sources);
  }

  private neighbour(i: number, way: number): number {
    return way === 0 ? i + 1 : way === 1 ? i + this.grid.width : way === 2 ? i - 1 : i - this.grid.width;
  }

  /** Steps from the sources that something can still flow along, -1 where nothing can, or nothing as short as the way to a sink. @returns whether a sink is reached */
  private findLevels(): boolean {
    const { level, queue, sources } = this;
    const { ways, source, sink } = this.grid;
    level.fill(-1);
    let end = 0;
    for (const i of sources) {
      if (source[i] <= 0) continue;
      level[i] = 0;
      queue[end++] = i;
    }
    let reached = Infinity;
    for (let k = 0; k < end; k++) {
      const i = queue[k];
      if (level[i] > reached) break;
      if (sink[i] > 0) reached = level[i];
      for (let way = 0; way < WAYS; way++) {
        if (ways[i * WAYS + way] <= 0) continue;
        const to = this.neighbour(i, way);
        if (level[to] >= 0) continue;
        level[to] = level[i] + 1;
        queue[end++] = to;
      }
    }
    return reached < Infinity;
  }

  /** Sends all that can flow along rising levels from one source. */
  private drain(from: number): void {
    const { level, next, path } = this;
    const { ways, source, sink } = this.grid;
    let [depth, i] = [0, from];
    while (source[from] > 0) {
      if (sink[i] > 0) {
        let least = Math.min(source[from], sink[i]);
        for (let k = 0; k < depth; k++) least = Math.min(least, ways[path[k]]);
        source[from] -= least;
        sink[i] -= least;
        let full = depth;
        for (let k = depth - 1; k >= 0; k--) {
          const edge = path[k];
          ways[edge] -= least;
          ways[this.neighbour(edge >> 2, edge & 3) * WAYS + ((edge & 3) ^ 2)] += least;
          if (ways[edge] === 0) full = k;
        }
        if (full < depth) {
          depth = full;
          i = path[depth] >> 2;
        }
        continue;
      }
      let moved = false;
      for (; next[i] < WAYS; next[i]++) {
        const way = next[i];
        if (ways[i * WAYS + way] <= 0) continue;
        const to = this.neighbour(i, way);
        if (level[to] !== level[i] + 1) continue;
        path[depth++] = i * WAYS + way;
        i = to;
        moved = true;
        break;
      }
      if (moved) continue;
      level[i] = -1;
      if (depth === 0) return;
      i = path[--depth] >> 2;
    }
  }

  /** What still hangs together with the source once no more can flow. */
  inside(): Uint8Array {
    while (this.findLevels()) {
      this.next.fill(0);
      for (const i of this.sources) this.drain(i);
    }
    const inside = new Uint8Array(this.level.length);
    for (let i = 0; i < inside.length; i++) inside[i] = this.level[i] >= 0 ? 1 : 0;
    return inside;
  }
}

/** The least cut of a grid, which is used up: 1 for pixels on the source's side, as few as may be. */
export const gridCut = (grid: FlowGrid): Uint8Array => new GridFlow(grid).inside();
