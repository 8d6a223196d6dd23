import { createPlane, type Plane } from '../image/plane';
import type { Stroke } from '../mix/mix';

/** Squared distance from a point to a segment. */
function distanceToSegment(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / length)) : 0;
  return (px - ax - t * dx) ** 2 + (py - ay - t * dy) ** 2;
}

const smooth = (t: number): number => t * t * (3 - 2 * t);

/**
 * Where a position lies on a smaller grid that covers the same picture. Positions are pixels of the reference divided by its
 * longer side, and pixel centres are integers on every grid: so the first centre of a grid lies half a pixel of its own, not of the reference, inside.
 * @param full longer side of the reference, pixels. @param unit longer side of the grid, pixels.
 */
const onGrid = (position: number, full: number, unit: number): number => ((position * full + 0.5) * unit) / full - 0.5;

/** Coverage of one stroke into a scratch plane, largest value kept where it crosses itself; returns the touched box. */
function paintStroke(stroke: Stroke, plane: Plane, full: number, unit: number, touched: Float32Array): [number, number, number, number] {
  const radius = Math.max(stroke.radius * unit, 0.35);
  const inner = radius * (1 - stroke.softness);
  const box: [number, number, number, number] = [plane.width, plane.height, -1, -1];
  stroke.points.forEach(([nx, ny], k) => {
    const [mx, my] = stroke.points[Math.max(0, k - 1)];
    const [ax, ay, bx, by] = [onGrid(mx, full, unit), onGrid(my, full, unit), onGrid(nx, full, unit), onGrid(ny, full, unit)];
    const left = Math.max(0, Math.floor(Math.min(ax, bx) - radius - 1));
    const right = Math.min(plane.width - 1, Math.ceil(Math.max(ax, bx) + radius + 1));
    const top = Math.max(0, Math.floor(Math.min(ay, by) - radius - 1));
    const bottom = Math.min(plane.height - 1, Math.ceil(Math.max(ay, by) + radius + 1));
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) {
        const d = Math.sqrt(distanceToSegment(x, y, ax, ay, bx, by));
        // One pixel of antialiasing at least.
        const t = Math.min(1, Math.max(0, (radius + 0.5 - d) / Math.max(1, radius - inner + 1)));
        const v = smooth(t) * stroke.strength;
        const i = y * plane.width + x;
        if (v > touched[i]) touched[i] = v;
      }
    }
    box[0] = Math.min(box[0], left);
    box[1] = Math.min(box[1], top);
    box[2] = Math.max(box[2], right);
    box[3] = Math.max(box[3], bottom);
  });
  return box;
}

/**
 * Coverage 0..1 of a brush area on a grid of the given size over the whole reference. @param full longer side of the reference, pixels.
 * Strokes come in order; a hiding stroke takes away from what is there.
 */
export function paintBrush(strokes: readonly Stroke[], width: number, height: number, full: number): Plane {
  const plane = createPlane(width, height);
  const unit = Math.max(width, height);
  const touched = new Float32Array(width * height);
  for (const stroke of strokes) {
    const [left, top, right, bottom] = paintStroke(stroke, plane, full, unit, touched);
    for (let y = top; y <= bottom; y++) {
      for (let i = y * width + left; i <= y * width + right; i++) {
        const v = touched[i];
        touched[i] = 0;
        plane.data[i] = stroke.reveal ? plane.data[i] + v - plane.data[i] * v : plane.data[i] * (1 - v);
      }
    }
  }
  return plane;
}

/** Coverage of a ramp: 0 before `from`, 1 beyond `to`, smoothstep between. @param full longer side of the reference, pixels. */
export function paintRamp(from: readonly [number, number], to: readonly [number, number], width: number, height: number, full: number): Plane {
  const plane = createPlane(width, height);
  const unit = Math.max(width, height);
  const [x0, y0] = [onGrid(from[0], full, unit), onGrid(from[1], full, unit)];
  const dx = onGrid(to[0], full, unit) - x0;
  const dy = onGrid(to[1], full, unit) - y0;
  const length = Math.max(1e-12, dx * dx + dy * dy);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const t = ((x - x0) * dx + (y - y0) * dy) / length;
      plane.data[y * width + x] = smooth(Math.min(1, Math.max(0, t)));
    }
  }
  return plane;
}
