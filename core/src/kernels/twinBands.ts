import type { Kernels } from './kernels';

/** The plain twin of `kernels/assembly/bands.ts`. */
export function twinBands(f32: Float32Array): Pick<Kernels, 'bandsRow'> {
  const dot = (c: readonly number[], at: number): number[] => [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, j) => sum + f32[(at >> 2) + k * 3 + j] * c[j], 0));
  const cones = ([l, a, b]: readonly number[]): number[] => [l + 0.3963377774 * a + 0.2158037573 * b, l - 0.1055613458 * a - 0.0638541728 * b, l - 0.0894841775 * a - 1.291485548 * b].map((v) => v ** 3);
  return {
    bandsRow(light, plane, n, mask, matrix, inverse, table, per, muted) {
      for (let i = 0; i < n; i++) {
        const colour = [0, 1, 2].map((c) => f32[((light + plane * c) >> 2) + i]);
        const [l, m, s] = dot(colour, matrix).map((v) => Math.cbrt(Math.max(1e-9, v)));
        const L = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
        const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
        const b = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
        const size = Math.max(1e-12, Math.abs(a) + Math.abs(b));
        const place = per * (b >= 0 ? (a >= 0 ? b / size : 1 - a / size) : a < 0 ? 2 - b / size : 3 + a / size);
        const k = Math.min(4 * per - 1, Math.floor(place));
        const [cos, sin, lift] = [0, 1, 2].map((c) => f32[(table >> 2) + 3 * k + c] * (1 - place + k) + f32[(table >> 2) + 3 * k + 3 + c] * (place - k));
        const square = (a * a + b * b) / Math.max(1, L * L);
        const grow = 1 + muted * Math.exp(-100 * square);
        const after = cones([L * (1 + lift * Math.min(1, 400 * square)), grow * (cos * a - sin * b), grow * (sin * a + cos * b)]);
        const before = cones([L, a, b]);
        const change = dot(after.map((v, c) => v - before[c]), inverse);
        for (let c = 0; c < 3; c++) f32[((light + plane * c) >> 2) + i] += f32[(mask >> 2) + i] * change[c];
      }
    },
  };
}
