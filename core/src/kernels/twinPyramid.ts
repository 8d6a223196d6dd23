import type { Kernels } from './kernels';

const mirrored = (i: number, n: number): number => (i < 0 ? Math.min(n - 1, -i) : i >= n ? Math.max(0, 2 * n - 2 - i) : i);
const TAPS = [1, 4, 6, 4, 1];

/** Plain TypeScript of the kernels in kernels/assembly/pyramid.ts, which tests compare them with. */
export function twinPyramid(buffer: ArrayBufferLike): Pick<Kernels, 'halveBinomial' | 'doubleBinomial' | 'detailOfTone' | 'addNearTone'> {
  const f32 = new Float32Array(buffer, 0, buffer.byteLength >> 2);
  return {
    halveBinomial(src, w, h, _across, out) {
      const [hw, hh] = [(w + 1) >> 1, (h + 1) >> 1];
      for (let y = 0; y < hh; y++) {
        for (let x = 0; x < hw; x++) {
          let sum = 0;
          for (let v = -2; v <= 2; v++) for (let u = -2; u <= 2; u++) sum += TAPS[u + 2] * TAPS[v + 2] * f32[(src >> 2) + mirrored(2 * y + v, h) * w + mirrored(2 * x + u, w)];
          f32[(out >> 2) + y * hw + x] = sum / 256;
        }
      }
    },
    doubleBinomial(src, hw, hh, w, h, _tall, out) {
      const sharesAt = (i: number, n: number): [number, number][] => (i & 1 ? [[i >> 1, 0.5], [Math.min(n - 1, (i >> 1) + 1), 0.5]] : [[Math.max(0, (i >> 1) - 1), 0.125], [i >> 1, 0.75], [Math.min(n - 1, (i >> 1) + 1), 0.125]]);
      for (let y = 0; y < h; y++) {
        for (let x = 0; x < w; x++) {
          let sum = 0;
          for (const [v, down] of sharesAt(y, hh)) for (const [u, across] of sharesAt(x, hw)) sum += down * across * f32[(src >> 2) + v * hw + u];
          f32[(out >> 2) + y * w + x] = sum;
        }
      }
    },
    detailOfTone(src, n, tone, width, out) {
      for (let i = 0; i < n; i++) {
        const d = f32[(src >> 2) + i] - tone;
        f32[(out >> 2) + i] = d * Math.exp(-0.5 * (d / width) ** 2);
      }
    },
    addNearTone(sum, there, fine, coarse, n, tone, spacing) {
      for (let i = 0; i < n; i++) f32[(sum >> 2) + i] += Math.max(0, 1 - Math.abs(f32[(there >> 2) + i] - tone) / spacing) * (f32[(fine >> 2) + i] - f32[(coarse >> 2) + i]);
    },
  };
}
