import { SEGMENT, type Kernels } from './kernels';

/** The kernels of shapes in plain TypeScript. */
export function twinStroke(buffer: ArrayBufferLike): Pick<Kernels, 'strokeRow' | 'rampRow' | 'spotRow' | 'outlineRow'> {
  const f32 = new Float32Array(buffer);
  const f64 = new Float64Array(buffer);
  /** Position of pixel i of a row whose every 16th is known. */
  const position = (coords: number, i: number): [number, number] => {
    const at = (coords >> 3) + Math.floor(i / SEGMENT) * 2;
    const t = (i % SEGMENT) / SEGMENT;
    return [f64[at] + t * (f64[at + 2] - f64[at]), f64[at + 1] + t * (f64[at + 3] - f64[at + 1])];
  };
  const smooth = (t: number): number => t * t * (3 - 2 * t);
  const clamped = (t: number): number => Math.min(1, Math.max(0, t));
  return {
    strokeRow(coords, first, n, ax, ay, bx, by, radius, width, strength, out) {
      const [dx, dy] = [bx - ax, by - ay];
      const length = dx * dx + dy * dy;
      for (let i = first; i < first + n; i++) {
        const [x, y] = position(coords, i);
        const t = length > 0 ? clamped(((x - ax) * dx + (y - ay) * dy) / length) : 0;
        const distance = Math.hypot(x - ax - t * dx, y - ay - t * dy);
        const at = (out >> 2) + i;
        f32[at] = Math.max(f32[at], smooth(clamped((radius - distance) / width)) * strength);
      }
    },
    rampRow(coords, n, fromX, fromY, dx, dy, out) {
      const length = Math.max(1e-12, dx * dx + dy * dy);
      for (let i = 0; i < n; i++) {
        const [x, y] = position(coords, i);
        f32[(out >> 2) + i] = smooth(clamped(((x - fromX) * dx + (y - fromY) * dy) / length));
      }
    },
    outlineRow(coords, n, edges, count, width, out) {
      for (let i = 0; i < n; i++) {
        const [x, y] = position(coords, i);
        let [least, inside] = [Infinity, false];
        for (let e = 0; e < count; e++) {
          const [ax, ay, bx, by] = f32.subarray((edges >> 2) + 4 * e, (edges >> 2) + 4 * e + 4);
          const [dx, dy] = [bx - ax, by - ay];
          const t = clamped(((x - ax) * dx + (y - ay) * dy) / Math.max(1e-20, dx * dx + dy * dy));
          least = Math.min(least, Math.hypot(x - ax - t * dx, y - ay - t * dy));
          if (ay > y !== by > y && x < ax + ((y - ay) * dx) / dy) inside = !inside;
        }
        f32[(out >> 2) + i] = smooth(clamped(0.5 + (inside ? least : -least) / width));
      }
    },
    spotRow(coords, n, atX, atY, ux, uy, vx, vy, end, width, out) {
      for (let i = 0; i < n; i++) {
        const [x, y] = position(coords, i);
        const distance = Math.hypot((x - atX) * ux + (y - atY) * uy, (x - atX) * vx + (y - atY) * vy);
        f32[(out >> 2) + i] = smooth(clamped((end - distance) / width));
      }
    },
  };
}
