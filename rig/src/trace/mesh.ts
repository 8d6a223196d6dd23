import type { Builder } from '../scene/builder';

/** What is known of each triangle besides where it is. */
export interface Mesh {
  /** Of its plane, three numbers. */
  readonly normals: Float64Array;
  /** At the corners, nine numbers; of flat triangles their own. */
  readonly cornerNormals: Float64Array;
  /** Surface coordinates of the corners, six numbers. */
  readonly coords: Float64Array;
  readonly material: Int32Array;
  /** 1: too narrow to carry light of its own. */
  readonly narrow: Uint8Array;
}

export function meshOf(b: Builder): Mesh {
  const count = b.materialOf.length;
  const normals = new Float64Array(count * 3);
  const cornerNormals = new Float64Array(count * 9);
  for (let t = 0; t < count; t++) {
    const p = b.positions;
    const edge = (corner: number, k: number): number => p[t * 9 + corner * 3 + k] - p[t * 9 + k];
    const [ax, ay, az, bx, by, bz] = [edge(1, 0), edge(1, 1), edge(1, 2), edge(2, 0), edge(2, 1), edge(2, 2)];
    const normal = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
    const length = Math.hypot(normal[0], normal[1], normal[2]) || 1;
    for (let k = 0; k < 3; k++) normals[t * 3 + k] = normal[k] / length;
    for (let corner = 0; corner < 9; corner += 3) {
      const at = t * 9 + corner;
      // Corners of one thing all look to the side that its triangle looks to.
      const side = b.cornerNormals[at] * normal[0] + b.cornerNormals[at + 1] * normal[1] + b.cornerNormals[at + 2] * normal[2];
      for (let k = 0; k < 3; k++) cornerNormals[at + k] = side === 0 ? normals[t * 3 + k] : Math.sign(side) * b.cornerNormals[at + k];
    }
  }
  return { normals, cornerNormals, coords: Float64Array.from(b.coords), material: Int32Array.from(b.materialOf), narrow: Uint8Array.from(b.narrow, Number) };
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

/** Surface coordinates of a place on a triangle, into `out`. */
export function coordsAt({ coords: c }: Mesh, triangle: number, u: number, v: number, out: Float64Array): void {
  const p = triangle * 6;
  const w = 1 - u - v;
  out[0] = w * c[p] + u * c[p + 2] + v * c[p + 4];
  out[1] = w * c[p + 1] + u * c[p + 3] + v * c[p + 5];
}
