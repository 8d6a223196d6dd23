import type { Builder } from '../scene/builder';

/** Triangles and a binary tree of boxes over them, flat in memory. */
export interface Mesh {
  /** First vertex and two edges, 9 numbers a triangle, in tree order. */
  readonly triangles: Float64Array;
  readonly normals: Float64Array;
  /** Normals at the corners, 9 numbers a triangle; of flat triangles their own. */
  readonly cornerNormals: Float64Array;
  readonly coords: Float64Array;
  readonly material: Int32Array;
  /** Boxes: 6 numbers a node. */
  readonly boxes: Float64Array;
  /** Inner node: index of the second child (the first follows); leaf: -(first triangle) - 1. */
  readonly link: Int32Array;
  readonly count: Int32Array;
}

const LEAF = 4;
const BINS = 12;

/** Builds the tree by the surface area heuristic in bins (Wald 2007). */
export function buildMesh(b: Builder): Mesh {
  const n = b.materialOf.length;
  const order = Int32Array.from({ length: n }, (_, i) => i);
  const low = new Float64Array(n * 3);
  const high = new Float64Array(n * 3);
  for (let t = 0; t < n; t++) {
    for (let k = 0; k < 3; k++) {
      const values = [b.positions[t * 9 + k], b.positions[t * 9 + 3 + k], b.positions[t * 9 + 6 + k]];
      low[t * 3 + k] = Math.min(...values);
      high[t * 3 + k] = Math.max(...values);
    }
  }
  const boxes: number[] = [];
  const link: number[] = [];
  const count: number[] = [];
  const area = (lo: number[], hi: number[]): number => {
    const [x, y, z] = [hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]];
    return x < 0 ? 0 : x * y + y * z + z * x;
  };
  const build = (from: number, to: number): void => {
    const node = link.length;
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++) for (let k = 0; k < 3; k++) {
      lo[k] = Math.min(lo[k], low[order[i] * 3 + k]);
      hi[k] = Math.max(hi[k], high[order[i] * 3 + k]);
    }
    boxes.push(...lo, ...hi);
    link.push(0);
    count.push(0);
    const split = to - from <= LEAF ? null : bestSplit(from, to, lo, hi);
    if (!split) {
      link[node] = -from - 1;
      count[node] = to - from;
      return;
    }
    const part = Array.from(order.subarray(from, to));
    const left = part.filter((t) => low[t * 3 + split.axis] + high[t * 3 + split.axis] < 2 * split.at);
    const right = part.filter((t) => !(low[t * 3 + split.axis] + high[t * 3 + split.axis] < 2 * split.at));
    order.set([...left, ...right], from);
    build(from, from + left.length);
    link[node] = link.length;
    build(from + left.length, to);
  };
  const bestSplit = (from: number, to: number, lo: number[], hi: number[]): { axis: number; at: number } | null => {
    let best: { axis: number; at: number } | null = null;
    let bestCost = area(lo, hi) * (to - from);
    for (let axis = 0; axis < 3; axis++) {
      for (let bin = 1; bin < BINS; bin++) {
        const at = lo[axis] + ((hi[axis] - lo[axis]) * bin) / BINS;
        const sides = [0, 1].map(() => ({ lo: [Infinity, Infinity, Infinity], hi: [-Infinity, -Infinity, -Infinity], n: 0 }));
        for (let i = from; i < to; i++) {
          const t = order[i];
          const side = sides[low[t * 3 + axis] + high[t * 3 + axis] < 2 * at ? 0 : 1];
          side.n++;
          for (let k = 0; k < 3; k++) {
            side.lo[k] = Math.min(side.lo[k], low[t * 3 + k]);
            side.hi[k] = Math.max(side.hi[k], high[t * 3 + k]);
          }
        }
        if (sides[0].n === 0 || sides[1].n === 0) continue;
        const cost = area(sides[0].lo, sides[0].hi) * sides[0].n + area(sides[1].lo, sides[1].hi) * sides[1].n;
        if (cost < bestCost) {
          bestCost = cost;
          best = { axis, at };
        }
      }
    }
    return best;
  };
  build(0, n);
  const triangles = new Float64Array(n * 9);
  const normals = new Float64Array(n * 3);
  const cornerNormals = new Float64Array(n * 9);
  const coords = new Float64Array(n * 6);
  const material = new Int32Array(n);
  for (let i = 0; i < n; i++) {
    const t = order[i];
    const p = b.positions;
    const e: number[] = [];
    for (let k = 0; k < 3; k++) {
      triangles[i * 9 + k] = p[t * 9 + k];
      e[k] = triangles[i * 9 + 3 + k] = p[t * 9 + 3 + k] - p[t * 9 + k];
      e[3 + k] = triangles[i * 9 + 6 + k] = p[t * 9 + 6 + k] - p[t * 9 + k];
    }
    const normal = [e[1] * e[5] - e[2] * e[4], e[2] * e[3] - e[0] * e[5], e[0] * e[4] - e[1] * e[3]];
    const length = Math.hypot(...normal) || 1;
    for (let k = 0; k < 3; k++) normals[i * 3 + k] = normal[k] / length;
    for (let corner = 0; corner < 9; corner += 3) {
      const own = [0, 1, 2].map((k) => b.cornerNormals[t * 9 + corner + k]);
      // Corners of one thing all look to the side that its triangle looks to.
      const side = own[0] * normal[0] + own[1] * normal[1] + own[2] * normal[2];
      for (let k = 0; k < 3; k++) cornerNormals[i * 9 + corner + k] = side === 0 ? normals[i * 3 + k] : Math.sign(side) * own[k];
    }
    for (let k = 0; k < 6; k++) coords[i * 6 + k] = b.coords[t * 6 + k];
    material[i] = b.materialOf[t];
  }
  return { triangles, normals, cornerNormals, coords, material, boxes: Float64Array.from(boxes), link: Int32Array.from(link), count: Int32Array.from(count) };
}

/** Nearest hit of a ray. */
export interface Hit {
  t: number;
  triangle: number;
  u: number;
  v: number;
}

const stack = new Int32Array(64);
const entries = new Float64Array(64);

/** Distance at which a ray enters a node's box, or Infinity where it misses it before `best`. */
function enter(boxes: Float64Array, p: number, ox: number, oy: number, oz: number, ix: number, iy: number, iz: number, best: number): number {
  let near = (boxes[ix < 0 ? p + 3 : p] - ox) * ix;
  let end = (boxes[ix < 0 ? p : p + 3] - ox) * ix;
  const y0 = (boxes[iy < 0 ? p + 4 : p + 1] - oy) * iy;
  const y1 = (boxes[iy < 0 ? p + 1 : p + 4] - oy) * iy;
  if (y0 > near) near = y0;
  if (y1 < end) end = y1;
  const z0 = (boxes[iz < 0 ? p + 5 : p + 2] - oz) * iz;
  const z1 = (boxes[iz < 0 ? p + 2 : p + 5] - oz) * iz;
  if (z0 > near) near = z0;
  if (z1 < end) end = z1;
  if (near < 0) near = 0;
  return near <= end * 1.0000001 && near < best ? near : Infinity;
}

/**
 * Finds the nearest triangle along o + t d, 1e-4 < t < far (Möller, Trumbore 1997). With `skip` it stops at the first
 * triangle whose material is not to be skipped: a shadow test. Returns whether anything was hit.
 */
export function intersect(mesh: Mesh, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number, hit: Hit, skip: Uint8Array | null): boolean {
  const { triangles, boxes, link, count, material } = mesh;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  let best = far;
  let found = false;
  let top = 0;
  let node = 0;
  for (;;) {
    if (count[node] === 0) {
      const second = link[node];
      const a = enter(boxes, (node + 1) * 6, ox, oy, oz, ix, iy, iz, best);
      const b = enter(boxes, second * 6, ox, oy, oz, ix, iy, iz, best);
      // The nearer child is looked at first, so that the farther one is mostly cut off.
      if (a <= b && a !== Infinity) {
        if (b !== Infinity) {
          stack[top] = second;
          entries[top++] = b;
        }
        node = node + 1;
        continue;
      }
      if (b !== Infinity) {
        if (a !== Infinity) {
          stack[top] = node + 1;
          entries[top++] = a;
        }
        node = second;
        continue;
      }
    } else {
      const first = -link[node] - 1;
      for (let t = first, end = first + count[node]; t < end; t++) {
        if (skip && skip[material[t]]) continue;
        const q = t * 9;
        const ax = triangles[q + 3];
        const ay = triangles[q + 4];
        const az = triangles[q + 5];
        const bx = triangles[q + 6];
        const by = triangles[q + 7];
        const bz = triangles[q + 8];
        const px = dy * bz - dz * by;
        const py = dz * bx - dx * bz;
        const pz = dx * by - dy * bx;
        const determinant = ax * px + ay * py + az * pz;
        if (determinant > -1e-14 && determinant < 1e-14) continue;
        const inverse = 1 / determinant;
        const sx = ox - triangles[q];
        const sy = oy - triangles[q + 1];
        const sz = oz - triangles[q + 2];
        const u = (sx * px + sy * py + sz * pz) * inverse;
        if (u < 0 || u > 1) continue;
        const rx = sy * az - sz * ay;
        const ry = sz * ax - sx * az;
        const rz = sx * ay - sy * ax;
        const v = (dx * rx + dy * ry + dz * rz) * inverse;
        if (v < 0 || u + v > 1) continue;
        const distance = (bx * rx + by * ry + bz * rz) * inverse;
        if (distance <= 1e-4 || distance >= best) continue;
        if (skip) return true;
        found = true;
        best = distance;
        hit.t = distance;
        hit.triangle = t;
        hit.u = u;
        hit.v = v;
      }
    }
    do {
      if (top === 0) return found;
      node = stack[--top];
    } while (entries[top] >= best);
  }
}

/** Normal at a place on a triangle, as round things have it, into `out`; on the side that its face looks to. */
export function normalAt({ cornerNormals: n }: Mesh, triangle: number, u: number, v: number, out: Float64Array): void {
  const p = triangle * 9;
  const w = 1 - u - v;
  const x = w * n[p] + u * n[p + 3] + v * n[p + 6];
  const y = w * n[p + 1] + u * n[p + 4] + v * n[p + 7];
  const z = w * n[p + 2] + u * n[p + 5] + v * n[p + 8];
  const l = 1 / Math.sqrt(x * x + y * y + z * z);
  out[0] = x * l;
  out[1] = y * l;
  out[2] = z * l;
}
