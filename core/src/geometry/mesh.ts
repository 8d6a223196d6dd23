import type { Mesh } from '@zaddle/document';
import { mapPoint, type Homography } from './homography';

export type { Mesh };

/** A mesh as a composed map reads it: grid position of an output pixel, and displacements in source pixels. */
export interface PlacedMesh {
  readonly toGrid: Homography;
  readonly columns: number;
  readonly rows: number;
  readonly shifts: Float32Array;
}

/** @param toReference output pixel to reference pixel; width, height: of the reference; scale: source pixels per frame pixel. */
export function placeMesh({ columns, rows, shifts }: Mesh, toReference: Homography, width: number, height: number, scale: number): PlacedMesh {
  const [sx, sy] = [(columns - 1) / (width - 1), (rows - 1) / (height - 1)];
  const h = toReference;
  return { toGrid: [h[0] * sx, h[1] * sx, h[2] * sx, h[3] * sy, h[4] * sy, h[5] * sy, h[6], h[7], h[8]], columns, rows, shifts: Float32Array.from(shifts, (v) => v * scale) };
}

/** Displacement at grid position (gx, gy), read bilinearly, held beyond the edges; component 0 is x, 1 is y. */
export function readMesh({ columns, rows, shifts }: PlacedMesh, gx: number, gy: number, component: 0 | 1): number {
  const x = Math.min(columns - 1, Math.max(0, gx));
  const y = Math.min(rows - 1, Math.max(0, gy));
  const i = Math.min(columns - 2, Math.floor(x));
  const j = Math.min(rows - 2, Math.floor(y));
  const [fx, fy] = [x - i, y - j];
  const at = 2 * (j * columns + i) + component;
  const upper = shifts[at] + fx * (shifts[at + 2] - shifts[at]);
  const lower = shifts[at + 2 * columns] + fx * (shifts[at + 2 * columns + 2] - shifts[at + 2 * columns]);
  return upper + fy * (lower - upper);
}

/** Where a pixel of one picture lies in another. */
export type PixelMap = (x: number, y: number) => [number, number];

/** The map that the homography and the mesh make together; width, height: of the reference, all at full size. */
export function meshMap(h: Homography, mesh: Mesh | null, width: number, height: number): PixelMap {
  if (!mesh) return (x, y) => mapPoint(h, x, y);
  const placed = placeMesh(mesh, [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, 1);
  return (x, y) => {
    const [u, v] = mapPoint(h, x, y);
    const [gx, gy] = mapPoint(placed.toGrid, x, y);
    return [u + readMesh(placed, gx, gy, 0), v + readMesh(placed, gx, gy, 1)];
  };
}

/** As `meshMap`, for one pixel. */
export const mapThroughMesh = (h: Homography, mesh: Mesh | null, width: number, height: number, x: number, y: number): [number, number] => meshMap(h, mesh, width, height)(x, y);
