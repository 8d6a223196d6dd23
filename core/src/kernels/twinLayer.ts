import type { Kernels } from './kernels';

const LUMA = [0.2627, 0.678, 0.0593] as const;
const luminance = (c: readonly number[]): number => Math.max(1e-5, c.reduce((sum, v, k) => sum + LUMA[k] * v, 0));
const towards = (a: number, b: number, t: number): number => a + t * (b - a);

/** The kernels of `kernels/assembly/layer.ts` in plain TypeScript. */
export function twinLayer(f32: Float32Array): Pick<Kernels, 'layerRow' | 'overRow' | 'fillRow'> {
  const read = (at: number, plane: number, i: number): number[] => [0, 1, 2].map((c) => f32[((at + plane * c) >> 2) + i]);
  const write = (at: number, plane: number, i: number, colour: readonly number[]): void => colour.forEach((v, c) => (f32[((at + plane * c) >> 2) + i] = v));
  return {
    layerRow(layer, layerPlane, src, plain, srcPlane, mask, n, brightness, colour) {
      for (let i = 0; i < n; i++) {
        const m = f32[(mask >> 2) + i];
        if (m === 0) continue;
        const [b, s, own] = [read(layer, layerPlane, i), read(src, srcPlane, i), read(plain, srcPlane, i)];
        const alphaAt = ((layer + layerPlane * 3) >> 2) + i;
        const alpha = f32[alphaAt];
        const [yb, ys] = [luminance(b), luminance(s)];
        const y = towards(yb, ys, brightness);
        const blended = b.map((v, c) => (brightness === colour ? towards(v, s[c], colour) : (v * y * (1 - colour)) / yb + (s[c] * y * colour) / ys));
        const covered = alpha + m - alpha * m;
        const t = covered > 0 ? m / covered : 0;
        write(layer, layerPlane, i, b.map((v, c) => towards(v, towards(own[c], blended[c], alpha), t)));
        f32[alphaAt] = Math.min(1, covered);
      }
    },
    overRow(light, plane, layer, layerPlane, n) {
      for (let i = 0; i < n; i++) {
        const alpha = f32[((layer + layerPlane * 3) >> 2) + i];
        const over = read(layer, layerPlane, i);
        write(light, plane, i, read(light, plane, i).map((v, c) => towards(v, over[c], alpha)));
      }
    },
    fillRow(light, plane, n, share, r, g, b, toR, toG, toB) {
      for (let i = 0; i < n; i++) {
        const t = f32[(share >> 2) + i];
        write(light, plane, i, [towards(r, toR, t), towards(g, toG, t), towards(b, toB, t)]);
      }
    },
  };
}
