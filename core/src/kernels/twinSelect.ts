import type { Kernels } from './kernels';

const unit = (v: number): number => Math.min(1, Math.max(0, v));
const step = (t: number): number => unit(t) ** 2 * (3 - 2 * unit(t));
/** Shares of red, green and blue in red, green, blue and luminance. */
const COMPONENTS = [[1, 0, 0], [0, 1, 0], [0, 0, 1], [0.2627, 0.678, 0.0593]] as const;

/** The kernels of `kernels/assembly/select.ts` in plain TypeScript. */
export function twinSelect(f32: Float32Array): Pick<Kernels, 'tonesRow' | 'channelRow' | 'huesRow' | 'curveRow'> {
  const read = (at: number, plane: number, i: number): number[] => [0, 1, 2].map((c) => f32[((at + plane * c) >> 2) + i]);
  const dot = (c: readonly number[], m: readonly number[]): number => c[0] * m[0] + c[1] * m[1] + c[2] * m[2];
  return {
    tonesRow(logY, n, from, to, width, out) {
      for (let i = 0; i < n; i++) {
        const l = f32[(logY >> 2) + i];
        f32[(out >> 2) + i] = step(0.5 + (l - from) / width) * step(0.5 + (to - l) / width);
      }
    },
    channelRow(light, plane, n, component, from, to, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = unit((Math.sqrt(Math.max(0, dot(read(light, plane, i), COMPONENTS[component]))) - from) / (to - from));
    },
    huesRow(light, plane, n, matrix, cos, sin, width, softness, chroma, out) {
      for (let i = 0; i < n; i++) {
        const colour = read(light, plane, i);
        const [l, m, s] = [0, 1, 2].map((k) => Math.cbrt(Math.max(1e-9, dot(colour, [0, 1, 2].map((c) => f32[(matrix >> 2) + k * 3 + c])))));
        const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
        const b = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
        const c = Math.hypot(a, b);
        const angle = Math.acos(Math.max(-1, Math.min(1, (a * cos + b * sin) / Math.max(1e-6, c))));
        f32[(out >> 2) + i] = step(0.5 + (width - angle) / softness) * unit((c - chroma) / chroma);
      }
    },
    curveRow(logY, n, from, per, table, count, out) {
      for (let i = 0; i < n; i++) {
        const at = Math.min(count - 1, Math.max(0, (f32[(logY >> 2) + i] - from) * per));
        const k = Math.min(Math.floor(at), count - 2);
        const [a, b] = [f32[(table >> 2) + k], f32[(table >> 2) + k + 1]];
        f32[(out >> 2) + i] += a + (at - k) * (b - a);
      }
    },
  };
}
