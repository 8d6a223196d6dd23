import type { Stroke } from '@zaddle/document';
import { mapPoint } from '../geometry/homography';
import type { ShapeGrid } from '../kind/placing';

/** Numbers of a segment in the table: ends in pixels of the reference, the box of the grid that it may touch, and the share of the stroke's strength that it has. */
export const SEGMENT_FIELDS = 9;
/** Numbers of a stroke: first segment, count, box, radius and width of its edge in pixels of the reference, strength, 1 where it reveals. */
export const STROKE_FIELDS = 10;

/** Strokes of a brush area laid out for a grid. */
export interface StrokeTable {
  readonly strokes: Float32Array;
  readonly segments: Float32Array;
}

/** The box of the grid that a disc about a segment may touch: left, top, right, bottom. */
function boxOf(grid: ShapeGrid, ax: number, ay: number, bx: number, by: number, reach: number): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of [[Math.min(ax, bx) - reach, Math.min(ay, by) - reach], [Math.max(ax, bx) + reach, Math.min(ay, by) - reach], [Math.min(ax, bx) - reach, Math.max(ay, by) + reach], [Math.max(ax, bx) + reach, Math.max(ay, by) + reach]]) {
    const [u, v] = mapPoint(grid.toGrid, x, y);
    box[0] = Math.min(box[0], u);
    box[1] = Math.min(box[1], v);
    box[2] = Math.max(box[2], u);
    box[3] = Math.max(box[3], v);
  }
  const margin = 1 + grid.slack;
  return [Math.max(0, Math.floor(box[0] - margin)), Math.max(0, Math.floor(box[1] - margin)), Math.min(grid.width - 1, Math.ceil(box[2] + margin)), Math.min(grid.height - 1, Math.ceil(box[3] + margin))];
}

/** Radius and width of a stroke's edge in pixels of the reference: on every grid at least one of its pixels wide, and never thinner than can be seen. */
function edgeOf(stroke: Stroke, { full, pixel }: ShapeGrid): { radius: number; width: number } {
  const radius = Math.max(stroke.radius * full, 0.35 * pixel);
  const soft = radius * stroke.softness;
  return { radius: radius + 0.5 * pixel, width: Math.max(pixel, soft + pixel) };
}

/** Lays strokes out for a grid. Strokes and segments that lie outside of it are left out. */
export function strokeTable(strokes: readonly Stroke[], grid: ShapeGrid): StrokeTable {
  const table: number[] = [];
  const segments: number[] = [];
  for (const stroke of strokes) {
    const { radius, width } = edgeOf(stroke, grid);
    const first = segments.length / SEGMENT_FIELDS;
    const whole = [Infinity, Infinity, -1, -1];
    const { points } = stroke;
    for (let k = points.length > 1 ? 1 : 0; k < points.length; k++) {
      const [a, b] = [points[Math.max(0, k - 1)], points[k]];
      const [ax, ay, bx, by] = [a[0] * grid.full, a[1] * grid.full, b[0] * grid.full, b[1] * grid.full];
      const box = boxOf(grid, ax, ay, bx, by, radius);
      if (box[0] > box[2] || box[1] > box[3]) continue;
      const { pressures } = stroke;
      segments.push(ax, ay, bx, by, ...box, pressures ? (pressures[Math.max(0, k - 1)] + pressures[k]) / 2 : 1);
      whole[0] = Math.min(whole[0], box[0]);
      whole[1] = Math.min(whole[1], box[1]);
      whole[2] = Math.max(whole[2], box[2]);
      whole[3] = Math.max(whole[3], box[3]);
    }
    const count = segments.length / SEGMENT_FIELDS - first;
    if (count > 0) table.push(first, count, ...whole, radius, width, stroke.strength, stroke.reveal ? 1 : 0);
  }
  return { strokes: Float32Array.from(table), segments: Float32Array.from(segments) };
}
