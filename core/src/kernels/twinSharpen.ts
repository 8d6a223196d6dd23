import type { Kernels } from './kernels';

const clamp = (v: number, low: number, high: number): number => Math.max(low, Math.min(high, v));

/** The plain twin of `kernels/assembly/sharpen.ts`. */
export function twinSharpen(buffer: ArrayBufferLike): Pick<Kernels, 'sharpenRow'> {
  const [u8, f32, i32] = [new Uint8Array(buffer), new Float32Array(buffer), new Int32Array(buffer)];
  return {
    sharpenRow(src, step, w, h, y, weights, radius, amount, least, soft, halo, ring, _stride, mask, out) {
      // The kernel keeps rows of brightness between calls; this works them out anew.
      i32[ring >> 2] = -1;
      const luma = (x: number, row: number): number => {
        const p = src + (clamp(row, 0, h - 1) * w + clamp(x, 0, w - 1)) * step;
        return 0.2126 * u8[p] + 0.7152 * u8[p + 1] + 0.0722 * u8[p + 2];
      };
      const weight = (k: number): number => f32[(weights >> 2) + Math.abs(k)];
      for (let x = 0; x < w; x++) {
        let [low, high, blurred] = [Infinity, -Infinity, 0];
        for (let dy = -1; dy <= 1; dy++) {
          for (let dx = -1; dx <= 1; dx++) {
            low = Math.min(low, luma(x + dx, y + dy));
            high = Math.max(high, luma(x + dx, y + dy));
          }
        }
        for (let dy = -radius; dy <= radius; dy++) for (let dx = -radius; dx <= radius; dx++) blurred += weight(dx) * weight(dy) * luma(x + dx, y + dy);
        const t = clamp((high - low - least) / soft, 0, 1);
        const m = t * t * (3 - 2 * t);
        const v = luma(x, y);
        const d = clamp(v + amount * m * (v - blurred), low - halo, high + halo) - v;
        const [p, q] = [src + (y * w + x) * step, out + x * step];
        if (step === 4) u8[q + 3] = 255;
        for (let c = 0; c < 3; c++) u8[q + c] = mask ? Math.floor(255 * m + 0.5) : Math.floor(clamp(u8[p + c] + d, 0, 255) + 0.5);
      }
    },
  };
}
