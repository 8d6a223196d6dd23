import type { Kernels } from './kernels';

const clamp = (v: number, low: number, high: number): number => Math.max(low, Math.min(high, v));
/** Offsets of the places that are looked at, but for the one itself. */
const AROUND = Array.from({ length: 25 }, (_, k) => [(k % 5) - 2, Math.floor(k / 5) - 2] as const).filter(([dx, dy]) => dx !== 0 || dy !== 0);

/** The plain twin of `kernels/assembly/denoise.ts`. */
export function twinDenoise(buffer: ArrayBufferLike): Pick<Kernels, 'denoiseRow'> {
  const [u8, f32, i32] = [new Uint8Array(buffer), new Float32Array(buffer), new Int32Array(buffer)];
  return {
    denoiseRow(src, step, w, h, y, grains, lumaShare, colourShare, spacing, ring, _stride, _side, out) {
      // The kernel keeps rows between calls; this works them out anew.
      i32[ring >> 2] = -1;
      const planes = (x: number, row: number): readonly [number, number, number] => {
        const p = src + (clamp(row, 0, h - 1) * w + clamp(x, 0, w - 1)) * step;
        const luma = 0.2126 * u8[p] + 0.7152 * u8[p + 1] + 0.0722 * u8[p + 2];
        return [luma, u8[p] - luma, u8[p + 2] - luma];
      };
      const grainOf = (luma: number, nodes: number): number => {
        const node = (k: number): number => f32[(grains >> 2) + nodes + k];
        const rise = (k: number): number => ((node(k + 1) - node(k)) / 64) * clamp(luma - 32 - 64 * k, 0, 64);
        return Math.max(0.05, node(0) + rise(0) + rise(1) + rise(2));
      };
      for (let x = 0; x < w; x++) {
        const [l, u, v] = planes(x, y);
        let [sum, weights] = [l, 1];
        let [reds, blues, colourWeights] = [u, v, 1];
        const [grain, stain] = [grainOf(l, 0) ** 2, grainOf(l, 4) ** 2];
        for (const [dx, dy] of AROUND) {
          let distance = 0;
          for (let b = -1; b <= 1; b++) for (let a = -1; a <= 1; a++) distance += (planes(x + a * spacing, y + b * spacing)[0] - planes(x + (a + dx) * spacing, y + (b + dy) * spacing)[0]) ** 2;
          const weight = Math.max(0, 1.5 - Math.max(0.5, distance / (36 * grain))) ** 2;
          sum += weight * planes(x + dx * spacing, y + dy * spacing)[0];
          weights += weight;
          if ((dx + dy) % 2 !== 0) continue;
          const [l2, u2, v2] = planes(x + 2 * dx * spacing, y + 2 * dy * spacing);
          const far = (l - l2) ** 2 / (32 * grain) + ((u - u2) ** 2 + (v - v2) ** 2) / (32 * stain);
          const alike = Math.max(0, 1 - far) ** 2;
          reds += alike * u2;
          blues += alike * v2;
          colourWeights += alike;
        }
        const calm = l + lumaShare * (sum / weights - l);
        const red = u + colourShare * (reds / colourWeights - u);
        const blue = v + colourShare * (blues / colourWeights - v);
        const q = out + x * step;
        [calm + red, calm - (0.2126 * red + 0.0722 * blue) / 0.7152, calm + blue].forEach((value, c) => { u8[q + c] = Math.floor(clamp(value, 0, 255) + 0.5); });
        if (step === 4) u8[q + 3] = 255;
      }
    },
  };
}
