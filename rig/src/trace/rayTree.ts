import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { buildBoxTree, halfSurface, type BoxNode } from './boxTree';

interface Rays {
  nearest(nodes: number, groups: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number, hit: number, scratch: number): number;
  blocked(nodes: number, groups: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number, scratch: number): number;
}

const compiled = new WebAssembly.Module(readFileSync(createRequire(import.meta.url).resolve('@zaddle/kernels/rays.wasm')));

/** As `kernels/assembly/rays.ts` lays them out, bytes. */
const NODE = 112;
const GROUP = 176;
const WIDE = 4;
const HIT = 4096;
const SCRATCH = 4224;
const NODES = 8192;
const PAGE = 65536;
/** Metres by which boxes are wider than what is in them, so that rays along their sides find it. */
const PAD = 1e-5;

/** Children of a node of the wide tree: the two of a node, the larger ones opened until there are four. */
function opened(node: BoxNode): BoxNode[] {
  const nodes: BoxNode[] = node.children ? [...node.children] : [node];
  while (nodes.length < WIDE) {
    let widest = -1;
    nodes.forEach((n, k) => {
      if (n.children && (widest < 0 || halfSurface(n.box) > halfSurface(nodes[widest].box))) widest = k;
    });
    if (widest < 0) break;
    nodes.splice(widest, 1, ...nodes[widest].children!);
  }
  return nodes;
}

/** Triangles, found along rays: four boxes and four triangles at a time. */
export class RayTree {
  /** Of the last triangle that `nearest` found: distance, and where on it. */
  t = 0;
  u = 0;
  v = 0;
  private readonly rays: Rays;
  private readonly groups: number;
  private readonly hit: Float32Array;

  /**
   * @param positions nine numbers a triangle
   * @param passes by triangle: whether light passes it (`blocked`)
   */
  constructor(positions: ArrayLike<number>, passes: (triangle: number) => boolean) {
    const { root, order } = buildBoxTree(positions, WIDE);
    const wide: BoxNode[][] = [];
    const leaves: BoxNode[] = [];
    const links: number[][] = [];
    const place = (node: BoxNode): number => {
      const index = wide.length;
      const children = opened(node);
      wide.push(children);
      links.push([]);
      links[index] = children.map((child) => (child.children ? place(child) : -leaves.push(child)));
      return index;
    };
    place(root);
    this.groups = NODES + Math.ceil((wide.length * NODE) / 16) * 16;
    const memory = new WebAssembly.Memory({ initial: Math.ceil((this.groups + leaves.length * GROUP) / PAGE) });
    this.rays = new WebAssembly.Instance(compiled, { env: { memory } }).exports as unknown as Rays;
    this.hit = new Float32Array(memory.buffer, HIT, 3);
    const numbers = new Float32Array(memory.buffer);
    const codes = new Int32Array(memory.buffer);
    wide.forEach((children, n) => {
      const at = (NODES + n * NODE) / 4;
      for (let lane = 0; lane < WIDE; lane++) {
        const child = children[lane];
        for (let k = 0; k < 6; k++) numbers[at + k * WIDE + lane] = k < 3 ? (child ? child.box[k] - PAD : Infinity) : child ? child.box[k] + PAD : -Infinity;
        codes[at + 6 * WIDE + lane] = child ? links[n][lane] : 0;
      }
    });
    leaves.forEach(({ from, to }, n) => {
      const at = (this.groups + n * GROUP) / 4;
      for (let i = from; i < to; i++) {
        const [t, lane] = [order[i], i - from];
        const p = t * 9;
        for (let k = 0; k < 3; k++) {
          numbers[at + k * WIDE + lane] = positions[p + k];
          numbers[at + (3 + k) * WIDE + lane] = positions[p + 3 + k] - positions[p + k];
          numbers[at + (6 + k) * WIDE + lane] = positions[p + 6 + k] - positions[p + k];
        }
        codes[at + 9 * WIDE + lane] = t;
        codes[at + 10 * WIDE + lane] = passes(t) ? -1 : 0;
      }
    });
  }

  /** Number of the nearest triangle along o + t d, 1e-4 < t < far, or -1. */
  nearest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number): number {
    const found = this.rays.nearest(NODES, this.groups, ox, oy, oz, dx, dy, dz, far, HIT, SCRATCH);
    if (found >= 0) {
      this.t = this.hit[0];
      this.u = this.hit[1];
      this.v = this.hit[2];
    }
    return found;
  }

  /** Whether anything that stops light lies along o + t d, 1e-4 < t < far. */
  blocked(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number): boolean {
    return this.rays.blocked(NODES, this.groups, ox, oy, oz, dx, dy, dz, far, SCRATCH) !== 0;
  }
}
